"""Coil current on a shared feed or on single coils: every ramp read, each coil beside its peers."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.message import Message
from fairwitness.core.messages.words import OPEN, SYNCED
from fairwitness.core.model.angles import mean_angle
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, Role
from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, Engine, Ignition
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.coil_current.gaps import ramp_gaps
from fairwitness.core.procedures.coil_current.supply import supply_of, supply_reasons
from fairwitness.core.procedures.coil_current.words import (
    CHARGES_LIKE_PEERS,
    CLAMP_BACKWARDS_TRACE,
    CLAMP_EACH_COIL,
    CLAMP_SHARED_FEED,
    CLAMP_SHARED_FEED_2,
    COIL_CURRENT_CYLINDER,
    COIL_CYLINDER,
    COIL_DRAWS_CURRENT,
    COIL_DRAWS_CURRENT_CLAMPED,
    DRAWS_CURRENT_PEERS,
    DWELL_SHORTER,
    INTERFERENCE_SPIKES_FILTERED,
    LIMIT_NOT_REACHED,
    ONE_COIL,
    ONLY_ONE_COIL,
    REACHES_BUT_RAMPS,
    REACHES_MS_THERE,
    REACHES_PEERS,
    RISES_TIMES_STEEPLY,
    SAME_DWELL_RESISTANCE,
    SYNC_CARRIES_EVENTS,
)
from fairwitness.core.procedures.sweep import LONE, judged_together
from fairwitness.core.signal.clamp_level import COIL, doubted
from fairwitness.core.signal.ignition.primary import Ramps, find_ramps
from fairwitness.core.signal.peers import usual_of
from fairwitness.core.signal.quality import any_cut_off
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.core.signal.robust import robust_centre
from fairwitness.core.signal.sync import Anchor, find_events, sync_channel

FloatArray = NDArray[np.float64]
Figures = Mapping[str, float]

TEST = CaptureTest.COIL_CURRENT.value
LINE = "CC"
AGAIN_SHARE = 0.3
"""[M] ramps that follow within this share of the longest usual gap belong to one spark."""
MOST = 0.7
MORE_THAN_ALL = 2.0
"""[M] how much more than the middle of all a coil must miss for it to be its own trouble."""
DWELL_ALIKE, SLOWER = 0.9, 0.92
"""[M] of the peers': dwell from which a coil had as long as they, and rise below which it is slower."""
NEAR = 0.2
"""[M] coils within this share of the median are the peers whose mean is the usual value."""
MISSING_SHARE = 0.8
"""[M] a coil with fewer than a fifth of its ramps is called absent, not intermittent."""


@dataclass(frozen=True, kw_only=True, eq=False)
class _Assigned:
    """Ramps by cylinder; ``order_offsets``: places of the firing order by which they may be off."""

    ramps: dict[int, Ramps]
    due: float
    order_offsets: tuple[int, ...]
    source: Message
    speed_rpm: float
    starts_s: tuple[float, ...]
    reasons: tuple[Reason, ...] = ()


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: coil current that is more than another test's sync."""
    return capture.taken_for(CaptureTest.COIL_CURRENT, Role.COIL_CURRENT)


def measure(capture: Capture, engine: Engine) -> Measured:
    """Read every ramp and compare the coils.

    Parameters
    ----------
    capture : Capture
        One clamp per coil, or one on a shared feed with a sync.
    engine : Engine

    Returns
    -------
    Measured
        Unusable where no coil charges or nothing says whose ramps they are. ``figures`` holds each coil's medians.
    """
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    cut = any_cut_off(capture, Role.COIL_CURRENT)
    even = evenly_sampled(capture)
    assigned = cut or _assign(even, engine)
    if isinstance(assigned, Reason):
        return refused(TEST, "A", engine.firing_order, (assigned,), origin)
    figures = {c: _figures(r, assigned.due) for c, r in assigned.ramps.items()}
    supply = supply_of(even, list(assigned.ramps.values()))
    reasons = [*assigned.reasons, *_trace_reasons(assigned.ramps.values()), *supply_reasons(supply)]
    level = doubted([f["peak_a"] for f in figures.values() if f["ramps"] > 0], COIL)
    reasons += [level] if level is not None else []
    certain = len(assigned.order_offsets) == 1
    findings, lines, more = compare(
        figures, engine, origin=origin, source=f"capture:{capture.name}", order_offsets=assigned.order_offsets
    )
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=(*reasons, *more),
        findings=findings,
        lines=lines,
        categorical=ramp_gaps(figures, engine, source=f"capture:{capture.name}") if certain else (),
        facts={
            "cycles": max(1, round(assigned.due)),
            "speed_rpm": round(assigned.speed_rpm, 1),
            "source": assigned.source,
            "assignment": SYNCED if certain else OPEN,
            "cylinders": len(figures),
            **supply,
        },
        figures=figures,
        cycle_starts_s=assigned.starts_s,
    )


def together(parts: Sequence[Measured], engine: Engine) -> tuple[Measured, ...]:
    """Compare cylinders that were captured one after the other; see ``sweep.judged_together``."""
    return judged_together(parts, engine, compare)


def _assign(capture: Capture, engine: Engine) -> _Assigned | Reason:
    clamps = capture.with_role(Role.COIL_CURRENT)
    own = [c for c in clamps if c.cylinder in engine.firing_order]
    shared = [c for c in clamps if c.cylinder is None]
    if shared:
        return _on_feed(capture, engine, shared)
    if not own:
        return Reason("no_clamp", COIL_CURRENT_CYLINDER(), blocking=True)
    ramps: dict[int, Ramps] = {}
    for channel in own:
        assert channel.cylinder is not None
        found = _ramps_of(channel, capture.time.rate_hz)
        ramps[channel.cylinder] = found
        partner = engine.companion(channel.cylinder)
        if engine.ignition is Ignition.WASTE_SPARK and partner is not None:
            ramps.setdefault(partner, found)
    if not any(r.count for r in ramps.values()):
        return Reason("no_current", COIL_DRAWS_CURRENT(), True)
    gaps = [float(np.median(np.diff(_sparks(r.off_s)))) for r in ramps.values() if _sparks(r.off_s).size >= 2]
    gap = float(np.median(gaps)) if gaps else float("nan")
    cycle_s = gap * (2 if engine.ignition is Ignition.WASTE_SPARK else 1)
    longest = max(ramps.values(), key=lambda r: r.count)
    return _Assigned(
        ramps=ramps,
        due=capture.time.duration_s / gap if gap > 0 else float(longest.count),
        order_offsets=(0,),
        source=CLAMP_EACH_COIL(),
        speed_rpm=120.0 / cycle_s if cycle_s > 0 else 0.0,
        starts_s=tuple(float(capture.time.start_s + t) for t in longest.off_s),
    )


def _sparks(off_s: FloatArray) -> FloatArray:
    """Moments of the first ramp of each spark: engines that strike several times charge again soon after."""
    gaps = np.diff(off_s)
    if gaps.size < 3:
        return off_s
    return np.asarray(off_s[np.concatenate(([True], gaps > AGAIN_SHARE * np.percentile(gaps, 95)))])


def _ramps_of(channel: Channel, rate_hz: float) -> Ramps:
    amps = channel.samples if channel.si_factor == 1.0 else channel.samples * np.float32(channel.si_factor)
    floor = limit.COIL_CURRENT_MIN_A.value if channel.si_unit == "A" else 0.0
    return find_ramps(amps, rate_hz, floor_a=floor)


def _on_feed(capture: Capture, engine: Engine, clamps: Sequence[Channel]) -> _Assigned | Reason:
    """Ramps on shared feeds, each given to the cylinder whose spark falls there."""
    sync = sync_channel(capture)
    if sync is None or sync.cylinder not in engine.firing_order:
        return Reason("unsynced", CLAMP_SHARED_FEED(), blocking=True)
    assert sync.cylinder is not None
    events = find_events(sync, capture.time, engine)
    marks = events.times_s - capture.time.start_s
    if marks.size < 3:
        return Reason("sync_silent", SYNC_CARRIES_EVENTS(), blocking=True)
    anchor = events.anchors[0]
    period = REVOLUTION_DEG if anchor is Anchor.REVOLUTION else CYCLE_DEG
    turn = (engine.event_angles_deg - engine.event_angles_deg[engine.position(sync.cylinder)]) % period
    reported: dict[int, Ramps] = {}
    due = float(marks.size - 1) * (2.0 if engine.ignition is Ignition.WASTE_SPARK and period > 400 else 1.0)
    for clamp in clamps:
        ramps = _ramps_of(clamp, capture.time.rate_hz)
        place = np.interp(ramps.off_s, marks, np.arange(marks.size), left=np.nan, right=np.nan)
        degrees = (place % 1.0) * period
        if anchor is Anchor.CYCLE and ramps.count:
            degrees = degrees - _comb_offset(degrees[np.isfinite(degrees)], engine)
        fed = clamp.feeds or engine.firing_order
        for i, c in enumerate(engine.firing_order):
            if c in fed:
                apart = np.abs((degrees - turn[i] + period / 2) % period - period / 2)
                reported[c] = ramps.chosen(np.isfinite(degrees) & (apart < 0.4 * CYCLE_DEG / engine.cylinders))
    if not any(r.count for r in reported.values()):
        return Reason("no_current", COIL_DRAWS_CURRENT_CLAMPED(), blocking=True)
    cycle_s = float(np.median(np.diff(marks))) * CYCLE_DEG / period
    open_turns = tuple(range(engine.cylinders)) if anchor is Anchor.CYCLE else (0,)
    return _Assigned(
        ramps=reported,
        due=due,
        order_offsets=open_turns,
        source=CLAMP_SHARED_FEED_2(),
        speed_rpm=120.0 / cycle_s,
        starts_s=tuple(map(float, events.times_s)),
        reasons=events.reasons,
    )


def _comb_offset(degrees: FloatArray, engine: Engine) -> float:
    """Angle from the sync to the nearest switch-off, where the sync's own angle is not known."""
    step = CYCLE_DEG / engine.cylinders
    return mean_angle(degrees, step) if degrees.size else 0.0


def _figures(ramps: Ramps, due: float) -> Figures:
    missed = max(0.0, due - ramps.count) / due if due > 0 else 0.0
    if missed >= MISSING_SHARE:
        return {"ramps": 0.0, "peak_a": 0.0, "missed": 1.0}
    figures = {"ramps": float(ramps.count), "missed": round(missed if due - ramps.count >= 2 else 0.0, 4)}
    for name in ("peak_a", "dwell_ms", "start_slope", "end_slope", "limited", "ringing_a", "i_final_a", "tau_ms"):
        values = getattr(ramps, name)
        if np.isfinite(values).any():
            centre, sigma = robust_centre(values[np.isfinite(values)])
            figures[name] = round(float(centre), 4)
            figures[f"{name}_spread"] = round(float(sigma), 4)
    return figures


@dataclass(frozen=True, slots=True, kw_only=True)
class _Usual:
    """What the coils have in common, and how many were captured."""

    peak_a: float
    slope: float
    dwell_ms: float
    coils: int
    missed: float
    """Share of ramps that the middle one of them misses."""
    limited: bool
    """The driver holds most of them at one current."""

    def steepness(self, slope: float, *, unknown: float = 1.0) -> float:
        """A slope beside the usual one; unknown where the ramps begin between samples and none has any."""
        return slope / self.slope if self.slope > 0 else unknown


def compare(
    figures: Mapping[int, Figures],
    engine: Engine,
    *,
    origin: Origin,
    source: str,
    only: Mapping[int, Figures] | None = None,
    order_offsets: tuple[int, ...] = (0,),
) -> tuple[tuple[Finding, ...], tuple[Evidence, ...], tuple[Reason, ...]]:
    """Judge each coil beside the others; parameters and result as of ``spark_comparison.compare``."""
    spoken = [c for c in engine.firing_order if c in (figures if only is None else only)]
    charging = {c: f for c, f in figures.items() if f["ramps"] > 0}
    if not charging:
        return (), (), ()
    usual = _Usual(
        peak_a=usual_of(np.array([f["peak_a"] for f in charging.values()]), within=NEAR),
        slope=usual_of(np.array([f["start_slope"] for f in charging.values()]), within=NEAR, sound_is_high=False),
        dwell_ms=usual_of(np.array([f["dwell_ms"] for f in charging.values()]), within=NEAR),
        coils=len(figures),
        missed=float(np.median([f["missed"] for f in charging.values()])),
        limited=float(np.mean([f.get("limited", 0.0) > 0.5 for f in charging.values()])) >= MOST,
    )
    shares = np.ones(engine.cylinders)
    sigmas = np.full(engine.cylinders, limit.NOT_TRIED_SIGMA.value)
    findings = []
    for i, c in enumerate(engine.firing_order):
        if c not in spoken:
            continue
        own = figures[c]
        shares[i] = _share(own, usual)
        spread = usual.steepness(own.get("start_slope_spread", 0.0), unknown=0.0) / np.sqrt(max(own["ramps"], 1.0))
        sigmas[i] = float(np.hypot(limit.COIL_CURRENT_SIGMA.value, 1.2533 * spread))
        state = _state(own, usual)
        findings.append(
            Finding(
                test=TEST, cylinder=c if len(order_offsets) == 1 else None, quantity=TEST,
                value=round(own["peak_a"], 3), unit="A",
                spread=round(own["peak_a_spread"], 3) if "peak_a_spread" in own else None,
                events=int(own["ramps"]), state=state, origin=origin,
                statement=_sentence(c if len(order_offsets) == 1 else None, own, state, usual),
            )
        )  # fmt: skip
    if len(order_offsets) > 1:
        worst = max(findings, key=lambda f: f.state is not State.NORMAL)
        findings = [worst]
    reasons = (Reason(LONE, ONLY_ONE_COIL()),)
    line = Evidence(
        line=LINE, source=source, alternatives=tuple(np.roll(shares, -t) for t in order_offsets), sigmas=sigmas
    )
    return tuple(findings), (line,) if len(figures) > 1 else (), reasons if len(figures) < 2 else ()


def _share(own: Figures, usual: _Usual) -> float:
    """One number for the signature table: height where it is short, else steepness."""
    if own["ramps"] == 0:
        return 0.0
    height, steep = own["peak_a"] / usual.peak_a, usual.steepness(own["start_slope"])
    if _falls_short(own, usual):
        return float(min(height, steep, limit.COIL_CURRENT_LOW_SHARE.value))
    if steep > limit.COIL_CURRENT_STEEP_SHARE.value:
        return float(min(steep, 4.0))
    return float(height if height < limit.COIL_CURRENT_LOW_SHARE.value else min(steep, 4.0))


def _state(own: Figures, usual: _Usual) -> State:
    height = own["peak_a"] / usual.peak_a
    if own["ramps"] == 0 or height < limit.COIL_CURRENT_ABSENT_SHARE.value:
        return State.ABSENT
    if usual.steepness(own["start_slope"]) > limit.COIL_CURRENT_STEEP_SHARE.value:
        return State.HIGH
    if height < limit.COIL_CURRENT_LOW_SHARE.value or _falls_short(own, usual):
        return State.LOW
    misses = own["missed"] >= limit.SPARKS_MISSED_SHARE.value and own["missed"] > MORE_THAN_ALL * usual.missed
    return State.ABNORMAL if misses else State.NORMAL


def _falls_short(own: Figures, usual: _Usual) -> bool:
    """Whether a coil is still rising where its peers are held, in the same dwell: the driver hides what it lacks."""
    rising = own.get("limited", 0.0) < 0.5 and own["dwell_ms"] > DWELL_ALIKE * usual.dwell_ms
    slower = own["start_slope"] < SLOWER * usual.slope and own["peak_a"] < usual.peak_a
    return usual.limited and rising and slower


def _sentence(cylinder: int | None, own: Figures, state: State, usual: _Usual) -> Message:
    who = ONE_COIL() if cylinder is None else COIL_CYLINDER(cylinder=cylinder)
    if state is State.ABSENT:
        return DRAWS_CURRENT_PEERS(who=who, peak=usual.peak_a)
    if usual.coils < 2:
        return REACHES_MS_THERE(who=who, peak_a=own["peak_a"], dwell_ms=own["dwell_ms"])
    if state is State.HIGH:
        return RISES_TIMES_STEEPLY(who=who, start_slope=usual.steepness(own["start_slope"]))
    if state is State.LOW and _falls_short(own, usual):
        return LIMIT_NOT_REACHED(who=who)
    if state is State.LOW:
        text = REACHES_PEERS(who=who, peak_a=own["peak_a"], peak=usual.peak_a)
        short = own["dwell_ms"] < 0.85 * usual.dwell_ms
        return text + (DWELL_SHORTER() if short else SAME_DWELL_RESISTANCE())
    if state is State.ABNORMAL:
        return REACHES_BUT_RAMPS(who=who, peak_a=own["peak_a"], missed=100 * own["missed"])
    return CHARGES_LIKE_PEERS(who=who, peak_a=own["peak_a"], dwell_ms=own["dwell_ms"])


def _trace_reasons(all_ramps: Iterable[Ramps]) -> list[Reason]:
    ramps = list(all_ramps)
    reasons = []
    spikes = max((r.spikes for r in ramps), default=0)
    if spikes:
        reasons.append(Reason("spikes", INTERFERENCE_SPIKES_FILTERED(spikes=spikes)))
    if any(r.inverted for r in ramps if r.count):
        reasons.append(Reason("reversed", CLAMP_BACKWARDS_TRACE()))
    return reasons

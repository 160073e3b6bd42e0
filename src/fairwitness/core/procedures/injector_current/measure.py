"""Injector current on shared feeds or single leads: every pulse found, each injector beside its peers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.messages.message import Message
from fairwitness.core.messages.words import OPEN, SYNCED
from fairwitness.core.model.capture import Capture, CaptureTest, Role
from fairwitness.core.model.engine import Engine, InjectorDrive
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.injector_current.averaged import averaged_pulses
from fairwitness.core.procedures.injector_current.circuit import RISE_SAMPLES_MIN, circuit_of, regulated_of
from fairwitness.core.procedures.injector_current.regulated import apart_in, rise_of
from fairwitness.core.procedures.injector_current.warming import MISSING_SHARE, NEAR, clock, warming
from fairwitness.core.procedures.injector_current.words import (
    CLAMP_BACKWARDS_TRACE,
    CLAMP_FEED,
    CLAMPS_FEEDS,
    DRAWS_CURRENT_BUT,
    DRAWS_LIKE_PEERS,
    INJECTOR_CYLINDER,
    INTERFERENCE_SPIKES_FILTERED,
    MS_PEERS_MS,
    ONE_INJECTOR,
    OTHERS_ON_FEED,
    PULSES,
    PULSES_OVERLAP_SPEED,
    REACHES_LESS_THAN,
    REACHES_PEERS_TOO,
    RISES_FASTER,
    RISES_MORE_SLOWLY,
    SHOWS_PULSE_CURRENT,
    STAYS_OUT_TIMES,
    SYNC_INJECTOR_WHETHER,
    WORKS_UNTIL_INJECTION,
)
from fairwitness.core.signal.clamp_level import INJECTOR, doubted
from fairwitness.core.signal.injector.assignment import Assigned, assign
from fairwitness.core.signal.injector.current import SHAPES_AVERAGED
from fairwitness.core.signal.injector.needle import Needles, needles
from fairwitness.core.signal.injector.trend import Presence, presences
from fairwitness.core.signal.peers import usual_of
from fairwitness.core.signal.quality import any_cut_off
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.core.signal.robust import robust_sigma

FloatArray = NDArray[np.float64]
Figures = Mapping[str, float]

TEST = CaptureTest.INJECTOR_CURRENT.value
LINE, NEEDLE = "IC", "PD"
NEEDLES_MIN = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class _Usual:
    """What the injectors have in common."""

    level: Mapping[int, float]
    on_ms: float


@dataclass(frozen=True, slots=True)
class _Read:
    """All that was read of the injectors before they are compared."""

    assigned: Assigned
    figures: Mapping[int, Figures]
    came: Mapping[int, Presence]
    usual: _Usual
    lifting: Needles


REGULATED = (InjectorDrive.BOOSTED, InjectorDrive.PIEZO)
"""Drives that hold the current whatever the winding: a level as usual says that it flows, hardly through what."""


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: injector current that is more than another test's sync."""
    return capture.taken_for(CaptureTest.INJECTOR_CURRENT, Role.INJECTOR_CURRENT)


def measure(capture: Capture, engine: Engine) -> Measured:
    """Read every pulse and compare the injectors.

    Parameters
    ----------
    capture : Capture
        Clamps on shared feeds (their ``feeds`` say which cylinders) with a sync, or one clamp per injector. With the
        battery voltage beside them resistances are given in ohms.
    engine : Engine

    Returns
    -------
    Measured
        Unusable where no injector draws current or nothing says whose pulses they are.
    """
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    cut = any_cut_off(capture, Role.INJECTOR_CURRENT)
    if cut is not None:
        return refused(TEST, "A", engine.firing_order, (cut,), origin)
    capture = evenly_sampled(capture)
    assigned = assign(capture, engine)
    if isinstance(assigned, Reason):
        return refused(TEST, "A", engine.firing_order, (assigned,), origin)
    came = dict(zip(assigned.trains, presences(list(assigned.trains.values()), assigned.cycles), strict=True))
    level = doubted([float(np.median(t.level_a)) for t in assigned.trains.values() if t.count], INJECTOR)
    supply = _supply(capture) if level is None else None  # no ohms from a current that is unknown
    figures = {c: _figures(assigned, c, came[c], engine, supply) for c in assigned.trains}
    if engine.injector_drive in REGULATED:
        for c, share in apart_in(figures).items():
            figures[c]["regulated_share"] = share
    usual = _usual(assigned, figures)
    lifting = _needles(assigned, figures, usual, engine)
    for c, share in lifting.shares.items():
        figures[c] |= {"dip": round(share * lifting.usual_dip, 4), "dip_share": round(share, 3)}
    findings, lines = _compared(_Read(assigned, figures, came, usual, lifting), engine, origin)
    certain = len(assigned.order_offsets) == 1
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=(*_reasons(assigned, certain=certain), *([level] if level is not None else [])),
        findings=findings + (warming(assigned, figures, came, usual.level, origin) if certain else ()),
        lines=lines,
        categorical=_on_times(figures, usual, f"capture:{capture.name}") if certain else (),
        facts={
            "cycles": max(1, assigned.cycles),
            "speed_rpm": round(120.0 / assigned.cycle_s, 1) if assigned.cycle_s > 0 else 0.0,
            "source": CLAMPS_FEEDS() if len(assigned.pulses) > 1 else CLAMP_FEED(),
            "assignment": SYNCED if certain else OPEN,
            "cylinders": len(assigned.trains),
        },
        figures=figures,
        cycle_starts_s=assigned.starts_s,
        averaged_cycle=averaged_pulses(assigned, engine) if certain else None,
    )


def _reasons(assigned: Assigned, *, certain: bool) -> list[Reason]:
    reasons = []
    if any(p.spikes for p in assigned.pulses):
        reasons.append(Reason("spikes", INTERFERENCE_SPIKES_FILTERED()))
    if any(p.inverted for p in assigned.pulses if p.count):
        reasons.append(Reason("reversed", CLAMP_BACKWARDS_TRACE()))
    if assigned.overlapping:
        text = PULSES_OVERLAP_SPEED()
        reasons.append(Reason("overlapping", text))
    if assigned.others_on_feed:
        reasons.append(Reason("others_on_feed", OTHERS_ON_FEED()))
    if not certain:
        text = SYNC_INJECTOR_WHETHER()
        reasons.append(Reason("offset_unknown", text))
    return reasons


def _supply(capture: Capture) -> float | None:
    """Voltage of the feed where it was recorded, V."""
    channels = capture.with_role(Role.BATTERY_VOLTAGE)
    if not channels:
        return None
    volts = float(np.nanmedian(channels[0].samples)) * channels[0].si_factor
    return volts if limit.SUPPLY_PLAUSIBLE_MIN_V.value < volts < limit.SUPPLY_PLAUSIBLE_MAX_V.value else None


def _figures(
    assigned: Assigned, cylinder: int, came: Presence, engine: Engine, supply_v: float | None
) -> dict[str, float]:
    train = assigned.trains[cylinder]
    if not train.count or (came.missed_share >= MISSING_SHARE and came.lost_at is None):
        return {"pulses": 0.0, "level_a": 0.0, "missed": 1.0}
    level = float(np.median(train.level_a))
    figures = {
        "pulses": float(train.count),
        "missed": round(came.missed_share, 4),
        "on_ms": round(float(np.median(train.on_ms)), 4),
        "peak_a": round(level, 5),
        "hold_a": round(float(np.median(train.hold_a)), 5),
        "charge_mc": round(float(np.median(train.charge_mc)), 5),
        "per_injection": float(np.median(train.pulses)),
        "level_a": round(level, 5),
    }
    shape = assigned.shapes[cylinder]
    rate = assigned.pulses[assigned.clamp[cylinder]].rate_hz
    if engine.injector_drive is InjectorDrive.SATURATED and shape.size >= RISE_SAMPLES_MIN:
        figures |= circuit_of(shape, rate, level, supply_v)
    elif engine.injector_drive is InjectorDrive.PEAK_AND_HOLD and shape.size >= RISE_SAMPLES_MIN:
        figures |= regulated_of(shape, rate, level)
    elif engine.injector_drive in REGULATED:
        figures |= rise_of(shape, rate)
    return figures


def _usual(assigned: Assigned, figures: Mapping[int, Figures]) -> _Usual:
    """Level of each cylinder's peers, itself left out: those on its own clamp where they are enough."""
    flowing = {c: f for c, f in figures.items() if f["pulses"] > 0}
    level = {}
    for c, k in assigned.clamp.items():
        others = [f["level_a"] for d, f in flowing.items() if d != c]
        near = [f["level_a"] for d, f in flowing.items() if d != c and assigned.clamp[d] == k]
        chosen = near if len(near) >= 2 else others or [f["level_a"] for f in flowing.values()]
        if len(chosen) == 2 and c in flowing:  # of two peers that differ it sides with the sound one
            chosen = [*chosen, flowing[c]["level_a"]]
        level[c] = usual_of(np.array(chosen), within=NEAR) if chosen else 1.0
    return _Usual(
        level=level,
        on_ms=float(np.median([f["on_ms"] for f in flowing.values()])) if flowing else 0.0,
    )


def _needles(assigned: Assigned, figures: Mapping[int, Figures], usual: _Usual, engine: Engine) -> Needles:
    """Dips of the injectors whose current is as usual: another resistance bends the rise in its own way."""
    alike = [
        c for c, f in figures.items()
        if f["pulses"] and abs(f["level_a"] / usual.level[c] - 1) < NEAR and assigned.shapes[c].size
    ]  # fmt: skip
    if engine.injector_drive is not InjectorDrive.SATURATED or len(alike) < NEEDLES_MIN:
        return Needles(usual_dip=0.0, usual_ms=float("nan"), shares={}, sigmas={})
    noises = {
        c: assigned.pulses[assigned.clamp[c]].noise_a
        / figures[c]["level_a"]
        / np.sqrt(min(assigned.trains[c].count, SHAPES_AVERAGED))
        for c in alike
    }
    found = needles({c: assigned.shapes[c] for c in alike}, assigned.pulses[0].rate_hz, noises)
    clear = found.usual_dip > limit.NEEDLE_DIP_MIN.value
    return found if clear else Needles(usual_dip=found.usual_dip, usual_ms=found.usual_ms, shares={}, sigmas={})


def _compared(read: _Read, engine: Engine, origin: Origin) -> tuple[tuple[Finding, ...], tuple[Evidence, ...]]:
    assigned, figures, came, usual, lifting = read.assigned, read.figures, read.came, read.usual, read.lifting
    source = f"capture:{origin.resource}"
    unknown = limit.NOT_TRIED_SIGMA.value
    shares, sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, unknown)
    dips, dip_sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, unknown)
    findings = []
    certain = len(assigned.order_offsets) == 1
    for i, c in enumerate(engine.firing_order):
        if c not in figures:
            continue
        own = figures[c]
        share = float(np.clip(_share(own, usual.level[c]), 0.0, 4.0)) if own["pulses"] else 0.0
        if c in lifting.shares:
            dips[i] = float(np.clip(lifting.shares[c], 0.0, 2.0))
            dip_sigmas[i] = float(np.hypot(limit.NEEDLE_SIGMA.value, lifting.sigmas[c]))
        fails = _fails(came[c], came)
        state = _state(own, share, float(dips[i]), usual.on_ms, lost=came[c].lost_at is not None, fails=fails)
        shares[i] = 0.0 if fails else share  # an injector that fails now and then draws nothing when it fails
        sigmas[i] = limit.INJECTOR_CURRENT_SIGMA.value
        regulated = engine.injector_drive in REGULATED and shares[i] > limit.INJECTOR_ABSENT_SHARE.value
        if regulated and not _is_out_of_line(own, state):
            sigmas[i] = limit.REGULATED_SIGMA.value
        words = _sentence(c if certain else None, own, state, usual, c, float(dips[i]))
        if own["pulses"] and fails:
            words = _failing(c if certain else None, came[c], assigned)
        findings.append(
            Finding(
                test=TEST, cylinder=c if certain else None, quantity=TEST, value=round(own["level_a"], 4), unit="A",
                spread=_spread(assigned, c), events=int(own["pulses"]), state=state, origin=origin, statement=words,
            )
        )  # fmt: skip
    if not certain:
        findings = [max(findings, key=lambda f: f.state is not State.NORMAL)]
    lines = [
        Evidence(line=name, source=source, alternatives=tuple(np.roll(v, -t) for t in assigned.order_offsets), sigmas=s)
        for name, v, s in ((LINE, shares, sigmas), (NEEDLE, dips, dip_sigmas))
        if name == LINE or (s < unknown).any()
    ]
    return tuple(findings), tuple(lines) if len(figures) > 1 else ()


def _share(own: Figures, usual: float) -> float:
    """Of its peers' level, or of what tells more where the driver regulates the level."""
    return own.get("regulated_share", own["level_a"] / usual)


def _is_out_of_line(own: Figures, state: State) -> bool:
    """Whether a regulated drive shows the winding all the same: what it does not reach, or reaches too fast."""
    return state in (State.LOW, State.HIGH) or "regulated_share" in own


def _on_times(figures: Mapping[int, Figures], usual: _Usual, source: str) -> tuple[CategoricalEvidence, ...]:
    """A pulse much longer than the peers' is a driver or a wire held at earth."""
    long = limit.INJECTOR_LONG_SHARE.value * usual.on_ms
    return tuple(
        CategoricalEvidence(
            kind="injector_on_time", outcome="long" if f["on_ms"] > long else "usual", cylinders=(c,), source=source
        )
        for c, f in figures.items()
        if f["pulses"]
    )


def _spread(assigned: Assigned, cylinder: int) -> float | None:
    level = assigned.trains[cylinder].level_a
    if level.size < 2:
        return None
    return round(robust_sigma(level), 5)


def _fails(own: Presence, came: Mapping[int, Presence]) -> bool:
    """Whether an injector stays out that was due: for good from some moment on, or again and again."""
    if own.lost_at is not None:
        return True
    others = max((p.missed for p in came.values() if p is not own and p.missed_share < MISSING_SHARE), default=0)
    often = own.missed_share >= limit.SPARKS_MISSED_SHARE.value and own.missed >= 2
    again = own.missed >= limit.INJECTIONS_MISSED_MIN.value and own.missed > limit.INJECTIONS_MISSED_MIN.value * others
    return often or again


def _state(own: Figures, share: float, needle: float, on_ms: float, *, lost: bool, fails: bool) -> State:
    if not own["pulses"] or share < limit.INJECTOR_ABSENT_SHARE.value or lost:
        return State.ABSENT
    if fails:
        return State.ABNORMAL
    if share < limit.INJECTOR_LOW_SHARE.value:
        return State.LOW
    if share > limit.INJECTOR_HIGH_SHARE.value:
        return State.HIGH
    odd = needle < limit.NEEDLE_GONE_SHARE.value or own["on_ms"] > limit.INJECTOR_LONG_SHARE.value * on_ms
    return State.ABNORMAL if odd else State.NORMAL


def _who(cylinder: int | None) -> Message:
    return INJECTOR_CYLINDER(cylinder=cylinder) if cylinder is not None else ONE_INJECTOR()


def _sentence(cylinder: int | None, own: Figures, state: State, usual: _Usual, at: int, needle: float) -> Message:
    who, level, peers = _who(cylinder), own["level_a"], usual.level[at]
    if state is State.ABSENT:
        return SHOWS_PULSE_CURRENT(who=who, peers=peers)
    if state in (State.LOW, State.HIGH) and "regulated_share" in own:
        words = RISES_MORE_SLOWLY if state is State.LOW else RISES_FASTER
        return words(who=who, percent=100 * abs(own["regulated_share"] - 1))
    if state is State.LOW:
        return REACHES_LESS_THAN(who=who, level=level, level_2=100 * (1 - level / peers))
    if state is State.HIGH:
        return REACHES_PEERS_TOO(who=who, level=level, peers=peers)
    if needle < limit.NEEDLE_GONE_SHARE.value:
        return DRAWS_CURRENT_BUT(who=who)
    if own["on_ms"] > limit.INJECTOR_LONG_SHARE.value * usual.on_ms:
        return MS_PEERS_MS(who=who, on_ms=own["on_ms"], on_ms_2=usual.on_ms)
    several = PULSES(per_injection=own["per_injection"]) if own.get("per_injection", 1.0) > 1 else ""
    return DRAWS_LIKE_PEERS(who=who, level=level, on_ms=own["on_ms"], several=several)


def _failing(cylinder: int | None, own: Presence, assigned: Assigned) -> Message:
    who = _who(cylinder)
    if own.lost_at is None:
        return STAYS_OUT_TIMES(who=who, missed=own.missed, due=own.due)
    at = assigned.starts_s[min(own.lost_at, len(assigned.starts_s) - 1)]
    return WORKS_UNTIL_INJECTION(who=who, clock=clock(at), lost_at=own.lost_at)

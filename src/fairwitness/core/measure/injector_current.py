"""Injector current on shared feeds or single leads: every pulse found, each injector beside its peers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.capture import Capture, CaptureTest, Channel, Role
from fairwitness.core.crank_reading import evenly_sampled
from fairwitness.core.engine import CYCLE_DEG, Engine, InjectorDrive
from fairwitness.core.finding import Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.injector_pulse import Pulses, find_pulses, needle_dip
from fairwitness.core.peers import usual_of
from fairwitness.core.phase import Anchor, find_events, sync_channel
from fairwitness.core.quality import Reason

FloatArray = NDArray[np.float64]
Figures = Mapping[str, float]

TEST = CaptureTest.INJECTOR_CURRENT.value
LINE, NEEDLE = "IC", "PD"
NEAR = 0.08
"""[M] injectors within this share of the median are the peers whose mean is the usual value."""
MISSING_SHARE = 0.8


@dataclass(frozen=True, kw_only=True, eq=False)
class _Assigned:
    """Figures by cylinder, which clamp each came through, and by how many places all may be off."""

    figures: dict[int, dict[str, float]]
    clamp: dict[int, int]
    turns: tuple[int, ...]
    cycle_s: float
    starts_s: tuple[float, ...]
    pulses: tuple[Pulses, ...]


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: injector current that is more than another test's sync."""
    return capture.taken_for(CaptureTest.INJECTOR_CURRENT, Role.INJECTOR_CURRENT)


def measure(capture: Capture, engine: Engine) -> Measured:
    """Read every pulse and compare the injectors.

    Parameters
    ----------
    capture : Capture
        Clamps on shared feeds (their ``feeds`` say which cylinders) with a sync, or one clamp per injector.
    engine : Engine

    Returns
    -------
    Measured
        Unusable where no injector draws current or nothing says whose pulses they are.
    """
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    assigned = _assign(evenly_sampled(capture), engine)
    if isinstance(assigned, Reason):
        return refused(TEST, "A", engine.firing_order, (assigned,), origin)
    reasons = []
    if any(p.spikes for p in assigned.pulses):
        reasons.append(Reason("spikes", "Interference spikes were filtered out: a plug lead lies near the clamp."))
    if any(p.turned for p in assigned.pulses if p.count):
        reasons.append(Reason("reversed", "The clamp was on backwards: the trace was turned over before measuring."))
    certain = len(assigned.turns) == 1
    if not certain:
        reasons.append(
            Reason("offset_unknown", "The sync is no injector: whether is told, which cylinder is not. Sync on one.")
        )
    findings, lines = _compared(assigned, engine, origin, f"capture:{capture.name}")
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=tuple(reasons),
        findings=findings,
        lines=lines,
        facts={
            "cycles": max(1, len(assigned.starts_s) - 1),
            "speed_rpm": round(120.0 / assigned.cycle_s, 1) if assigned.cycle_s > 0 else 0.0,
            "source": "clamps on the feeds" if len(assigned.pulses) > 1 else "a clamp on the feed",
            "assignment": "synced" if certain else "open",
            "cylinders": len(assigned.figures),
        },
        figures=assigned.figures,
        cycle_starts_s=assigned.starts_s,
    )


def _assign(capture: Capture, engine: Engine) -> _Assigned | Reason:
    clamps = capture.with_role(Role.INJECTOR_CURRENT)
    shared = [c for c in clamps if c.cylinder is None]
    own = [c for c in clamps if c.cylinder in engine.firing_order]
    if shared:
        return _on_feeds(capture, engine, shared)
    if not own:
        return Reason("no_clamp", "No injector current of a cylinder of this engine was recorded.", blocking=True)
    found = {c.cylinder: _pulses(c, capture) for c in own if c.cylinder is not None}
    gaps = [float(np.median(np.diff(_events(p)))) for p in found.values() if _events(p).size > 1]
    if not gaps:
        return Reason("no_current", "No injector draws current: is the clamp zeroed, and does the engine run?", True)
    cycle_s = float(np.median(gaps))
    due = capture.time.duration_s / cycle_s
    longest = max(found.values(), key=lambda p: p.count)
    return _Assigned(
        figures={c: _figures(p, np.ones(p.count, dtype=np.bool_), due, engine) for c, p in found.items()},
        clamp=dict.fromkeys(found, 0),
        turns=(0,),
        cycle_s=cycle_s,
        starts_s=tuple(float(capture.time.start_s + t) for t in _events(longest)),
        pulses=tuple(found.values()),
    )


def _pulses(channel: Channel, capture: Capture) -> Pulses:
    factor = channel.si_factor
    return find_pulses(channel.samples if factor == 1.0 else channel.samples * np.float32(factor), capture.time.rate_hz)


def _events(pulses: Pulses) -> FloatArray:
    """Begins of the first pulse of each injection: later ones of the same group follow far sooner than a cycle."""
    begins = pulses.begin_s
    if begins.size < 3:
        return begins
    gaps = np.diff(begins)
    return np.asarray(begins[np.concatenate(([True], gaps > limit.STRIKE_GROUP_SHARE.value * float(gaps.max())))])


def _on_feeds(capture: Capture, engine: Engine, clamps: Sequence[Channel]) -> _Assigned | Reason:
    sync = sync_channel(capture)
    if sync is None or sync.cylinder not in engine.firing_order:
        return Reason("unsynced", "A clamp on a shared feed needs a sync on one known cylinder.", blocking=True)
    assert sync.cylinder is not None
    events = find_events(sync, capture.time, engine)
    marks = events.times_s - capture.time.start_s
    if marks.size < 3:
        return Reason("sync_silent", "The sync carries no events: is it on a working cylinder?", blocking=True)
    if events.anchors[0] is Anchor.REVOLUTION:
        text = "A shared coil marks every revolution: sync on an injector, so that companions are told apart."
        return Reason("revolution_sync", text, blocking=True)
    by_injector = sync.role in (Role.INJECTOR_VOLTAGE, Role.INJECTOR_CURRENT)
    turn = (engine.event_angles_deg - engine.event_angles_deg[engine.position(sync.cylinder)]) % CYCLE_DEG
    found = [_pulses(c, capture) for c in clamps]
    phases = [_phase(p.begin_s, marks) for p in found]
    together = np.concatenate(phases) if phases else np.empty(0)
    together = together[np.isfinite(together)]
    if not together.size:
        return Reason("no_current", "No injector draws current on the clamped feeds.", blocking=True)
    lead = _lead(together, turn)
    due = float(marks.size - 1)
    figures: dict[int, dict[str, float]] = {}
    clamp: dict[int, int] = {}
    for k, (channel, pulses, phase) in enumerate(zip(clamps, found, phases, strict=True)):
        fed = channel.feeds or engine.firing_order
        for i, c in enumerate(engine.firing_order):
            if c in fed:
                apart = np.abs((phase - lead - turn[i] + 360.0) % CYCLE_DEG - 360.0)
                mine = np.isfinite(phase) & (apart < 0.45 * CYCLE_DEG / engine.cylinders)
                figures[c] = _figures(pulses, mine, due, engine)
                clamp[c] = k
    open_turns = (0,) if by_injector else tuple(range(engine.cylinders))
    return _Assigned(
        figures=figures,
        clamp=clamp,
        turns=open_turns,
        cycle_s=float(np.median(np.diff(marks))),
        starts_s=tuple(map(float, events.times_s)),
        pulses=tuple(found),
    )


def _phase(begins: FloatArray, marks: FloatArray) -> FloatArray:
    place = np.interp(begins, marks, np.arange(marks.size), left=np.nan, right=np.nan)
    return np.asarray((place % 1.0) * CYCLE_DEG)


def _lead(phases: FloatArray, turn: FloatArray) -> float:
    """Angle from the sync's mark to the begin of its own pulse: the mark may be the begin or the end of it."""
    apart = (phases[:, None] - turn[None, :] + 360.0) % CYCLE_DEG - 360.0
    nearest = apart[np.arange(phases.size), np.argmin(np.abs(apart), axis=1)]
    return float(np.median(nearest))


def _figures(pulses: Pulses, mine: NDArray[np.bool_], due: float, engine: Engine) -> dict[str, float]:
    count = int(np.count_nonzero(mine))
    missed = max(0.0, due - count) / due if due > 0 else 0.0
    if not count or missed >= MISSING_SHARE:
        return {"pulses": 0.0, "level_a": 0.0, "missed": 1.0}
    shape = pulses.mean_shape(mine)
    figures = {
        "pulses": float(count),
        "missed": round(missed if due - count >= 2 else 0.0, 4),
        "on_ms": round(float(np.median(pulses.on_ms[mine])), 4),
        "peak_a": round(float(np.median(pulses.peak_a[mine])), 5),
        "charge_mc": round(float(np.median(pulses.charge_mc[mine])), 5),
        "level_a": round(float(np.median(pulses.peak_a[mine])), 5),
    }
    if shape.size >= 8:
        figures["early_a"] = round(float(shape[: max(2, round(0.2e-3 * pulses.rate_hz))].mean()), 5)
        if engine.injector_drive is InjectorDrive.SATURATED:
            figures["dip"] = round(needle_dip(shape, pulses.rate_hz, noise_a=pulses.noise_a / np.sqrt(count)), 4)
    return figures


def _compared(
    assigned: _Assigned, engine: Engine, origin: Origin, source: str
) -> tuple[tuple[Finding, ...], tuple[Evidence, ...]]:
    flowing = {c: f for c, f in assigned.figures.items() if f["pulses"] > 0}
    usual = _usual(assigned, flowing)
    dip = float(np.median([f["dip"] for f in flowing.values() if "dip" in f] or [0.0]))
    on = float(np.median([f["on_ms"] for f in flowing.values()])) if flowing else 0.0
    unknown = limit.NOT_TRIED_SIGMA.value
    shares, sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, unknown)
    needles, needle_sigmas = np.ones(engine.cylinders), np.full(engine.cylinders, unknown)
    findings = []
    certain = len(assigned.turns) == 1
    for i, c in enumerate(engine.firing_order):
        if c not in assigned.figures:
            continue
        own = assigned.figures[c]
        shares[i] = float(np.clip(own["level_a"] / usual[c], 0.0, 4.0)) if own["pulses"] else 0.0
        sigmas[i] = limit.INJECTOR_CURRENT_SIGMA.value
        if own["pulses"] and dip > limit.NEEDLE_DIP_MIN.value and "dip" in own:
            needles[i] = float(np.clip(own["dip"] / dip, 0.0, 2.0))
            needle_sigmas[i] = limit.NEEDLE_SIGMA.value
        state = _state(own, float(shares[i]), float(needles[i]), on)
        findings.append(
            Finding(
                test=TEST, cylinder=c if certain else None, quantity=TEST, value=round(own["level_a"], 4), unit="A",
                spread=None, events=int(own["pulses"]), state=state, origin=origin,
                statement=_sentence(c if certain else None, own, state, usual[c], float(needles[i]), on),
            )
        )  # fmt: skip
    if not certain:
        findings = [max(findings, key=lambda f: f.state is not State.NORMAL)]
    lines = [
        Evidence(line=name, source=source, alternatives=tuple(np.roll(v, -t) for t in assigned.turns), sigmas=s)
        for name, v, s in ((LINE, shares, sigmas), (NEEDLE, needles, needle_sigmas))
        if name == LINE or (s < unknown).any()
    ]
    return tuple(findings), tuple(lines) if len(assigned.figures) > 1 else ()


def _usual(assigned: _Assigned, flowing: Mapping[int, Figures]) -> dict[int, float]:
    """Level of each cylinder's peers: those on its own clamp where they are enough, as clamps differ in gain."""
    whole = usual_of(np.array([f["level_a"] for f in flowing.values()]), within=NEAR) if flowing else 1.0
    usual = {}
    for c, k in assigned.clamp.items():
        near = [f["level_a"] for d, f in flowing.items() if assigned.clamp[d] == k]
        usual[c] = usual_of(np.array(near), within=NEAR) if len(near) >= 3 else whole
    return usual


def _state(own: Figures, share: float, needle: float, on: float) -> State:
    if not own["pulses"] or share < limit.INJECTOR_ABSENT_SHARE.value:
        return State.ABSENT
    if share < limit.INJECTOR_LOW_SHARE.value:
        return State.LOW
    if share > limit.INJECTOR_HIGH_SHARE.value:
        return State.HIGH
    odd = needle < limit.NEEDLE_GONE_SHARE.value or own["on_ms"] > limit.INJECTOR_LONG_SHARE.value * on
    return State.ABNORMAL if odd or own["missed"] >= limit.SPARKS_MISSED_SHARE.value else State.NORMAL


def _sentence(cylinder: int | None, own: Figures, state: State, usual: float, needle: float, on: float) -> str:
    who = f"The injector of cylinder {cylinder}" if cylinder is not None else "One injector"
    level = own["level_a"]
    if state is State.ABSENT:
        return f"{who} draws no current; its peers reach {usual:.2f} A."
    if state is State.LOW:
        return f"{who} reaches {level:.2f} A, {100 * (1 - level / usual):.0f} % less than its peers: more resistance."
    if state is State.HIGH:
        return f"{who} reaches {level:.2f} A, its peers {usual:.2f} A: too little resistance."
    if needle < limit.NEEDLE_GONE_SHARE.value:
        return f"{who} draws its current, but the dip of a lifting needle is missing: it does not move."
    if own["on_ms"] > limit.INJECTOR_LONG_SHARE.value * on:
        return f"{who} is on for {own['on_ms']:.1f} ms, its peers for {on:.1f} ms: flooding."
    if state is State.ABNORMAL:
        return f"{who} misses {100 * own['missed']:.0f} % of its pulses."
    return f"{who} draws like its peers: {level:.2f} A for {own['on_ms']:.1f} ms."

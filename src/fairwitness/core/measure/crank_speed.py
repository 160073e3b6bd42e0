"""Contribution of each cylinder while the engine runs, from the speed of the crank.

Teeth are timed, angles follow from the wheel, and the work of every single event is solved together with its neighbours
(see ``work_model``). A share of 1 is a cylinder that works like its sound peers, 0 one that does not work at all.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from fairwitness import __version__
from fairwitness.core import thresholds as limit
from fairwitness.core.capture import Capture, CaptureTest, EngineState, Role
from fairwitness.core.crank_wheel import CrankAngle, crank_angle, smoothed_wheel
from fairwitness.core.engine import CYCLE_DEG, REVOLUTION_DEG, Engine
from fairwitness.core.finding import CycleStrip, Evidence, Finding, Measured, Origin, State, refused
from fairwitness.core.peers import robust_centre, sound_level
from fairwitness.core.phase import Anchor, SyncEvents, find_events, sync_channel, waste_spark_split
from fairwitness.core.quality import Reason
from fairwitness.core.tooth_times import tooth_times
from fairwitness.core.work_model import Work, solve_work

FloatArray = NDArray[np.float64]

TEST = CaptureTest.CRANK_SPEED.value
LINE = "CON"
RATE = "misfire_rate"
SPARK_ADVANCE_DEG = 12.0
"""[M] usual at idle; a few degrees more or less turn the shapes a little, not the assignment."""
SYNC_OFF_DEG = 75.0
"""[M] a compression sync further than this from every TDC the wheel allows contradicts the wheel."""
SEARCH_STEP_DEG = 10.0
CLEARLY_BETTER = 0.75
"""[M] ratio of residuals from which one phase is taken over another."""
HEAP_MIN, HEAPS_APART, HEAP_LOW_SHARE, HEAP_HIGH = 2, 4.5, 0.6, 0.6
"""[M] events of a heap, how far heaps lie apart in scatters of their own, how much less a misfire and how much at least
a burnt event does."""
CLEAR_OF_SCATTER = 4.5
"""Standard deviations that an event must lie below the sound ones before it is called a misfire."""
MISSED_MIN = 2
"""One odd event is an accident."""
STEADY_SHARE = 0.2
"""[M] cycles further from the usual speed belong to a snap, a gear change or a stall."""


@dataclass(frozen=True, slots=True)
class _Phase:
    """Work at one phase, and by how many places of the firing order it may still be turned."""

    work: Work
    rotations: tuple[int, ...]
    assignment: str
    reasons: tuple[Reason, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Contribution:
    """What the events of one cylinder amount to, as shares of the sound level."""

    share: float
    spread: float
    misfire_rate: float
    events: int
    state: State


def applies(capture: Capture) -> bool:
    """Whether a capture can be read for this test: a crank sensor on a running engine."""
    return bool(capture.with_role(Role.CRANK_SENSOR)) and capture.set_up.engine_state is not EngineState.CRANKING


def measure(capture: Capture, engine: Engine) -> Measured:
    """Compare the cylinders' work in one capture.

    Parameters
    ----------
    capture : Capture
    engine : Engine

    Returns
    -------
    Measured
        Unusable with its reasons where teeth, wheel or speed cannot be believed.
    """
    channel = capture.with_role(Role.CRANK_SENSOR)[0]
    teeth = tooth_times(channel.samples, capture.time)
    if teeth is None:
        return _unusable(capture, engine, Reason("no_teeth", "The crank sensor shows no teeth.", blocking=True))
    per_tooth = capture.time.rate_hz * float(np.median(np.diff(teeth.times_s)))
    if per_tooth < limit.SAMPLES_PER_TOOTH_MIN.value:
        text = f"Only {per_tooth:.1f} samples a tooth: sample faster, or the pattern is not what it seems."
        return _unusable(capture, engine, Reason("aliased", text, blocking=True))
    events = _sync(capture, engine)
    compression = (
        events is not None and Anchor.COMPRESSION in events.anchors and Anchor.REVOLUTION not in events.anchors[:1]
    )
    starts = events.times_s if events is not None and (compression or events.anchors[0] is Anchor.CYCLE) else None
    crank = crank_angle(teeth.times_s, wheel=engine.crank_wheel, cycle_starts_s=starts)
    if crank is None:
        text = "How many teeth the wheel has is not known: give the wheel, or a sync once per cycle."
        return _unusable(capture, engine, Reason("wheel_unknown", text, blocking=True))
    crank = smoothed_wheel(crank, max(6, engine.cylinders))
    reasons = _wheel_reasons(crank, engine)
    phase = _phased(crank, engine, events)
    if phase is None or phase.work.rpm.size < limit.RUNNING_CYCLES_MIN.value:
        text = f"Fewer than {limit.RUNNING_CYCLES_MIN.value:.0f} whole cycles were recorded."
        return _unusable(capture, engine, *reasons, Reason("too_short", text, blocking=True))
    reasons = [*reasons, *phase.reasons]
    rpm = float(np.median(phase.work.rpm))
    if rpm < limit.RUNNING_RPM_MIN.value:
        text = f"The engine turned at {rpm:.0f} rpm: it was not running."
        return _unusable(capture, engine, *reasons, Reason("not_running", text, blocking=True))
    return _judged(capture, engine, phase, reasons)


def contributions(per_cycle: FloatArray) -> tuple[FloatArray, list[Contribution]]:
    """Shares of every event, and what they amount to per cylinder.

    Parameters
    ----------
    per_cycle : (cycles, cylinders) float
        Work of every event, any unit.

    Returns
    -------
    (shares, contributions) : (cycles, cylinders) float, list of Contribution
    """
    level = sound_level(np.percentile(per_cycle, 60, axis=0))
    if not level > 0:
        return np.zeros(per_cycle.shape), [_contribution(np.zeros(per_cycle.shape[0]), 0.5) for _ in per_cycle.T]
    shares = per_cycle / level
    scatter = float(np.median(robust_centre(shares)[1]))
    missed = min(limit.MISFIRE_EVENT_SHARE.value, 1.0 - CLEAR_OF_SCATTER * scatter)
    return shares, _neighbours_spared([_contribution(own, missed) for own in shares.T])


def _neighbours_spared(found: list[Contribution]) -> list[Contribution]:
    """A cylinder fired beside a much worse one is not accused of a mild deviation: power strokes overlap."""
    spared = []
    for i, own in enumerate(found):
        beside = (found[i - 1], found[(i + 1) % len(found)])
        worse = len(found) > 2 and min(b.share for b in beside) < own.share - limit.BESIDE_WORSE_BY.value
        mild = own.state is State.LOW and own.share >= limit.BESIDE_WORSE_LOW_SHARE.value
        mild = mild and own.misfire_rate < limit.MISFIRE_RATE_MIN.value
        spared.append(replace(own, state=State.NORMAL) if worse and mild else own)
    return spared


def _contribution(shares: FloatArray, missed_below: float) -> Contribution:
    missed = shares < _parted(shares, missed_below)
    rate = float(np.mean(missed)) if np.count_nonzero(missed) >= MISSED_MIN else 0.0
    middle = float(np.clip(np.mean(np.clip(shares, 0.0, 1.6)), 0.0, 1.6))
    fired = shares[~missed]
    spread = 1.4826 * float(np.median(np.abs(fired - np.median(fired)))) if fired.size > 2 else 0.0
    if float(np.median(shares)) < limit.CONTRIBUTION_ABSENT_SHARE.value and middle < 0.5:
        state = State.ABSENT
    elif rate >= limit.MISFIRE_RATE_MIN.value or middle < limit.CONTRIBUTION_LOW_SHARE.value:
        state = State.LOW
    else:
        state = State.NORMAL
    return Contribution(share=middle, spread=spread, misfire_rate=rate, events=shares.size, state=state)


def _parted(shares: FloatArray, usual: float) -> float:
    """Where misfires end and burnt events begin: between two heaps where there are two, else the usual limit.

    The heaps are parted where they scatter least about their own means [P: Otsu, IEEE Trans. SMC 9 (1979)].
    """
    ranked = np.sort(shares)
    count = ranked.size
    if count < 2 * HEAP_MIN:
        return usual
    below = np.arange(HEAP_MIN, count - HEAP_MIN + 1)
    sums = np.cumsum(ranked)
    low = sums[below - 1] / below
    high = (sums[-1] - sums[below - 1]) / (count - below)
    best = int(np.argmax(below * (count - below) * (high - low) ** 2))
    cut = int(below[best])
    within = float(np.sqrt((np.var(ranked[:cut]) * cut + np.var(ranked[cut:]) * (count - cut)) / count))
    apart = float(high[best] - low[best])
    if apart < HEAPS_APART * within or low[best] > HEAP_LOW_SHARE * high[best] or high[best] < HEAP_HIGH:
        return usual
    return float(0.5 * (ranked[cut - 1] + ranked[cut]))


def _sync(capture: Capture, engine: Engine) -> SyncEvents | None:
    channel = sync_channel(capture)
    if channel is None or channel.cylinder is None:
        return None
    events = find_events(channel, capture.time, engine)
    if events.times_s.size < 3:
        return None
    if events.anchors[0] is Anchor.REVOLUTION:
        return waste_spark_split(events) or events
    return events


def _wheel_reasons(crank: CrankAngle, engine: Engine) -> list[Reason]:
    reasons = []
    wheel = engine.crank_wheel
    if wheel is not None and crank.teeth != wheel.teeth:
        text = f"The wheel shows {crank.teeth} teeth, not the {wheel.teeth} of the engine data; what was seen is used."
        reasons.append(Reason("wheel_differs", text))
    if crank.broken:
        reasons.append(
            Reason("teeth_lost", f"In {crank.broken} revolutions teeth were lost or found; they were bridged.")
        )
    return reasons


def _phased(crank: CrankAngle, engine: Engine, events: SyncEvents | None) -> _Phase | None:
    """The phase that sync and wheel allow, or the one that fits best, with what stays open."""
    wheel = engine.crank_wheel
    first = engine.firing_order[0]
    from_wheel = None
    if crank.gapped and wheel is not None and wheel.tdc1_deg_after_gap is not None and wheel.teeth == crank.teeth:
        from_wheel = wheel.tdc1_deg_after_gap - engine.tdc_deg(1) + engine.tdc_deg(first)
    marked = _marked(crank, engine, events)
    if marked is not None and events is not None and events.anchors[0] is Anchor.COMPRESSION:
        return _by_compression(crank, engine, marked, from_wheel)
    if from_wheel is not None or (marked is not None and events is not None and events.anchors[0] is Anchor.REVOLUTION):
        base = from_wheel if from_wheel is not None else marked
        assert base is not None
        return _by_revolution(crank, engine, base)
    return _by_fit(crank, engine)


def _marked(crank: CrankAngle, engine: Engine, events: SyncEvents | None) -> float | None:
    """Angle of the first cylinder's TDC compression as the sync has it, modulo a cycle."""
    if events is None or events.cylinder is None:
        return None
    inside = events.times_s[(events.times_s > crank.times_s[0]) & (events.times_s < crank.times_s[-1])]
    if inside.size < 2:
        return None
    period = CYCLE_DEG if events.anchors[0] is Anchor.COMPRESSION else REVOLUTION_DEG
    angles = np.interp(inside, crank.times_s, crank.angle_deg) - engine.tdc_deg(events.cylinder)
    turn = np.exp(2j * np.pi * angles / period).mean()
    if abs(turn) < 0.5:  # [M] the events wander over the cycle: no mark of anything
        return None
    return float(np.angle(turn) * period / (2 * np.pi)) + SPARK_ADVANCE_DEG


def _by_compression(crank: CrankAngle, engine: Engine, marked: float, from_wheel: float | None) -> _Phase | None:
    if from_wheel is None:
        work = solve_work(crank, engine, marked)
        return None if work is None else _Phase(work, (0,), "synced", ())
    off = [(marked - from_wheel - turn + 360.0) % CYCLE_DEG - 360.0 for turn in (0.0, REVOLUTION_DEG)]
    nearer = 0 if abs(off[0]) <= abs(off[1]) else 1
    reasons: tuple[Reason, ...] = ()
    base = from_wheel + nearer * REVOLUTION_DEG
    if abs(off[nearer]) > SYNC_OFF_DEG:
        text = (
            "Sync and wheel disagree about TDC; the sync was followed. Check the engine data and the sync's cylinder."
        )
        reasons, base = (Reason("sync_against_wheel", text),), marked
    work = solve_work(crank, engine, base)
    return None if work is None else _Phase(work, (0,), "synced", reasons)


def _by_revolution(crank: CrankAngle, engine: Engine, base: float) -> _Phase | None:
    """Crank only: companions cannot be told apart, unless the intervals differ half a cycle on."""
    text = "A crank signal alone cannot tell a cylinder from its companion, 360 degrees on."
    open_reason = (Reason("revolution_sync", text),)
    first = solve_work(crank, engine, base)
    if first is None:
        return None
    if engine.is_even and engine.cylinders % 2 == 0:  # half a cycle on, the same events bear other names
        return _Phase(first, (0, engine.cylinders // 2), "once per revolution", open_reason)
    other = solve_work(crank, engine, base + REVOLUTION_DEG)
    works = sorted((w for w in (first, other) if w is not None), key=lambda w: w.residual)
    if len(works) == 2 and works[0].residual < CLEARLY_BETTER * works[1].residual:
        return _Phase(works[0], (0,), "told by the firing intervals", ())
    return _Phase(works[0], tuple(range(engine.cylinders)), "once per revolution", open_reason)


def _by_fit(crank: CrankAngle, engine: Engine) -> _Phase | None:
    """No phase at all: where the shapes fit best says how the events lie, not whose they are."""
    reach = CYCLE_DEG if not engine.is_even else CYCLE_DEG / engine.cylinders
    works = [solve_work(crank, engine, float(turn)) for turn in np.arange(0.0, reach, SEARCH_STEP_DEG)]
    found = [w for w in works if w is not None and float(np.median(w.level)) > 0]
    if not found:
        return None
    text = "Without a phase the capture says whether a cylinder is weak, not which."
    best = min(found, key=lambda w: w.residual)
    return _Phase(best, tuple(range(engine.cylinders)), "not assigned", (Reason("unsynced", text),))


def _judged(capture: Capture, engine: Engine, phase: _Phase, reasons: list[Reason]) -> Measured:
    work = phase.work
    usual = float(np.median(work.rpm))
    steady = np.abs(work.rpm - usual) <= STEADY_SHARE * usual
    if np.count_nonzero(steady) < limit.RUNNING_CYCLES_MIN.value:
        text = "The speed changes too much to compare cylinders: hold it steady."
        return _unusable(capture, engine, *reasons, Reason("unsteady", text, blocking=True))
    dropped = int(np.count_nonzero(~steady))
    if dropped:
        reasons = [*reasons, Reason("cycles_dropped", f"{dropped} cycles away from the usual speed were left out.")]
    shares, found = contributions(work.per_cycle[steady])
    origin = Origin(
        resource=capture.name,
        capture_sha256=capture.sha256,
        code_version=__version__,
        parameters=(("residual", round(work.residual, 3)), ("burn_start_deg", work.burn_start_deg)),
    )
    cycles = int(np.count_nonzero(steady))
    errors = np.array([c.spread for c in found]) / np.sqrt(cycles)
    known = 0.5 * work.sigma / max(sound_level(work.level), 1e-12)
    sigmas = np.sqrt(
        limit.CONTRIBUTION_SIGMA.value**2 + errors**2 + np.minimum(known, 1.0) ** 2 + (0.2 * work.residual) ** 2
    )
    values = np.array([c.share for c in found])
    evidence = None
    if engine.cylinders > 1:
        evidence = Evidence(
            line=LINE,
            source=f"capture:{capture.name}",
            alternatives=tuple(np.roll(values, -turn) for turn in phase.rotations),
            sigmas=sigmas if len(phase.rotations) == 1 else np.full(values.size, float(np.max(sigmas))),
        )
    return Measured(
        test=TEST,
        resource=capture.name,
        reasons=tuple(reasons),
        findings=tuple(_findings(engine, found, phase, origin)),
        evidence=evidence,
        strip=_strip(work) if len(phase.rotations) == 1 else None,
        facts={
            "cycles": cycles,
            "speed_rpm": round(usual, 1),
            "source": "crank sensor",
            "assignment": phase.assignment,
            "misfires": round(100 * float(np.mean(shares < limit.MISFIRE_EVENT_SHARE.value)), 1),
        },
        cycle_starts_s=tuple(map(float, work.cycle_times_s)),
    )


def _findings(engine: Engine, found: list[Contribution], phase: _Phase, origin: Origin) -> list[Finding]:
    def finding(cylinder: int | None, own: Contribution, statement: str) -> Finding:
        return Finding(
            test=TEST,
            cylinder=cylinder,
            quantity=TEST,
            value=round(own.share, 4),
            unit="1",
            spread=round(own.spread, 4),
            events=own.events,
            state=own.state,
            statement=statement,
            origin=origin,
        )

    order = engine.firing_order
    if len(phase.rotations) == 1:
        findings = [finding(c, own, _sentence(f"Cylinder {c}", own)) for c, own in zip(order, found, strict=True)]
        rates = [
            replace(finding(c, own, f"Cylinder {c} misfires in {100 * own.misfire_rate:.1f} % of its cycles."),
                    quantity=RATE, value=round(own.misfire_rate, 4), spread=None)
            for c, own in zip(order, found, strict=True)
            if limit.MISFIRE_RATE_MIN.value <= own.misfire_rate < limit.MISFIRE_DEAD_RATE.value
        ]  # fmt: skip
        return [*findings, *rates, *_random(found, finding)]
    worst = min(found, key=lambda own: own.share)
    ill = sum(own.state is not State.NORMAL for own in found)
    if not ill:
        text = f"All {len(found)} cylinders work alike; the least gives {100 * worst.share:.0f} % of its peers."
    elif len(phase.rotations) < len(found):
        at = found.index(worst)
        rivals = " or ".join(str(c) for c in sorted(order[(at + turn) % len(order)] for turn in phase.rotations))
        text = f"{_sentence(f'Cylinder {rivals}', worst)} Which of them, the crank alone cannot say."
    else:
        text = f"{_sentence('One cylinder', worst)} Which one it is, this capture cannot say."
    return [finding(None, worst, text)]


def _random(found: list[Contribution], finding: Callable[[int | None, Contribution, str], Finding]) -> list[Finding]:
    """Misfires spread over most cylinders: mixture, supply or a sensor rather than one cylinder."""
    rates = np.array([own.misfire_rate for own in found])
    many = np.count_nonzero(rates >= limit.MISFIRE_RATE_MIN.value)
    if many < max(3, len(found) // 2 + 1) or rates.max() > limit.MISFIRE_RANDOM_MAX.value:
        return []
    text = f"Misfires wander over {many} cylinders: think of mixture, supply or a sensor before any one cylinder."
    whole = Contribution(
        share=float(1 - rates.mean()), spread=0.0, misfire_rate=float(rates.mean()), events=found[0].events,
        state=State.ABNORMAL,
    )  # fmt: skip
    return [replace(finding(None, whole, text), quantity="random_misfire")]


def _sentence(who: str, own: Contribution) -> str:
    over = f"over {own.events} cycles"
    percent = f"{100 * own.share:.0f} %"
    if own.state is State.ABSENT:
        return f"{who} does no work: {percent} of its peers {over}."
    if own.state is State.LOW and own.misfire_rate >= limit.MISFIRE_RATE_MIN.value:
        return f"{who} misfires in {100 * own.misfire_rate:.0f} % of its cycles, {over}."
    if own.state is State.LOW:
        return f"{who} works at {percent} of its peers {over}, in every cycle."
    return f"{who} works like its peers: {percent} {over}."


def _strip(work: Work) -> CycleStrip:
    """Speed over the cycle, each cylinder's TDC where its column's middle is drawn."""
    steps = work.folded.shape[1]
    cylinders = work.per_cycle.shape[1]
    folded = np.roll(work.folded, steps // (2 * cylinders), axis=1)
    low, middle, high = np.percentile(folded, (25, 50, 75), axis=0)
    return CycleStrip(angle_deg=np.arange(steps) * CYCLE_DEG / steps, middle=middle, low=low, high=high, unit="rpm")


def _unusable(capture: Capture, engine: Engine, *reasons: Reason) -> Measured:
    origin = Origin(resource=capture.name, capture_sha256=capture.sha256, code_version=__version__)
    return refused(TEST, "1", engine.firing_order, tuple(reasons), origin)

"""Which event of the crank belongs to which cylinder while the engine runs: by sync, by wheel, or by what fits best."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import Message
from fairwitness.core.messages.words import NOT_ASSIGNED, ONCE_PER_REVOLUTION, SYNCED
from fairwitness.core.model.angles import gathered, mean_angle, signed
from fairwitness.core.model.capture import Capture
from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, Engine
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.crank.phase_fit import USUAL_ADVANCE_DEG, advance_of
from fairwitness.core.signal.crank.torque_fit import Work, solve_work
from fairwitness.core.signal.crank.wheel import CrankAngle
from fairwitness.core.signal.sync import Anchor, SyncEvents, find_events, sync_channel, waste_spark_split

CRANK_SIGNAL_ALONE = template(
    "crank.running_phase.crank_signal_alone",
    "A crank signal alone cannot tell a cylinder from its companion, 360 degrees on.",
)
WITHOUT_PHASE_CAPTURE = template(
    "crank.running_phase.without_phase_capture",
    "Without a phase the capture says whether a cylinder is weak, not which.",
)
SYNC_WHEEL_DISAGREE = template(
    "crank.running_phase.sync_wheel_disagree",
    "Sync and wheel disagree about TDC; the sync was followed. Check the engine data and the sync's cylinder.",
)
TOLD_FIRING_INTERVALS = template("crank.running_phase.told_firing_intervals", "told by the firing intervals")


SYNC_OFF_DEG = 75.0
"""[M] a compression sync further than this from every TDC the wheel allows contradicts the wheel."""
GATHERED_MIN = 0.5
"""[M] sync events that gather less than this wander over the cycle: no mark of anything."""
SEARCH_STEP_DEG = 10.0
CLEARLY_BETTER = 0.75
"""[M] ratio of costs from which one phase is taken over another."""


@dataclass(frozen=True, slots=True)
class RunningPhase:
    """Work at one phase, and by how many places of the firing order it may still be turned."""

    work: Work
    order_offsets: tuple[int, ...]
    assignment: Message
    reasons: tuple[Reason, ...]


def sync_events(capture: Capture, engine: Engine) -> SyncEvents | None:
    """Events of the sync, sparks of a wasted pair told apart where their size does; None without any."""
    channel = sync_channel(capture)
    if channel is None or channel.cylinder is None:
        return None
    events = find_events(channel, capture.time, engine)
    if events.times_s.size < 3:
        return None
    if events.anchors[0] is Anchor.REVOLUTION:
        return waste_spark_split(events) or events
    return events


def running_phase(crank: CrankAngle, engine: Engine, events: SyncEvents | None) -> RunningPhase | None:
    """The phase that sync and wheel allow, or the one that fits best, with what stays open."""
    wheel = engine.crank_wheel
    first = engine.firing_order[0]
    from_wheel = None
    if crank.gapped and wheel is not None and wheel.tdc1_deg_after_gap is not None and wheel.teeth == crank.teeth:
        from_wheel = wheel.tdc1_deg_after_gap - engine.tdc_deg(1) + engine.tdc_deg(first)
    marked = _marked(crank, engine, events)
    if marked is not None:
        marked += USUAL_ADVANCE_DEG if from_wheel is not None else advance_of(crank, engine, marked)
    if marked is not None and events is not None and events.anchors[0] is Anchor.COMPRESSION:
        return _by_compression(crank, engine, marked, from_wheel)
    if from_wheel is not None or (marked is not None and events is not None and events.anchors[0] is Anchor.REVOLUTION):
        base = from_wheel if from_wheel is not None else marked
        assert base is not None
        return _by_revolution(crank, engine, base)
    return _by_fit(crank, engine)


def _marked(crank: CrankAngle, engine: Engine, events: SyncEvents | None) -> float | None:
    """Angle of the first cylinder's spark as the sync has it, modulo a cycle."""
    if events is None or events.cylinder is None:
        return None
    inside = events.times_s[(events.times_s > crank.times_s[0]) & (events.times_s < crank.times_s[-1])]
    if inside.size < 2:
        return None
    period = CYCLE_DEG if events.anchors[0] is Anchor.COMPRESSION else REVOLUTION_DEG
    angles = np.interp(inside, crank.times_s, crank.angle_deg) - engine.tdc_deg(events.cylinder)
    if gathered(angles, period) < GATHERED_MIN:
        return None
    return mean_angle(angles, period)


def _by_compression(crank: CrankAngle, engine: Engine, marked: float, from_wheel: float | None) -> RunningPhase | None:
    if from_wheel is None:
        work = solve_work(crank, engine, marked)
        return None if work is None else RunningPhase(work, (0,), SYNCED, ())
    off = signed(marked - from_wheel - np.array([0.0, REVOLUTION_DEG])).tolist()
    nearer = 0 if abs(off[0]) <= abs(off[1]) else 1
    reasons: tuple[Reason, ...] = ()
    base = from_wheel + nearer * REVOLUTION_DEG
    if abs(off[nearer]) > SYNC_OFF_DEG:
        text = SYNC_WHEEL_DISAGREE()
        reasons, base = (Reason("sync_against_wheel", text),), marked
    work = solve_work(crank, engine, base)
    return None if work is None else RunningPhase(work, (0,), SYNCED, reasons)


def _by_revolution(crank: CrankAngle, engine: Engine, base: float) -> RunningPhase | None:
    """Crank only: companions cannot be told apart, unless the intervals differ half a cycle on."""
    text = CRANK_SIGNAL_ALONE()
    open_reason = (Reason("revolution_sync", text),)
    first = solve_work(crank, engine, base)
    if first is None:
        return None
    if engine.is_even and engine.cylinders % 2 == 0:  # half a cycle on, the same events bear other names
        return RunningPhase(first, (0, engine.cylinders // 2), ONCE_PER_REVOLUTION, open_reason)
    other = solve_work(crank, engine, base + REVOLUTION_DEG)
    works = sorted((w for w in (first, other) if w is not None), key=lambda w: w.cost)
    if len(works) == 2 and works[0].cost < CLEARLY_BETTER * works[1].cost:
        return RunningPhase(works[0], (0,), TOLD_FIRING_INTERVALS(), ())
    return RunningPhase(works[0], tuple(range(engine.cylinders)), ONCE_PER_REVOLUTION, open_reason)


def _by_fit(crank: CrankAngle, engine: Engine) -> RunningPhase | None:
    """No phase at all: where the shapes fit best says how the events lie, not whose they are."""
    reach = CYCLE_DEG if not engine.is_even else CYCLE_DEG / engine.cylinders
    works = [solve_work(crank, engine, float(turn)) for turn in np.arange(0.0, reach, SEARCH_STEP_DEG)]
    found = [w for w in works if w is not None and float(np.median(w.level)) > 0]
    if not found:
        return None
    text = WITHOUT_PHASE_CAPTURE()
    best = min(found, key=lambda w: w.residual)
    return RunningPhase(best, tuple(range(engine.cylinders)), NOT_ASSIGNED, (Reason("unsynced", text),))

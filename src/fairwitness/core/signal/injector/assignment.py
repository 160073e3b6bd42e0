"""Whose pulse is it: injections given to their cylinders by a sync, or by the clamp they came through."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.messages.catalogue import template
from fairwitness.core.model.angles import from_nearest, mean_angle, signed
from fairwitness.core.model.capture import Capture, Channel, Role
from fairwitness.core.model.engine import CYCLE_DEG, Engine, InjectorDrive
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.injector.current import Pulses, find_pulses
from fairwitness.core.signal.injector.overlap import unmix
from fairwitness.core.signal.injector.sharing import AT_SYNC, fired_together, of_injectors
from fairwitness.core.signal.injector.trend import Train, gather
from fairwitness.core.signal.injector.voltage import find_openings
from fairwitness.core.signal.sync import Anchor, find_events, sync_channel

INJECTOR_DRAWS_CURRENT = template(
    "injector.assignment.injector_draws_current",
    "No injector draws current: is the clamp zeroed, and does the engine run?",
)
SHARED_COIL_MARKS = template(
    "injector.assignment.shared_coil_marks",
    "A shared coil marks every revolution: sync on an injector, so that companions are told apart.",
)
PULSES_SEVERAL_INJECTORS = template(
    "injector.assignment.pulses_several_injectors",
    "The pulses of several injectors overlap: measure at idle, or one injector's own lead at a time.",
)
INJECTOR_CURRENT_CYLINDER = template(
    "injector.assignment.injector_current_cylinder", "No injector current of a cylinder of this engine was recorded."
)
CLAMP_SHARED_FEED = template(
    "injector.assignment.clamp_shared_feed", "A clamp on a shared feed needs a sync on one known cylinder."
)
SYNC_CARRIES_EVENTS = template(
    "injector.assignment.sync_carries_events", "The sync carries no events: is it on a working injector?"
)
SYNC_CARRIES_EVENTS_WORKING = template(
    "injector.assignment.sync_carries_events_working", "The sync carries no events: is it on a working cylinder?"
)
FIRED_TOGETHER = template(
    "injector.assignment.fired_together",
    "{together} injectors fire at once on this feed: their sum tells nobody apart. Clamp each injector's own lead.",
)
PULSES_OVERLAP_THEIR = template(
    "injector.assignment.pulses_overlap_their",
    "The pulses overlap and their sum cannot be taken apart: measure at idle, or one lead at a time.",
)


FloatArray = NDArray[np.float64]

REACH = 0.45
"""Of the usual firing interval: how far from its place a pulse may begin and still be that injector's."""
GROUP_SHARE = 0.3
"""Pulses that follow within this share of the longest gap belong to one injection."""
GONE_S = 0.6e-3
"""After switch-off a current is still there for so long."""
MARKS_MIN = 3
WELL_FITTED = 0.2
PRESENT_SHARE = 0.3
IDLES_BELOW_RPM = 1400.0
"""[M] no engine idles faster, warm or cold."""
NO_CURRENT = INJECTOR_DRAWS_CURRENT()


@dataclass(frozen=True, kw_only=True, eq=False)
class Assigned:
    """Injections by cylinder, which clamp each came through, and by how many places all may be off.

    Parameters
    ----------
    trains : dict of cylinder to Train
    shapes : dict of cylinder to (n,) float, A
        Average course from the begin; empty where pulses overlap.
    clamp : dict of cylinder to int
    order_offsets : tuple of int
        One entry where the assignment is certain.
    cycles : int
        How many cycles were watched.
    cycle_s : float
    starts_s : tuple of float
    pulses : tuple of Pulses
        Of each clamp.
    overlapping : bool
    others_on_feed : bool
        Pulses of something else were left out.
    """

    trains: dict[int, Train]
    shapes: dict[int, FloatArray]
    clamp: dict[int, int]
    order_offsets: tuple[int, ...]
    cycles: int
    cycle_s: float
    starts_s: tuple[float, ...]
    pulses: tuple[Pulses, ...]
    overlapping: bool = False
    others_on_feed: bool = False


def assign(capture: Capture, engine: Engine) -> Assigned | Reason:
    """Find the injections of a capture and give each to its cylinder.

    Parameters
    ----------
    capture : Capture
        Evenly sampled.
    engine : Engine

    Returns
    -------
    Assigned or Reason
        Why it cannot be done.
    """
    clamps = capture.with_role(Role.INJECTOR_CURRENT)
    shared = [c for c in clamps if c.cylinder is None]
    own = [c for c in clamps if c.cylinder in engine.firing_order]
    if shared:
        return _on_feeds(capture, engine, shared)
    if not own:
        return Reason("no_clamp", INJECTOR_CURRENT_CYLINDER(), blocking=True)
    return _on_leads(capture, engine, own)


def _pulses(channel: Channel, capture: Capture, engine: Engine) -> Pulses:
    factor = channel.si_factor
    samples = channel.samples if factor == 1.0 else channel.samples * np.float32(factor)
    return find_pulses(samples, capture.time.rate_hz, drive=engine.injector_drive or InjectorDrive.SATURATED)


def _on_leads(capture: Capture, engine: Engine, own: Sequence[Channel]) -> Assigned | Reason:
    found = {c.cylinder: _pulses(c, capture, engine) for c in own if c.cylinder is not None}
    marks = max((_injections(p.begin_s) for p in found.values()), key=lambda begins: begins.size)
    if marks.size < 2:
        return Reason("no_current", NO_CURRENT, blocking=True)
    cycle_s = float(np.median(np.diff(marks)))
    trains = {}
    for cylinder, pulses in found.items():
        place = _place(pulses.begin_s, marks, cycle_s)
        lead = _circular_middle(place % 1.0)
        number = np.round(place - lead).astype(np.intp) if np.isfinite(lead) else np.empty(0, dtype=np.intp)
        trains[cylinder] = _train(pulses, np.ones(pulses.count, dtype=np.bool_), number)
    return Assigned(
        trains=trains,
        shapes={c: p.mean_shape(np.ones(p.count, dtype=np.bool_)) for c, p in found.items()},
        clamp=dict.fromkeys(found, 0),
        order_offsets=(0,),
        cycles=int(marks.size),
        cycle_s=cycle_s,
        starts_s=tuple(float(capture.time.start_s + t) for t in marks),
        pulses=tuple(found.values()),
    )


def _on_feeds(capture: Capture, engine: Engine, clamps: Sequence[Channel]) -> Assigned | Reason:
    sync = sync_channel(capture)
    if sync is None or sync.cylinder not in engine.firing_order:
        return Reason("unsynced", CLAMP_SHARED_FEED(), blocking=True)
    assert sync.cylinder is not None
    marks = _marks(sync, capture, engine)
    if isinstance(marks, Reason):
        return marks
    cycle_s = float(np.median(np.diff(marks.off_s)))
    turn = (engine.event_angles_deg - engine.event_angles_deg[engine.position(sync.cylinder)]) % CYCLE_DEG
    found = [_pulses(c, capture, engine) for c in clamps]
    fed = [[c for c in engine.firing_order if c in (channel.feeds or engine.firing_order)] for channel in clamps]
    gaps = [cycle_s * _closest(turn[[engine.position(c) for c in own]]) / CYCLE_DEG for own in fed]
    if marks.on_s is not None and marks.on_s > min(gaps) - GONE_S:
        return _unmixed(capture, engine, found, fed, marks, turn)
    whole = found
    found = [_of_injectors(p, len(own), marks, cycle_s) for p, own in zip(found, fed, strict=True)]
    places = [_place(p.begin_s + 1e-3 * p.on_ms, marks.off_s, cycle_s) for p in found]
    together = np.concatenate(places) % 1.0 * CYCLE_DEG
    if not together.size:
        return Reason("no_current", NO_CURRENT, blocking=True)
    lead = _lead(together, turn)
    trains, shapes, clamp = {}, {}, {}
    for k, (pulses, place, own) in enumerate(zip(found, places, fed, strict=True)):
        for cylinder in own:
            due = (lead + turn[engine.position(cylinder)]) / CYCLE_DEG
            number = np.round(place - due).astype(np.intp)
            mine = np.abs(place - due - number) * CYCLE_DEG < REACH * CYCLE_DEG / engine.cylinders
            trains[cylinder] = _train(pulses, mine, number[mine])
            shapes[cylinder] = pulses.mean_shape(mine)
            clamp[cylinder] = k
    cycles = int(marks.off_s.size) - 1
    too_fast = capture.set_up.load == "idle" and 120.0 / cycle_s > IDLES_BELOW_RPM
    if (at_once := _together(trains, cycles, sync.cylinder, engine, too_fast=too_fast)) > 1:
        return Reason("fired_together", FIRED_TOGETHER(together=at_once), blocking=True)
    return Assigned(
        trains=trains,
        shapes=shapes,
        clamp=clamp,
        others_on_feed=any(p.count < before.count for p, before in zip(found, whole, strict=True)),
        order_offsets=marks.order_offsets,
        cycles=cycles,
        cycle_s=cycle_s,
        starts_s=tuple(float(capture.time.start_s + t) for t in marks.off_s),
        pulses=tuple(found),
    )


def _of_injectors(pulses: Pulses, injectors: int, marks: _Marks, cycle_s: float) -> Pulses:
    """The pulses of a feed without those of coils or other loads on it."""
    at_sync = None
    if marks.on_s is not None:
        ends = _place(pulses.begin_s + 1e-3 * pulses.on_ms, marks.off_s, cycle_s)
        at_sync = np.abs(ends - np.round(ends)) < AT_SYNC
    begins = int(_injections(pulses.begin_s).size)
    return pulses.chosen(of_injectors(pulses.peak_a, begins, int(marks.off_s.size) - 1, injectors, at_sync))


def _together(trains: Mapping[int, Train], cycles: int, first: int, engine: Engine, *, too_fast: bool) -> int:
    """How many injectors fire at once; 1 where not all of them hang on what was clamped.

    An idle that seems twice as fast as engines idle is a sync that comes twice a cycle, whatever the injectors draw.
    """
    start = engine.position(first)
    order = [*engine.firing_order[start:], *engine.firing_order[:start]]
    if set(trains) != set(order) or cycles < MARKS_MIN - 1:
        return 1
    present = [trains[c].count > PRESENT_SHARE * cycles for c in order]
    if too_fast and present == [i % 2 == 0 for i in range(len(present))]:
        return 2
    if engine.injector_drive is not InjectorDrive.SATURATED:
        return 1
    levels = [float(np.median(trains[c].level_a)) for c, here in zip(order, present, strict=True) if here]
    return fired_together(present, max(levels), engine.injector_ohms) if levels else 1


@dataclass(frozen=True, kw_only=True, eq=False)
class _Marks:
    """Moments the sync cylinder's injector is switched off, or the marks of its coil.

    Parameters
    ----------
    off_s : (n,) float, s
    on_s : float or None, s
        On-time; None where the sync is no injector.
    order_offsets : tuple of int
        More than one where the mark does not say where in the cycle its own cylinder is injected.
    """

    off_s: FloatArray
    on_s: float | None
    order_offsets: tuple[int, ...]


def _marks(sync: Channel, capture: Capture, engine: Engine) -> _Marks | Reason:
    if sync.role is Role.INJECTOR_VOLTAGE:
        openings = find_openings(sync.samples, capture.time.rate_hz)
        if openings.count >= MARKS_MIN:
            gathered = _injections(openings.off_s)
            return _Marks(off_s=gathered, on_s=1e-3 * float(np.median(openings.on_ms)), order_offsets=(0,))
    if sync.role is Role.INJECTOR_CURRENT:
        pulses = _pulses(sync, capture, engine)
        if pulses.count >= MARKS_MIN:
            ends = _injections(pulses.begin_s + 1e-3 * pulses.on_ms)
            return _Marks(off_s=ends, on_s=1e-3 * float(np.median(pulses.on_ms)), order_offsets=(0,))
    if sync.role in (Role.INJECTOR_VOLTAGE, Role.INJECTOR_CURRENT):
        return Reason("sync_silent", SYNC_CARRIES_EVENTS(), blocking=True)
    events = find_events(sync, capture.time, engine)
    if events.times_s.size < MARKS_MIN:
        return Reason("sync_silent", SYNC_CARRIES_EVENTS_WORKING(), blocking=True)
    if events.anchors[0] is Anchor.REVOLUTION:
        text = SHARED_COIL_MARKS()
        return Reason("revolution_sync", text, blocking=True)
    return _Marks(off_s=events.times_s - capture.time.start_s, on_s=None, order_offsets=tuple(range(engine.cylinders)))


def _unmixed(
    capture: Capture,
    engine: Engine,
    found: Sequence[Pulses],
    fed: Sequence[Sequence[int]],
    marks: _Marks,
    turn: FloatArray,
) -> Assigned | Reason:
    """Where pulses run into each other heights come from a fit of their sum."""
    assert marks.on_s is not None
    if engine.injector_drive is not InjectorDrive.SATURATED:
        text = PULSES_SEVERAL_INJECTORS()
        return Reason("overlapping", text, blocking=True)
    cycle_s = float(np.median(np.diff(marks.off_s)))
    trains, clamp = {}, {}
    for k, (pulses, own) in enumerate(zip(found, fed, strict=True)):
        due = turn[[engine.position(c) for c in own]] / CYCLE_DEG
        reported = unmix(pulses.trace, _times(due, marks.off_s, cycle_s), on_s=marks.on_s)
        if reported.residual > WELL_FITTED:
            text = PULSES_OVERLAP_THEIR()
            return Reason("overlapping", text, blocking=True)
        present = reported.plateau_a > PRESENT_SHARE * float(np.median(reported.plateau_a))
        for j, cylinder in enumerate(own):
            here = present[:, j]
            level = reported.plateau_a[here, j]
            trains[cylinder] = gather(
                np.flatnonzero(here),
                {
                    "begin_s": reported.begin_s[here, j],
                    "level_a": level,
                    "hold_a": level,
                    "on_ms": np.full(level.size, reported.on_ms),
                    "charge_mc": level * reported.on_ms,
                },
            )
            clamp[cylinder] = k
    return Assigned(
        trains=trains,
        shapes={c: np.empty(0) for c in trains},
        clamp=clamp,
        order_offsets=marks.order_offsets,
        cycles=int(marks.off_s.size) - 1,
        cycle_s=cycle_s,
        starts_s=tuple(float(capture.time.start_s + t) for t in marks.off_s),
        pulses=tuple(found),
        overlapping=True,
    )


def _times(due: FloatArray, marks: FloatArray, cycle_s: float) -> FloatArray:
    """Moments of places in the cycle, for every whole cycle; (cycles, places) s."""
    places = np.arange(marks.size - 1)[:, None] + due[None, :]
    times = np.interp(places, np.arange(marks.size), marks)
    times = np.where(places > marks.size - 1, marks[-1] + (places - (marks.size - 1)) * cycle_s, times)
    return np.asarray(np.where(places < 0, marks[0] + places * cycle_s, times))


def _train(pulses: Pulses, mine: NDArray[np.bool_], number: NDArray[np.intp]) -> Train:
    return gather(
        number,
        {
            "begin_s": pulses.begin_s[mine],
            "level_a": pulses.peak_a[mine],
            "hold_a": pulses.hold_a[mine],
            "on_ms": pulses.on_ms[mine],
            "charge_mc": pulses.charge_mc[mine],
        },
    )


def _injections(begins: FloatArray) -> FloatArray:
    """Begins of the first pulse of each injection: later ones of the same group follow far sooner than a cycle."""
    if begins.size < 3:
        return begins
    gaps = np.diff(begins)
    usual = float(np.median(gaps[gaps >= GROUP_SHARE * np.percentile(gaps, 95)]))
    return np.asarray(begins[np.concatenate(([True], gaps > GROUP_SHARE * usual))])


def _place(times: FloatArray, marks: FloatArray, cycle_s: float) -> FloatArray:
    """Where in the count of marks each moment lies; before the first and after the last at the usual speed."""
    place = np.interp(times, marks, np.arange(marks.size))
    before, after = times < marks[0], times > marks[-1]
    place[before] = (times[before] - marks[0]) / cycle_s
    place[after] = marks.size - 1 + (times[after] - marks[-1]) / cycle_s
    return place


def _closest(turn: FloatArray) -> float:
    """Smallest angle from one injector of a feed to the next, degrees."""
    if turn.size < 2:
        return CYCLE_DEG
    ranked = np.sort(turn)
    return float(np.diff(np.concatenate((ranked, [ranked[0] + CYCLE_DEG]))).min())


def _lead(phases: FloatArray, turn: FloatArray) -> float:
    """Angle from the sync's mark to the end of its own pulse: none by an injector's switch-off, any by a coil."""
    return float(np.median(from_nearest(phases, turn)))


def _circular_middle(shares: FloatArray) -> float:
    """Usual place on a circle of circumference 1."""
    if not shares.size:
        return float("nan")
    centre = mean_angle(shares, period=1.0)
    return centre + float(np.median(signed(shares - centre, period=1.0)))

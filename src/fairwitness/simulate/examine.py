"""A technician's visit: every wanted test done on the simulated vehicle, as a case."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from fairwitness.core.errors import SimulationError
from fairwitness.core.model.capture import Capture, CaptureTest, Role, SetUp, TimeBase
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import CAM_EDGES, CYCLE_DEG, REVOLUTION_DEG, Engine
from fairwitness.core.procedures.set_up_card import Clip, SetUpCard, sync_clip
from fairwitness.core.procedures.specs import CARDS, SPECS
from fairwitness.simulate.clips import NEEDS_CYLINDER, at_the_number, channel_of, front_end, signal
from fairwitness.simulate.gauges import GAUGES, observe
from fairwitness.simulate.running import run_engine
from fairwitness.simulate.sensors import CAM_WINDOWS_DEG
from fairwitness.simulate.trajectory import Trajectory, crank_over
from fairwitness.simulate.vehicle import Vehicle

CAM_TIMING = "cam_timing"
TESTS: tuple[str, ...] = (*(test.value for test in CARDS), *GAUGES, CAM_TIMING)


@dataclass(frozen=True, slots=True, kw_only=True)
class Recorder:
    """How a capture is recorded, and under which name and conditions it is kept; ``level`` is its noise."""

    rate_hz: float
    level: str
    name: str
    set_up: SetUp


def sample(trajectory: Trajectory, clips: Sequence[Clip], recorder: Recorder, *, rng: Generator) -> Capture:
    """Record a course through clips.

    Parameters
    ----------
    trajectory : Trajectory
    clips : sequence of Clip
    recorder : Recorder
        Its level is clean, workshop or hostile.
    rng : numpy Generator

    Returns
    -------
    Capture
    """
    habit, leads, level = trajectory.vehicle.habit, trajectory.vehicle.leads, recorder.level
    rate_hz = recorder.rate_hz * habit.rate_share
    count = int(_recorded_s(trajectory, habit.cycles) * rate_hz)
    times = np.arange(count) / rate_hz
    channels = []
    for clip in clips:
        end = front_end(clip.role, level, rng, bits=habit.bits)
        seen = at_the_number(leads, clip.role, signal(trajectory, clip, times, rng), rate_hz)
        channels.append(channel_of(clip, end.digitised(seen, rng)))
    time = TimeBase(samples=count, rate_hz=rate_hz)
    return Capture(name=recorder.name, time=time, channels=tuple(channels), set_up=recorder.set_up)


def _recorded_s(trajectory: Trajectory, cycles: float) -> float:
    """How long somebody records who stops after so many cycles; to the end where nobody does."""
    if not cycles:
        return trajectory.seconds
    turned = trajectory.run.angle_deg - trajectory.run.angle_deg[0]
    reached = np.flatnonzero(turned >= cycles * CYCLE_DEG)
    return float(trajectory.run.time_s[reached[0]]) if reached.size else trajectory.seconds


def captures_of(
    vehicle: Vehicle,
    test: CaptureTest,
    *,
    level: str = "workshop",
    hot: bool = True,
    rng: Generator,
    suspects: tuple[int, ...] = (),
) -> tuple[Capture, ...]:
    """Take the captures of a test: one, or one for each lead where the operator has a single lead.

    Parameters
    ----------
    vehicle : Vehicle
    test : CaptureTest
    level : str
    hot : bool
    rng : numpy Generator
    suspects : tuple of int
        Cylinders that a mark must not rely on.

    Returns
    -------
    tuple of Capture
    """
    card = CARDS[test]
    clips = _as_is_the_habit(vehicle, card.clips(vehicle.engine, suspects, vehicle.injector_feeds))
    own = [c for c in clips if c.role in NEEDS_CYLINDER and not c.sync]
    if not vehicle.habit.singly or len(own) < 2:
        return (capture_of(vehicle, test, level=level, hot=hot, rng=rng, suspects=suspects),)
    others = tuple(c for c in clips if c not in own)
    mark = () if any(c.sync for c in others) else (sync_clip(vehicle.engine, suspects),)
    taken = []
    for clip in own:
        beside = tuple(c for c in mark if (c.role, c.cylinder) != (clip.role, clip.cylinder))
        alone = replace(clip, sync=True) if mark and not beside else clip
        trajectory = _turned(vehicle, card, hot=hot, rng=rng)
        name = f"{test.value}-{clip.cylinder}"
        recorder = Recorder(rate_hz=card.rate_hz, level=level, name=name, set_up=card.recorded(hot=hot))
        taken.append(sample(trajectory, (alone, *others, *beside), recorder, rng=rng))
    return tuple(taken)


def _as_is_the_habit(vehicle: Vehicle, clips: tuple[Clip, ...]) -> tuple[Clip, ...]:
    """Leads where this operator puts them: the mark goes on the cylinder that is near."""
    if not vehicle.habit.sync_cylinder:
        return clips
    return tuple(replace(c, cylinder=vehicle.habit.sync_cylinder) if c.sync else c for c in clips)


def _turned(vehicle: Vehicle, card: SetUpCard, *, hot: bool, rng: Generator) -> Trajectory:
    if card.cranking:
        return crank_over(vehicle, seconds=card.seconds, hot=hot, rng=rng)
    return run_engine(vehicle, seconds=card.seconds, load=card.load, hot=hot, rng=rng)


def capture_of(
    vehicle: Vehicle,
    test: CaptureTest,
    *,
    level: str = "workshop",
    hot: bool = True,
    rng: Generator,
    suspects: tuple[int, ...] = (),
) -> Capture:
    """Take one capture as it is usually taken.

    Parameters
    ----------
    vehicle : Vehicle
    test : CaptureTest
    level : str
    hot : bool
    rng : numpy Generator
    suspects : tuple of int
        Cylinders that a mark must not rely on.

    Returns
    -------
    Capture
    """
    card = CARDS[test]
    trajectory = _turned(vehicle, card, hot=hot, rng=rng)
    return sample(
        trajectory,
        _as_is_the_habit(vehicle, card.clips(vehicle.engine, suspects, vehicle.injector_feeds)),
        Recorder(rate_hz=card.rate_hz, level=level, name=test.value, set_up=card.recorded(hot=hot)),
        rng=rng,
    )


def cam_capture(vehicle: Vehicle, *, level: str, rng: Generator, hot: bool = True) -> Capture:
    """Crank and cam sensor together at idle.

    Parameters
    ----------
    vehicle : Vehicle
    level : str
    rng : numpy Generator
    hot : bool

    Returns
    -------
    Capture
    """
    card = CARDS[CaptureTest.CRANK_SPEED]
    trajectory = run_engine(vehicle, seconds=card.seconds, hot=hot, rng=rng)
    clips = (Clip(role=Role.CRANK_SENSOR), Clip(role=Role.CAM_SENSOR))
    return sample(
        trajectory,
        clips,
        Recorder(rate_hz=card.rate_hz, level=level, name=CAM_TIMING, set_up=card.recorded(hot=hot)),
        rng=rng,
    )


def with_known_good(vehicle: Vehicle) -> Engine:
    """The engine as entered, with what a shop holds of a sound one: how far behind the gap its cam's edges stand.

    Parameters
    ----------
    vehicle : Vehicle

    Returns
    -------
    Engine
        Without edges where its wheel has no gap to count from.
    """
    entered, wheel = vehicle.engine_as_entered, vehicle.engine.crank_wheel
    if wheel is None or not wheel.missing or wheel.tdc1_deg_after_gap is None:
        return entered
    first = wheel.tdc1_deg_after_gap - vehicle.engine.tdc_deg(1)
    edges = sorted((begin + first) % REVOLUTION_DEG for begin, _ in CAM_WINDOWS_DEG)
    return replace(entered, extra={**entered.extra, CAM_EDGES: edges})


def examine(
    vehicle: Vehicle,
    tests: Sequence[str],
    *,
    level: str = "workshop",
    hot: bool = True,
    seed: int = 0,
    suspects: tuple[int, ...] = (),
) -> Case:
    """Do tests on a vehicle and write the case.

    Parameters
    ----------
    vehicle : Vehicle
    tests : sequence of str
        Of ``TESTS``. A test that cannot be done on this vehicle is left out.
    level : str
        clean, workshop or hostile.
    hot : bool
    seed : int
    suspects : tuple of int
        What the technician already suspects; those with a fault if left out.

    Returns
    -------
    Case
        Without a word about the faults.

    Raises
    ------
    SimulationError
        No such test or level.
    """
    unknown = [test for test in tests if test not in TESTS]
    if unknown:
        raise SimulationError(
            f"There is no test {unknown[0]!r}.", where="tests", remedy=f"Use some of {', '.join(TESTS)}."
        )
    rng = np.random.default_rng((20_26, 11, seed))
    suspects = suspects or tuple(dict.fromkeys(c for fault in vehicle.faults for c in fault.cylinders))
    captures, observations = [], []
    for test in tests:
        if test != CAM_TIMING and test in SPECS and test not in GAUGES and not SPECS[test].possible(vehicle.engine):
            continue
        if test == CAM_TIMING:
            captures.append(cam_capture(vehicle, level=level, rng=rng, hot=hot))
        elif test in GAUGES:
            observations += observe(vehicle, test, hot=hot, rng=rng, suspects=suspects)
        else:
            captures += captures_of(vehicle, CaptureTest(test), level=level, hot=hot, rng=rng, suspects=suspects)
    return Case(
        name="simulated",
        title=f"Simulated {vehicle.label}",
        engine=with_known_good(vehicle) if CAM_TIMING in tests else vehicle.engine_as_entered,
        captures=tuple(captures),
        observations=tuple(observations),
    )

"""A technician's visit: every wanted test done on the simulated vehicle, as a case."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from fairwitness.core.errors import SimulationError
from fairwitness.core.model.capture import Capture, CaptureTest, Role, SetUp, TimeBase
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import CAM_EDGES, REVOLUTION_DEG, Engine
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.core.procedures.specs import CARDS, SPECS
from fairwitness.simulate.clips import channel_of, front_end, signal
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
    level = recorder.level
    count = int(trajectory.seconds * recorder.rate_hz)
    times = np.arange(count) / recorder.rate_hz
    channels = tuple(
        channel_of(clip, front_end(clip.role, level, rng).digitised(signal(trajectory, clip, times, rng), rng))
        for clip in clips
    )
    time = TimeBase(samples=count, rate_hz=recorder.rate_hz)
    return Capture(name=recorder.name, time=time, channels=channels, set_up=recorder.set_up)


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
    if card.cranking:
        trajectory = crank_over(vehicle, seconds=card.seconds, hot=hot, rng=rng)
    else:
        trajectory = run_engine(vehicle, seconds=card.seconds, load=card.load, hot=hot, rng=rng)
    return sample(
        trajectory,
        card.clips(vehicle.engine, suspects, vehicle.injector_feeds),
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


def with_known_good(engine: Engine) -> Engine:
    """An engine with what a shop holds of a sound one: where its cam's edges stand on the crank.

    Parameters
    ----------
    engine : Engine

    Returns
    -------
    Engine
        As it was where its wheel has no gap to count from.
    """
    wheel = engine.crank_wheel
    if wheel is None or not wheel.missing or wheel.tdc1_deg_after_gap is None:
        return engine
    first = wheel.tdc1_deg_after_gap - engine.tdc_deg(1)
    edges = sorted((begin + first) % REVOLUTION_DEG for begin, _ in CAM_WINDOWS_DEG)
    return replace(engine, extra={**engine.extra, CAM_EDGES: edges})


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
            captures.append(capture_of(vehicle, CaptureTest(test), level=level, hot=hot, rng=rng, suspects=suspects))
    return Case(
        name="simulated",
        title=f"Simulated {vehicle.label}",
        engine=with_known_good(vehicle.engine) if CAM_TIMING in tests else vehicle.engine,
        captures=tuple(captures),
        observations=tuple(observations),
    )

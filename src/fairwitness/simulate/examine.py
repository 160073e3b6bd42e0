"""A technician's visit: every wanted test done on the simulated vehicle, as a case."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.random import Generator

from fairwitness.core.capture import Capture, CaptureTest, EngineState, Role, SetUp, TimeBase
from fairwitness.core.case import Case
from fairwitness.core.engine import Ignition
from fairwitness.core.errors import SimulationError
from fairwitness.simulate.clips import Clip, channel_of, front_end, signal
from fairwitness.simulate.course import Course, crank_over
from fairwitness.simulate.gauges import GAUGES, observe
from fairwitness.simulate.running import run_engine
from fairwitness.simulate.vehicle import Vehicle

SHORT_CYLINDERS_MAX = 6
"""Beyond this many leads one channel per cylinder is too much for a bay: the common feed is clamped."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Recipe:
    """How a capture is taken."""

    test: CaptureTest
    cranking: bool
    seconds: float
    rate_hz: float
    clips: Callable[[Vehicle, tuple[int, ...]], tuple[Clip, ...]]
    load: str = "idle"
    ignition_disabled: bool = False


def sync_clip(vehicle: Vehicle, avoid: tuple[int, ...] = ()) -> Clip:
    """A phase mark of cylinder 1, or of the next one that is not under suspicion."""
    order = sorted(vehicle.engine.firing_order)
    cylinder = next((c for c in order if c not in avoid), order[0])
    if vehicle.sparkless:
        return Clip(role=Role.INJECTOR_VOLTAGE, cylinder=cylinder, sync=True, name="sync")
    if vehicle.engine.ignition is Ignition.DISTRIBUTOR:
        return Clip(role=Role.SECONDARY_VOLTAGE, cylinder=cylinder, sync=True, name="sync")
    return Clip(role=Role.COIL_CONTROL, cylinder=cylinder, sync=True, name="sync")


def _with_sync(*roles: Role) -> Callable[[Vehicle, tuple[int, ...]], tuple[Clip, ...]]:
    def clips(vehicle: Vehicle, suspects: tuple[int, ...]) -> tuple[Clip, ...]:
        return (*(Clip(role=role) for role in roles), sync_clip(vehicle, suspects))

    return clips


def _each(role: Role) -> Callable[[Vehicle, tuple[int, ...]], tuple[Clip, ...]]:
    def clips(vehicle: Vehicle, _suspects: tuple[int, ...]) -> tuple[Clip, ...]:
        return tuple(Clip(role=role, cylinder=c) for c in sorted(vehicle.engine.firing_order))

    return clips


def _coils(vehicle: Vehicle, suspects: tuple[int, ...]) -> tuple[Clip, ...]:
    if vehicle.engine.cylinders <= SHORT_CYLINDERS_MAX and vehicle.engine.ignition is Ignition.COIL_ON_PLUG:
        return _each(Role.COIL_CURRENT)(vehicle, suspects)
    return _with_sync(Role.COIL_CURRENT)(vehicle, suspects)


def _injectors(vehicle: Vehicle, suspects: tuple[int, ...]) -> tuple[Clip, ...]:
    feeds = vehicle.injector_feeds
    named = tuple(Clip(role=Role.INJECTOR_CURRENT, feeds=f if len(feeds) > 1 else ()) for f in feeds)
    labelled = tuple(Clip(role=c.role, feeds=c.feeds, name=f"injector feed {i}") for i, c in enumerate(named, start=1))
    order = sorted(vehicle.engine.firing_order)
    sound = next((c for c in order if c not in suspects), order[0])
    return (*labelled, Clip(role=Role.INJECTOR_VOLTAGE, cylinder=sound, sync=True, name="sync"))


def _suspects_and_peer(role: Role) -> Callable[[Vehicle, tuple[int, ...]], tuple[Clip, ...]]:
    def clips(vehicle: Vehicle, suspects: tuple[int, ...]) -> tuple[Clip, ...]:
        order = sorted(vehicle.engine.firing_order)
        peer = next((c for c in order if c not in suspects), order[0])
        wanted = tuple(dict.fromkeys((*suspects[:2], peer)))
        return tuple(Clip(role=role, cylinder=c) for c in wanted)

    return clips


def _pressures(vehicle: Vehicle, suspects: tuple[int, ...]) -> tuple[Clip, ...]:
    return (*_suspects_and_peer(Role.CYLINDER_PRESSURE)(vehicle, suspects), sync_clip(vehicle, suspects))


RECIPES: Mapping[CaptureTest, Recipe] = {
    r.test: r
    for r in (
        Recipe(
            test=CaptureTest.RELATIVE_COMPRESSION,
            cranking=True,
            seconds=7.0,
            rate_hz=5_000.0,
            clips=_with_sync(Role.STARTER_CURRENT, Role.BATTERY_VOLTAGE),
        ),
        Recipe(
            test=CaptureTest.CRANK_SPEED,
            cranking=False,
            seconds=6.0,
            rate_hz=50_000.0,
            clips=_with_sync(Role.CRANK_SENSOR),
        ),
        Recipe(
            test=CaptureTest.SECONDARY_VOLTAGE,
            cranking=False,
            seconds=2.0,
            rate_hz=200_000.0,
            clips=_each(Role.SECONDARY_VOLTAGE),
        ),
        Recipe(test=CaptureTest.COIL_CURRENT, cranking=False, seconds=3.0, rate_hz=50_000.0, clips=_coils),
        Recipe(
            test=CaptureTest.COIL_CONTROL,
            cranking=False,
            seconds=2.0,
            rate_hz=50_000.0,
            clips=_each(Role.COIL_CONTROL),
        ),
        Recipe(test=CaptureTest.INJECTOR_CURRENT, cranking=False, seconds=3.0, rate_hz=50_000.0, clips=_injectors),
        Recipe(
            test=CaptureTest.INJECTOR_VOLTAGE,
            cranking=False,
            seconds=2.0,
            rate_hz=50_000.0,
            clips=_each(Role.INJECTOR_VOLTAGE),
        ),
        Recipe(
            test=CaptureTest.CYLINDER_PRESSURE,
            cranking=True,
            seconds=5.0,
            rate_hz=10_000.0,
            clips=_pressures,
            ignition_disabled=True,
        ),
        Recipe(
            test=CaptureTest.EXHAUST_PULSE,
            cranking=False,
            seconds=6.0,
            rate_hz=5_000.0,
            clips=_with_sync(Role.EXHAUST_PRESSURE),
        ),
        Recipe(
            test=CaptureTest.INTAKE_PULSE,
            cranking=True,
            seconds=6.0,
            rate_hz=5_000.0,
            clips=_with_sync(Role.INTAKE_PRESSURE),
        ),
        Recipe(
            test=CaptureTest.CRANKCASE_PULSE,
            cranking=True,
            seconds=6.0,
            rate_hz=5_000.0,
            clips=_with_sync(Role.CRANKCASE_PRESSURE),
        ),
    )
}
"""How each capture of the trade is usually taken [M]."""
TESTS: tuple[str, ...] = (*(test.value for test in RECIPES), *GAUGES)
SPARK_TESTS = (CaptureTest.SECONDARY_VOLTAGE, CaptureTest.COIL_CURRENT, CaptureTest.COIL_CONTROL)


def fits(vehicle: Vehicle, test: str) -> bool:
    """Whether a test can be done on a vehicle: no coils are measured on a diesel."""
    return not (vehicle.sparkless and test in SPARK_TESTS)


def sample(
    course: Course, clips: Sequence[Clip], *, rate_hz: float, level: str, rng: Generator, name: str, set_up: SetUp
) -> Capture:
    """Record a course through clips.

    Parameters
    ----------
    course : Course
    clips : sequence of Clip
    rate_hz : float
    level : str
        Noise: clean, workshop or hostile.
    rng : numpy Generator
    name : str
    set_up : SetUp

    Returns
    -------
    Capture
    """
    count = int(course.seconds * rate_hz)
    times = np.arange(count) / rate_hz
    channels = tuple(
        channel_of(clip, front_end(clip.role, level, rng).digitised(signal(course, clip, times, rng), rng))
        for clip in clips
    )
    return Capture(name=name, time=TimeBase(samples=count, rate_hz=rate_hz), channels=channels, set_up=set_up)


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
    recipe = RECIPES[test]
    if recipe.cranking:
        course = crank_over(vehicle, seconds=recipe.seconds, hot=hot, rng=rng)
    else:
        course = run_engine(vehicle, seconds=recipe.seconds, load=recipe.load, hot=hot, rng=rng)
    return sample(
        course,
        recipe.clips(vehicle, suspects),
        rate_hz=recipe.rate_hz,
        level=level,
        rng=rng,
        name=test.value,
        set_up=set_up_of(recipe, hot=hot),
    )


def set_up_of(recipe: Recipe, *, hot: bool) -> SetUp:
    """What is recorded with a capture of a recipe."""
    return SetUp(
        test=recipe.test,
        engine_state=EngineState.CRANKING if recipe.cranking else EngineState.RUNNING,
        load="none" if recipe.cranking else recipe.load,
        fuel_disabled=recipe.cranking,
        ignition_disabled=recipe.ignition_disabled,
        temperature="hot" if hot else "cold",
    )


def examine(
    vehicle: Vehicle,
    tests: Sequence[str],
    *,
    level: str = "workshop",
    hot: bool = True,
    seed: int = 0,
    name: str = "",
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
    name : str
        Of the case.
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
            f"There is no test {unknown[0]!r}.", where="tests", mend=f"Use some of {', '.join(TESTS)}."
        )
    rng = np.random.default_rng((20_26, 11, seed))
    suspects = suspects or tuple(dict.fromkeys(c for fault in vehicle.faults for c in fault.cylinders))
    captures, observations = [], []
    for test in tests:
        if not fits(vehicle, test):
            continue
        if test in GAUGES:
            observations += observe(vehicle, test, hot=hot, rng=rng, suspects=suspects)
        else:
            captures.append(capture_of(vehicle, CaptureTest(test), level=level, hot=hot, rng=rng, suspects=suspects))
    return Case(
        name=name or "simulated",
        title=name or f"Simulated {vehicle.label}",
        engine=vehicle.engine,
        captures=tuple(captures),
        observations=tuple(observations),
    )

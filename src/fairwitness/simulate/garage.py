"""Vehicles to choose from, all invented, and vehicles built at random around any engine."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.random import Generator

from fairwitness.core.errors import SimulationError
from fairwitness.core.model.engine import (
    CrankWheel,
    Engine,
    Fuel,
    Ignition,
    Injection,
    InjectorDrive,
    Layout,
    even_engine,
)
from fairwitness.simulate.health import DOES_NOT_START, EFFECTS, Condition, Fault
from fairwitness.simulate.population import vehicle_for
from fairwitness.simulate.vehicle import IgnitionBuild, InjectionBuild, Running, SensorBuild, Vehicle
from fairwitness.simulate.worlds.building import in_world
from fairwitness.simulate.worlds.choices import KNOWN_WORLD, World

ENGINES: Mapping[str, Engine] = {
    "larder-1.2": even_engine(
        (1, 3, 2),
        label="Pinnock Larder 1.2",
        layout=Layout.INLINE,
        injector_ohms=12.4,
        crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=78.0),
    ),
    "drover-1.6": even_engine(
        (1, 3, 4, 2),
        label="Hollin Drover 1.6",
        layout=Layout.INLINE,
        ignition=Ignition.WASTE_SPARK,
        coil_pairs=((1, 4), (2, 3)),
        injector_ohms=13.8,
        crank_wheel=CrankWheel(teeth=36, missing=1, tdc1_deg_after_gap=90.0),
    ),
    "drover-2.0": even_engine(
        (1, 3, 4, 2),
        label="Hollin Drover 2.0",
        layout=Layout.INLINE,
        injector_ohms=14.5,
        crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=84.0),
    ),
    "drover-2.0d": even_engine(
        (1, 3, 4, 2),
        label="Hollin Drover 2.0 direct",
        layout=Layout.INLINE,
        injection=Injection.DIRECT,
        injector_ohms=1.5,
        crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=114.0),
    ),
    "larder-2.5": even_engine(
        (1, 2, 4, 5, 3),
        label="Pinnock Larder 2.5",
        layout=Layout.INLINE,
        injector_ohms=14.1,
        crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=96.0),
    ),
    "bookwain-2.7": even_engine(
        (1, 4, 2, 5, 3, 6),
        label="Marl Bookwain 2.7 V6",
        layout=Layout.VEE,
        banks=((1, 2, 3), (4, 5, 6)),
        injector_ohms=13.6,
        crank_wheel=CrankWheel(teeth=36, missing=2, tdc1_deg_after_gap=120.0),
    ),
    "salter-4.4": even_engine(
        (1, 8, 4, 3, 6, 5, 7, 2),
        label="Ormside Salter 4.4 V8",
        layout=Layout.VEE,
        banks=((1, 3, 5, 7), (2, 4, 6, 8)),
        injector_ohms=14.3,
        crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=66.0),
    ),
    "slipway-3.1": even_engine(
        (1, 3, 4, 2),
        label="Garrow Slipway 3.1 diesel",
        layout=Layout.INLINE,
        fuel=Fuel.DIESEL,
        ignition=Ignition.COMPRESSION_IGNITION,
        injection=Injection.COMMON_RAIL,
        injector_ohms=0.5,
        crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=102.0),
    ),
}
"""By the name the command line takes."""

INJECTOR_SPREAD, SPREAD_MOST = 0.012, 0.03
"""[T] a spread of 1 ohm in 15 is normal."""
WHEELS = ((60, 2), (36, 1), (36, 2), (30, 2), (24, 1))
KINDS: Mapping[str, tuple[str, ...]] = {
    "": ("",),
    "ignition": ("plug", "secondary", "coil"),
    "fuel": ("injector", "unmetered", "fuel"),
    "mechanical": ("ring", "intake", "exhaust", "head", "valve", "low"),
    "dead_hole": ("ring_or_piston_leak", "intake_valve_leak", "exhaust_valve_leak"),
}
"""Beginnings of the fault ids of each cause."""
ORDER = re.compile(r"^\d{1,2}(-\d{1,2}){0,15}$")
FAULT = re.compile(r"^(?P<id>[a-z_]+)(@(?P<at>\d+(,\d+)*))?(:(?P<severity>[0-9.]+))?(!(?P<when>[a-z]+))?$")


def engine_named(name: str) -> Engine:
    """An engine of the garage, or an even-firing petrol engine of a firing order such as 1-3-4-2.

    Raises
    ------
    SimulationError
        Neither.
    """
    if name in ENGINES:
        return ENGINES[name]
    if ORDER.match(name):
        return even_engine(tuple(int(c) for c in name.split("-")), label=f"Engine {name}")
    raise SimulationError(
        f"There is no engine {name!r}.",
        where="engine",
        remedy=f"Use one of {', '.join(ENGINES)}, or a firing order such as 1-3-4-2.",
    )


def fault_named(text: str) -> Fault:
    """A fault as written: ``id@cylinder,cylinder:severity!condition``, all but the id left out at will.

    Raises
    ------
    SimulationError
        Not written like that.
    """
    match = FAULT.match(text.strip())
    if match is None:
        raise SimulationError(
            f"{text!r} is not a fault.",
            where="fault",
            remedy="Write it as injector_open_circuit@4 or coil_feed_lost@2:1!hot.",
        )
    when = match["when"] or "always"
    if when not in list(Condition):
        raise SimulationError(f"There is no condition {when!r}.", where="fault", remedy=f"Use {', '.join(Condition)}.")
    return Fault(
        match["id"],
        tuple(int(c) for c in match["at"].split(",")) if match["at"] else (),
        _severity(match["severity"]),
        Condition(when),
    )


def _severity(text: str | None) -> float:
    if text is None:
        return 1.0
    try:
        return float(text)
    except ValueError:
        raise SimulationError(f"A severity of {text} cannot be.", where="fault", remedy="Give 0 to 1.") from None


def build(engine: Engine, faults: Sequence[Fault] = (), *, rng: Generator, world: World = KNOWN_WORLD) -> Vehicle:
    """A vehicle around an engine: the parts spread as among real ones.

    Parameters
    ----------
    engine : Engine
    faults : sequence of Fault
    rng : numpy Generator
    world : World
        What it is built of and who measures it.

    Returns
    -------
    Vehicle
    """
    turning = vehicle_for(engine, (1.0,) * engine.cylinders, rng)
    wheel = engine.crank_wheel
    if wheel is None:
        teeth, missing = WHEELS[int(rng.integers(len(WHEELS)))]
        wheel = CrankWheel(teeth=teeth, missing=missing, tdc1_deg_after_gap=round(float(rng.uniform(40, 150)), 1))
    if wheel.tdc1_deg_after_gap is None:
        wheel = replace(wheel, tdc1_deg_after_gap=84.0)
    engine = replace(engine, crank_wheel=wheel)
    drive = engine.injector_drive or InjectorDrive.SATURATED
    parts = Vehicle(
        label=engine.label or "vehicle",
        turning=replace(turning, engine=engine),
        ignition=_ignition(rng),
        injection=replace(_injection(engine, drive, rng), spread=_spread(engine, faults, rng)),
        sensors=SensorBuild(
            wheel=wheel,
            hall=bool(rng.random() < 0.35),
            spacing_error_deg=float(rng.uniform(0.02, 0.09)),
            reversed=bool(rng.random() < 0.3),
        ),
        running=Running(idle_rpm=float(rng.uniform(650, 880)), variation=float(rng.uniform(0.03, 0.06))),
        faults=tuple(faults),
        feeds=engine.banks if len(engine.banks) > 1 and rng.random() < 0.5 else (),
    )
    for fault in faults:
        for cylinder in fault.cylinders:
            engine.position(cylinder)
    return in_world(parts, world, rng=rng)


def _ignition(rng: Generator) -> IgnitionBuild:
    limited = rng.random() < 0.6
    return IgnitionBuild(
        primary_ohm=float(rng.uniform(0.5, 0.8)),
        primary_henry=float(rng.uniform(2.3e-3, 3.0e-3)),
        transfer=float(rng.uniform(0.56, 0.66)),
        limit_a=float(rng.uniform(7.5, 9.5)) if limited else None,
        dwell_s=float(rng.uniform(0.0026, 0.0034)),
        advance_deg=float(rng.uniform(8, 16)),
        gap_cm=float(rng.uniform(0.09, 0.11)),
        ring_hz=float(rng.uniform(4_500, 6_500)),
    )


def _spread(engine: Engine, faults: Sequence[Fault], rng: Generator) -> tuple[float, ...]:
    """Injectors of one engine differ by up to 1 ohm in 15; an ill one is told by its fault alone."""
    ill = {c for fault in faults if fault.fault.startswith("injector") for c in fault.cylinders}
    own = rng.spawn(1)[0]  # beside the other draws, so that they stay as they were
    factors = 1 + np.clip(INJECTOR_SPREAD * own.normal(size=engine.cylinders), -SPREAD_MOST, SPREAD_MOST)
    return tuple(1.0 if c in ill else float(f) for c, f in enumerate(factors, start=1))


def _injection(engine: Engine, drive: InjectorDrive, rng: Generator) -> InjectionBuild:
    usual = {InjectorDrive.SATURATED: 14.5, InjectorDrive.PEAK_AND_HOLD: 2.4}.get(drive, 1.5)
    ohm = engine.injector_ohms or usual
    plain = InjectionBuild(
        drive=drive, ohm=ohm, on_time_s=float(rng.uniform(0.0026, 0.0034)), bias_v=float(rng.uniform(2.6, 4.0))
    )
    if drive is InjectorDrive.PEAK_AND_HOLD:
        return replace(plain, henry=0.0022, lift_s=0.0008)
    if drive is InjectorDrive.SATURATED:
        return replace(plain, henry=float(rng.uniform(0.010, 0.014)), lift_s=float(rng.uniform(0.0010, 0.0014)))
    diesel = engine.fuel is Fuel.DIESEL
    return replace(
        plain,
        henry=0.00015 if diesel else 0.0012,
        boost_v=65.0,
        peak_a=18.0 if diesel else 10.5,
        hold_a=10.0 if diesel else 2.6,
        on_time_s=0.0007 if diesel else 0.0016,
        start_deg=-16.0 if diesel else -300.0,
        lift_s=0.0003,
    )


def random_faults(engine: Engine, rng: Generator) -> tuple[Fault, ...]:
    """One fault the engine can have, now and then two, now and then none.

    Parameters
    ----------
    engine : Engine
    rng : numpy Generator

    Returns
    -------
    tuple of Fault
    """
    luck = rng.random()
    if luck < 0.08:
        return ()
    return tuple(random_fault(engine, rng) for _ in range(2 if luck > 0.94 else 1))


def random_fault(engine: Engine, rng: Generator, *, kind: str = "") -> Fault:
    """One fault the engine can have.

    Parameters
    ----------
    engine : Engine
    rng : numpy Generator
    kind : str
        ignition, fuel, mechanical or dead_hole; any if left out.

    Returns
    -------
    Fault
    """
    possible = [f for f in EFFECTS if _can_have(engine, f) and f.startswith(KINDS[kind])] or ["ring_or_piston_leak"]
    name = str(rng.choice(possible))
    if kind == "dead_hole":
        return Fault(name, place_of(engine, name, rng), 1.0)
    condition = Condition.ALWAYS
    if rng.random() < 0.12 and name.endswith(("open", "open_circuit", "lost", "dead")):
        condition = Condition(str(rng.choice(["hot", "vibration", "random"])))
    return Fault(name, place_of(engine, name, rng), round(float(rng.uniform(0.3, 1.0)), 2), condition)


def _can_have(engine: Engine, fault: str) -> bool:
    if fault in DOES_NOT_START:
        return False  # a yard of engines that run
    if engine.ignition is Ignition.COMPRESSION_IGNITION and fault.startswith(("plug", "secondary", "coil")):
        return False
    if engine.ignition is not Ignition.COIL_ON_PLUG and fault.startswith("coil_control"):
        return engine.ignition is Ignition.WASTE_SPARK
    if engine.fuel is Fuel.DIESEL and fault == "unmetered_air_at_runner":
        return False  # it has air to spare
    return not (fault == "head_gasket_leak" and not engine.block_neighbours)


def place_of(engine: Engine, fault: str, rng: Generator) -> tuple[int, ...]:
    """Cylinders a fault sits in: neighbours for a gasket, a bank or all for valve timing, all for what is common."""
    if fault in ("fuel_supply_low", "low_compression_all"):
        return ()
    if fault == "head_gasket_leak":
        return engine.block_neighbours[int(rng.integers(len(engine.block_neighbours)))]
    if fault == "valve_timing_shifted":
        return engine.banks[int(rng.integers(len(engine.banks)))] if len(engine.banks) > 1 else ()
    if fault == "injector_feed_lost" and len(engine.banks) > 1:
        return engine.banks[int(rng.integers(len(engine.banks)))]
    return (int(rng.integers(1, engine.cylinders + 1)),)

"""What eyes, ears, lamp and meter tell of the whole engine: a chain of supply, signal and command, worked through.

The control unit wakes with supply and reference; with a crank signal and an accepted key it commands coils and
injectors; coils need their common feed, injectors theirs, and the rail its pressure. What a look shows follows from how
far that chain holds. Nothing here is taken from the tables of the reasoning.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.random import Generator

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Ignition, Injection
from fairwitness.simulate.health import LeakPath
from fairwitness.simulate.under_test import VehicleUnderTest, seen_by

SLIP = 0.03
"""[M] how often a look comes out otherwise than the chain has it."""
DEAD_SEALING, SOFT_SEALING = 0.3, 0.7
"""[M] sealing below which an ear misses a beat, and below which an engine spins light where all are so."""

MARKS_TELL = 0.93
"""[M] how often a cam that is off shows at its marks: a key that sheared behind its wheel does not."""
COIL_FIRES, COIL_STEEP = 0.5, 0.8
"""[M] share of a sound coil's output that still starts an engine, and of its inductance below which a ramp is steep."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Chain:
    """How far supply, signals and commands hold."""

    awake: bool
    crank_signal: str
    locked: bool
    coils_fed: bool
    fuel_pressure: bool
    reference: bool
    sensor_earth: bool
    misbehaves: str
    """What the unit does at rest: nothing, ``held`` or ``fires``."""
    disturbed: bool
    battery_weak: bool
    only_coil: str
    """The coil of a distributor: ``sound``, ``shorted`` (it draws and gives next to nothing) or ``dead``."""

    @property
    def commands(self) -> bool:
        """Whether the unit commands coils and injectors while cranking."""
        return self.awake and self.crank_signal != "none" and self.reference and not self.locked


def chain_of(tested: VehicleUnderTest) -> Chain:
    """Work out the chain under the faults of a vehicle."""
    faults = {f.fault: f.severity for f in tested.vehicle.faults}
    bad = faults.get("reference_bad")
    wild = faults.get("unit_misbehaves")
    crank = "present"
    if "crank_signal_lost" in faults:
        crank = "none" if faults["crank_signal_lost"] > 0.25 else "broken"
    elif "outside_interference" in faults:
        crank = "broken"
    return Chain(
        awake="unit_unpowered" not in faults,
        crank_signal=crank,
        locked="immobiliser_locked" in faults,
        coils_fed="ignition_common_lost" not in faults,
        fuel_pressure="fuel_supply_none" not in faults,
        reference=bad is None or bad < 0.5,
        sensor_earth=bad is None or bad >= 0.5,
        misbehaves="" if wild is None else "held" if wild < 0.7 else "fires",
        disturbed="outside_interference" in faults,
        battery_weak="weak_battery" in faults,
        only_coil=_only_coil(tested),
    )


def _only_coil(tested: VehicleUnderTest) -> str:
    if tested.vehicle.engine.ignition is not Ignition.DISTRIBUTOR:
        return "sound"
    coil = tested.parts[tested.order[0]]
    if coil.coil_output > COIL_FIRES:
        return "sound"
    return "shorted" if coil.coil_inductance < COIL_STEEP else "dead"


def first_look(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Cadence, lamp, pump, oil, terminals, hoses, plug wells, timing marks."""
    chain, parts = chain_of(tested), tested.parts
    sealing = np.array([parts[c].sealing for c in tested.order])
    faults = {f.fault for f in tested.vehicle.faults}
    flooded = bool(faults & {"unit_misbehaves", "washed_bores"}) or any(h.injector_always_on for h in parts.values())
    cadence = "even"
    if chain.battery_weak:
        cadence = "labouring"
    elif np.all(sealing < SOFT_SEALING):
        cadence = "fast_even"
    elif np.any(sealing < DEAD_SEALING):
        cadence = "one_missing"
    coolant = any(h.leak_path is LeakPath.NEIGHBOUR and h.sealing < DEAD_SEALING for h in parts.values())
    lamp = "dark" if not chain.awake else "immobiliser" if chain.locked else "lights"
    shown = {
        "cadence": cadence,
        "dash_lamp": lamp,
        "pump_prime": "heard" if chain.awake and chain.fuel_pressure else "silent",
        "oil": "over_full" if flooded else "milky" if coolant else "usual",
        "terminals": "loose" if chain.battery_weak and rng.random() < 0.3 else "tight",
        "hoses": "off" if any(h.extra_air > 0.3 for h in parts.values()) and rng.random() < 0.5 else "on",
        "plug_wells": "oil"
        if any((h.shunt_kv or 99.0) < 5.0 for h in parts.values()) and rng.random() < 0.3
        else "dry",
        "timing_marks": "off" if "valve_timing_shifted" in faults and rng.random() < MARKS_TELL else "in_line",
    }
    return _seen(tested, "first_look", shown, rng)


def no_start(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Spark, injector pulse, crank signal, coil current and fuel by hand, while cranking."""
    chain = chain_of(tested)
    sparks = chain.commands and chain.coils_fed and chain.only_coil == "sound"
    spark = "strong" if sparks else "none"
    if chain.misbehaves == "fires":
        spark = "key_on"
    elif sparks and chain.crank_signal == "broken":
        spark = "comes_and_goes"
    elif sparks and chain.battery_weak:
        spark = "weak"
    pulse = "held" if chain.misbehaves == "held" else "flashes" if chain.commands else "none"
    lacks_fuel = not chain.fuel_pressure and sparks
    shown = {
        "spark": spark,
        "injector_pulse": pulse,
        "crank_signal": chain.crank_signal if chain.awake else "none",
        "coil_ramp": _coil_ramp(chain),
        "fuel_by_hand": "fires" if lacks_fuel else "nothing",
    }
    return _seen(tested, "no_start", shown, rng)


def _coil_ramp(chain: Chain) -> str:
    if not (chain.commands and chain.coils_fed):
        return "none"
    return "steep" if chain.only_coil == "shorted" else "ramp"


def engine_circuits(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Supply, reference, sensor earth, commands at rest and spikes on other wires."""
    chain = chain_of(tested)
    shown = {
        "unit_supply": "good" if chain.awake else "low",
        "reference": "good" if chain.awake and chain.reference else "low",
        "sensor_earth": "good" if chain.sensor_earth else "bad",
        "key_on": chain.misbehaves or "quiet",
        "interference": "others" if chain.disturbed else "none",
    }
    return _seen(tested, "engine_circuits", shown, rng)


SPARKS_ONLY = frozenset({"plug_wells", "spark", "coil_ramp"})
INJECTED_ONLY = frozenset(
    {"dash_lamp", "pump_prime", "injector_pulse", "unit_supply", "reference", "sensor_earth", "key_on"}
)
PETROL_ONLY = frozenset({"hoses", "fuel_by_hand"})


def _seen(tested: VehicleUnderTest, test: str, shown: Mapping[str, str], rng: Generator) -> list[Observation]:
    """What is looked at on this engine; now and then a look misses what is there and finds all as usual."""
    engine = tested.vehicle.engine
    left_out: set[str] = set()
    if tested.vehicle.sparkless:
        left_out |= SPARKS_ONLY | PETROL_ONLY
    if engine.injection is Injection.CARBURETTOR:
        left_out |= INJECTED_ONLY
    usual = USUAL[test]
    return [
        seen_by(test, item=item, seen=usual[item] if rng.random() < SLIP else seen)
        for item, seen in shown.items()
        if item not in left_out
    ]


USUAL: Mapping[str, Mapping[str, str]] = {
    "first_look": {
        "cadence": "even",
        "dash_lamp": "lights",
        "pump_prime": "heard",
        "oil": "usual",
        "terminals": "tight",
        "hoses": "on",
        "plug_wells": "dry",
        "timing_marks": "in_line",
    },
    "no_start": {
        "spark": "strong",
        "injector_pulse": "flashes",
        "crank_signal": "present",
        "coil_ramp": "ramp",
        "fuel_by_hand": "nothing",
    },
    "engine_circuits": {
        "unit_supply": "good",
        "reference": "good",
        "sensor_earth": "good",
        "key_on": "quiet",
        "interference": "none",
    },
}

"""A seeded population of cranking cases with known answers, over engines, faults, noise and the traps of the trade."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from fairwitness.core.model.capture import Capture
from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, Engine, Ignition, even_engine
from fairwitness.simulate.cranking import CrankingVehicle, crank, gas_torque_table
from fairwitness.simulate.instruments import Rig, record

FIRING_ORDERS: dict[int, tuple[tuple[int, ...], ...]] = {
    2: ((1, 2),),
    3: ((1, 3, 2), (1, 2, 3)),
    4: ((1, 3, 4, 2), (1, 2, 4, 3)),
    5: ((1, 2, 4, 5, 3),),
    6: ((1, 5, 3, 6, 2, 4), (1, 4, 2, 5, 3, 6), (1, 6, 5, 4, 3, 2)),
    8: ((1, 8, 4, 3, 6, 5, 7, 2), (1, 5, 4, 8, 6, 3, 7, 2)),
    10: ((1, 6, 5, 10, 2, 7, 3, 8, 4, 9),),
    12: ((1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10),),
}
ODD_INTERVALS: dict[int, tuple[float, ...]] = {
    2: (270.0, 450.0),
    6: (90.0, 150.0, 90.0, 150.0, 90.0, 150.0),
}
UNUSABLE_TRAPS = ("weak_battery", "too_short", "clipped", "few_samples", "key_on_only", "fuel_on")
HARMLESS_TRAPS = (
    "none",
    "none",
    "reversed_clamp",
    "clamp_zero",
    "spikes",
    "voltage_only",
    "both_sources",
    "gaps",
    "multi_strike",
    "sync_lost",
    "unsynced",
    "revolution_sync",
    "no_rest",
    "coarse_bits",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownCase:
    """One simulated capture and its answer."""

    engine: Engine
    capture: Capture
    low: frozenset[int]
    """Cylinders that seal badly; empty for a healthy engine."""
    dead: frozenset[int]
    trap: str
    usable: bool
    noise: str


def known_case(seed: int) -> KnownCase:
    """One case of the population, the same for the same seed.

    Parameters
    ----------
    seed : int

    Returns
    -------
    KnownCase
    """
    rng = np.random.default_rng((20_26, seed))
    usable = bool(rng.random() >= 0.22)
    trap = str(rng.choice(HARMLESS_TRAPS if usable else UNUSABLE_TRAPS))
    engine = _engine(rng, trap)
    sealing = _sealing(engine, rng)
    vehicle = vehicle_for(engine, sealing, rng)
    noise = str(rng.choice(("clean", "workshop", "hostile")))
    rig = _rig(engine, noise, rng)
    seconds = float(rng.uniform(5.0, 8.0))
    vehicle, rig, seconds = _with_trap(trap, vehicle, rig, seconds, rng)
    if trap == "key_on_only":
        run = crank(vehicle, seconds=seconds, rest_s=seconds + 1.0)
    else:
        run = crank(vehicle, seconds=seconds, rest_s=0.5, start_angle_deg=float(rng.uniform(0, CYCLE_DEG)))
    if trap == "clipped":
        steady = run.current_a[run.time_s > 1.5]
        rig = replace(rig, clamp_range_a=float(np.percentile(steady, rng.uniform(50, 80))))
    return KnownCase(
        engine=engine,
        capture=record(run, engine, rig, rng=rng),
        low=frozenset(c for c in engine.firing_order if sealing[c - 1] < 0.9),
        dead=frozenset(c for c in engine.firing_order if sealing[c - 1] < 0.15),
        trap=trap,
        usable=usable,
        noise=noise,
    )


def vehicle_for(engine: Engine, sealing: tuple[float, ...], rng: Generator, *, tired: float = 0.0) -> CrankingVehicle:
    """A starter, flywheel and battery that turn an engine of this size at 160 to 290 rpm.

    Parameters
    ----------
    engine : Engine
    sealing : tuple of float
        Per cylinder number, 1 sound.
    rng : numpy Generator
    tired : float
        0 a sound battery; 1 one that can hardly turn the engine.

    Returns
    -------
    CrankingVehicle
    """
    n = engine.cylinders
    per_cylinder = float(rng.uniform(0.3e-3, 0.6e-3))
    build = tuple(min(float(s * rng.normal(1.0, 0.012)), 1.0) if s >= 0.9 else s for s in sealing)
    bare = CrankingVehicle(
        engine=engine,
        sealing=(1.0,) * n,
        displacement_m3=per_cylinder * n,
        compression_ratio=float(rng.uniform(16, 18) if engine.fuel == "diesel" else rng.uniform(9, 12)),
        rod_ratio=float(rng.uniform(2.9, 3.9)),
        polytropic=float(rng.uniform(1.22, 1.34)),
        intake_closing_deg=-float(rng.uniform(115, 145)),
        exhaust_opening_deg=float(rng.uniform(120, 145)),
        inertia=float(rng.uniform(0.14, 0.26)) * (1 + 0.25 * n) * (0.4 + 0.6 * per_cylinder / 0.45e-3),
        friction_nm=float(rng.uniform(6, 10)) * n + 10.0,
        friction_nm_s=float(rng.uniform(0.02, 0.08)) * n,
        battery_volt=float(rng.uniform(12.5, 12.9)),
        battery_sag_volt_s=float(rng.uniform(0.0, 0.04)),
    )
    vehicle = _with_starter(bare, build, rng)
    return with_tired_battery(vehicle, tired, rng) if tired else vehicle


def _with_starter(bare: CrankingVehicle, build: tuple[float, ...], rng: Generator) -> CrankingVehicle:
    """A starter strong enough for the tallest compression, geared for the wanted speed."""
    wanted = float(rng.uniform(165, 285)) * np.pi / 30
    friction = bare.friction_nm + bare.friction_nm_s * wanted
    tallest = max(0.0, -float(gas_torque_table(bare).min()))
    stall = float(rng.uniform(2.0, 3.2)) * (tallest + friction)
    torque_per_amp = bare.battery_volt * (1 - friction / stall) / wanted
    resist = bare.battery_volt * torque_per_amp / stall
    battery_part = float(rng.uniform(0.2, 0.35))
    return replace(
        bare,
        sealing=build,
        starter_nm_per_a=torque_per_amp,
        starter_ohm=resist * (1 - battery_part),
        battery_ohm=resist * battery_part,
    )


def with_tired_battery(vehicle: CrankingVehicle, tired: float, rng: Generator) -> CrankingVehicle:
    """The same vehicle with a battery that sags; 0 hardly, 1 to a near standstill."""
    return replace(
        vehicle,
        battery_volt=float(rng.uniform(11.0, 12.0)),
        battery_ohm=vehicle.battery_ohm + 2.4 * tired * (vehicle.starter_ohm + vehicle.battery_ohm),
        battery_sag_volt_s=float(rng.uniform(0.1, 0.35)),
    )


def _engine(rng: Generator, trap: str) -> Engine:
    n = int(rng.choice(list(FIRING_ORDERS)))
    order = FIRING_ORDERS[n][int(rng.integers(len(FIRING_ORDERS[n])))]
    changes: dict[str, object] = {}
    if n in ODD_INTERVALS and rng.random() < 0.3:
        changes["firing_intervals_deg"] = ODD_INTERVALS[n]
    if trap == "revolution_sync" and n % 2 == 0 and "firing_intervals_deg" not in changes:
        changes["ignition"] = Ignition.WASTE_SPARK
    return even_engine(order, **changes)


def _sealing(engine: Engine, rng: Generator) -> tuple[float, ...]:
    kind = str(rng.choice(("healthy", "dead", "low", "mild", "companions", "neighbours")))
    sealing = [1.0] * engine.cylinders
    ill = int(rng.integers(1, engine.cylinders + 1))
    if kind == "dead":
        sealing[ill - 1] = float(rng.uniform(0.02, 0.08))
    elif kind == "low":
        sealing[ill - 1] = float(rng.uniform(0.3, 0.6))
    elif kind == "mild":
        sealing[ill - 1] = float(rng.uniform(0.6, 0.72))
    elif kind == "companions" and (other := engine.companion(ill)) is not None and engine.cylinders > 2:
        sealing[ill - 1] = sealing[other - 1] = float(rng.uniform(0.02, 0.3))
    elif kind == "neighbours" and engine.cylinders > 2:
        other = ill % engine.cylinders + 1
        sealing[ill - 1] = sealing[other - 1] = float(rng.uniform(0.2, 0.5))
    return tuple(sealing)


def _rig(engine: Engine, noise: str, rng: Generator) -> Rig:
    scale = {"clean": 0.0, "workshop": 1.0, "hostile": 3.0}[noise]
    return Rig(
        rate_hz=float(rng.choice((2000.0, 5000.0, 10000.0, 20000.0))),
        sync_cylinder=int(rng.integers(1, engine.cylinders + 1)),
        sync_advance_deg=float(rng.uniform(0.0, 12.0)),
        noise_a=3.0 * scale,
        noise_v=0.02 * scale,
        spikes_per_s=4.0 * scale,
    )


def _with_trap(
    trap: str, vehicle: CrankingVehicle, rig: Rig, seconds: float, rng: Generator
) -> tuple[CrankingVehicle, Rig, float]:
    changes: dict[str, dict[str, object]] = {
        "reversed_clamp": {"clamp_sign": -1.0},
        "clamp_zero": {"clamp_zero_a": float(rng.choice((-1, 1)) * rng.uniform(20, 90))},
        "spikes": {"spikes_per_s": 25.0},
        "voltage_only": {"current": False, "voltage": True},
        "both_sources": {"voltage": True},
        "gaps": {"missing_share": 0.01},
        "multi_strike": {"strikes": 3},
        "sync_lost": {"sync_lost_after_s": 0.62 * seconds},
        "unsynced": {"sync_cylinder": None},
        "revolution_sync": {"sync_every_deg": REVOLUTION_DEG},
        "no_rest": {"cut_s": (float(rng.uniform(0.9, 1.4)), seconds)},
        "coarse_bits": {"bits": 8, "rate_hz": 5000.0},
        "fuel_on": {"fuel_disabled": False},
        "few_samples": {"rate_hz": float(rng.uniform(5, 8)) * vehicle.engine.cylinders * 200 / 120},
    }
    rig = replace(rig, **changes.get(trap, {}))  # type: ignore[arg-type]
    if trap == "too_short":
        seconds = float(rng.uniform(1.0, 1.9))
    if trap == "weak_battery":
        vehicle = with_tired_battery(vehicle, float(rng.uniform(0.6, 1.2)), rng)
        rig = replace(rig, voltage=True)
    return vehicle, rig, seconds

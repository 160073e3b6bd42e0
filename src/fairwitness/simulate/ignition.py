"""Command, coil current and secondary voltage of every spark, from circuits."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.random import Generator

from fairwitness.core.model.engine import REVOLUTION_DEG, FloatArray, Ignition
from fairwitness.simulate.health import SHUNT_CHANCE, Health
from fairwitness.simulate.spark import available_kv, demand_kv, dense_kpa, primary_end_a, stored_j
from fairwitness.simulate.trajectory import Motion, Trajectory
from fairwitness.simulate.vehicle import IgnitionBuild

RISE_S = 30e-6
"""[M] from switch-off to breakdown."""
GLOW_KV, GLOW_DENSE_KV = 0.45, 0.75
"""[M] spark line of a 0.9 mm gap: a fixed fall at the electrodes and a part that follows density and gap."""
GLOW_KPA = 244.0
LEAN_SLOPE = 2.2
"""[M] rise of the spark line over its length per unit of excess air."""
AIR_ALONE = 0.2
"""[M] a cylinder without fuel, as excess air."""
SPARK_ENDS_A = 0.006
SHUNT_LINE = 0.13
"""[M] line voltage of an arc outside the gap as a share of its breakdown."""
RING_KV = 0.9
TURN_ON_DECAY_S, TURN_ON_KV = 0.00009, 1.1
BENDS_PER_A = 0.12
"""[M] how steeply the current of a saturated coil bends upward."""
STRIKES_AGAIN_S, AGAIN_DWELL_S = 0.0034, 0.0014
"""[M] how long after the last spark the next of a multi-strike comes, and how long the coil charges for it."""
COLLAPSE_S = 20e-6
DRIVER_LIMIT_A = 16.0
"""[M] a shorted coil is held here by the driver's own protection."""
WASTE_KPA = 105.0
"""Density in the companion cylinder near the end of its exhaust stroke."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Spark:
    """One switch-off of one coil as one cylinder sees it."""

    at_s: float
    dwell_s: float
    waste: bool
    health: Health
    kpa: float
    mixture: float


def sparks(trajectory: Trajectory, cylinder: int) -> Iterator[Spark]:
    """Every spark of a cylinder in time order, waste ones included.

    Parameters
    ----------
    trajectory : Trajectory
    cylinder : int

    Yields
    ------
    Spark
    """
    vehicle = trajectory.vehicle
    build = vehicle.ignition
    cranking = trajectory.motion is Motion.CRANKING
    advance = build.cranking_advance_deg if cranking else build.advance_deg
    dwell = build.cranking_dwell_s if cranking else build.dwell_s
    cycles = trajectory.cylinders[cylinder]
    times = trajectory.time_at(cycles.tdc_deg - advance)
    pressures = trajectory.pressure(cylinder, cycles.tdc_deg - advance)
    waste_times = trajectory.time_at(cycles.tdc_deg - advance + REVOLUTION_DEG)
    wasted = vehicle.engine.ignition is Ignition.WASTE_SPARK
    for k, at in enumerate(times):
        health = cycles.healths[k]
        if np.isfinite(at):
            kpa = dense_kpa(float(pressures[k]), float(cycles.charge_pa[k]), vehicle.turning.polytropic)
            for n in range(1 if cranking else build.strikes):
                yield Spark(
                    at_s=float(at) + n * STRIKES_AGAIN_S,
                    dwell_s=AGAIN_DWELL_S if n else dwell,
                    waste=False,
                    health=health,
                    kpa=kpa,
                    mixture=float(cycles.mixture[k]),
                )
        if wasted and np.isfinite(waste_times[k]):
            yield Spark(
                at_s=float(waste_times[k]), dwell_s=dwell, waste=True, health=health, kpa=WASTE_KPA, mixture=1.0
            )


def coil_current(trajectory: Trajectory, cylinders: tuple[int, ...], times: FloatArray) -> FloatArray:
    """Current in the common feed of the coils of some cylinders.

    Parameters
    ----------
    trajectory : Trajectory
    cylinders : tuple of int
    times : (n,) float, s

    Returns
    -------
    (n,) float, A
    """
    build = trajectory.vehicle.ignition
    volts = float(np.mean(trajectory.run.battery_v))
    total = np.zeros(times.size)
    for cylinder in _one_per_coil(trajectory, cylinders):
        for spark in sparks(trajectory, cylinder):
            if not spark.health.coil_runs:
                continue
            begin, end = np.searchsorted(times, (spark.at_s - spark.dwell_s, spark.at_s + 5 * COLLAPSE_S))
            since = times[begin:end] - (spark.at_s - spark.dwell_s)
            on = since < spark.dwell_s
            amps = _ramp(build, spark.health, volts, np.minimum(since, spark.dwell_s))
            total[begin:end] += np.where(on, amps, amps * np.exp(-(since - spark.dwell_s).clip(0) / COLLAPSE_S))
    return total


def _ramp(build: IgnitionBuild, health: Health, volts: float, since: FloatArray) -> FloatArray:
    henry = build.primary_henry * health.coil_inductance
    shorted = health.coil_inductance < 0.9
    drive = volts - build.driver_drop_v
    amps = drive / build.primary_ohm * (1 - np.exp(-since * build.primary_ohm / henry))
    if not shorted:
        ringing = np.exp(-since / TURN_ON_DECAY_S) * np.sin(2 * np.pi * build.turn_on_hz * since)
        amps = amps + build.turn_on_a * ringing
    if build.saturates_a is not None:
        amps = amps + BENDS_PER_A * (amps - build.saturates_a).clip(0) ** 2
    limit = min(build.limit_a or DRIVER_LIMIT_A, DRIVER_LIMIT_A)
    return np.asarray(np.minimum(amps, limit))


def coil_command(
    trajectory: Trajectory, cylinder: int, times: FloatArray, *, at_unit: bool = False, unplugged: bool = False
) -> FloatArray:
    """Logic-level command of a cylinder's coil, high while the coil charges.

    Parameters
    ----------
    trajectory : Trajectory
    cylinder : int
    times : (n,) float, s
    at_unit : bool
        Measured at the control unit's own pin.
    unplugged : bool
        The coil disconnected: a wrong level that stays is not the coil's.

    Returns
    -------
    (n,) float, V
    """
    build = trajectory.vehicle.ignition
    level = np.zeros(times.size)
    last = 0
    for spark in sparks(trajectory, cylinder):
        health = spark.health
        begin, end = np.searchsorted(times, (spark.at_s - spark.dwell_s, spark.at_s))
        low = health.command_low_v
        seen = health.command_at_unit and (at_unit or health.command_at_coil)
        level[last:end] = low if (at_unit or health.command_at_coil) else 0.0
        if seen:
            level[begin:end] = build.command_v
        last = int(end)
    if last and last < times.size:
        level[last:] = trajectory.cylinders[cylinder].healths[-1].command_low_v
    return level + (0.02 if unplugged else 0.0)


def secondary_kv(trajectory: Trajectory, cylinder: int, times: FloatArray, rng: Generator) -> FloatArray:
    """Voltage at the top of one plug, positive towards breakdown except at the far end of a waste-spark coil.

    Parameters
    ----------
    trajectory : Trajectory
    cylinder : int
    times : (n,) float, s
    rng : numpy Generator

    Returns
    -------
    (n,) float, kV
    """
    build = trajectory.vehicle.ignition
    volts = float(np.mean(trajectory.run.battery_v))
    kv = np.zeros(times.size)
    for spark in sparks(trajectory, cylinder):
        if not spark.health.coil_runs or spark.health.coil_output <= 0:
            continue
        begin, end = np.searchsorted(times, (spark.at_s - spark.dwell_s, spark.at_s + 0.0065))
        if end > begin:
            kv[begin:end] += _one_spark(build, spark, volts, times[begin:end], rng)
    pairs = trajectory.vehicle.engine.coil_pairs or trajectory.vehicle.engine.companion_pairs
    far = trajectory.vehicle.engine.ignition is Ignition.WASTE_SPARK and any(cylinder == b for _, b in pairs)
    return -kv if far else kv


def _one_spark(build: IgnitionBuild, spark: Spark, volts: float, times: FloatArray, rng: Generator) -> FloatArray:
    health = spark.health
    amps = primary_end_a(build, health, battery_v=volts, dwell_s=spark.dwell_s)
    joule = stored_j(build, health, amps)
    most = available_kv(build, joule)
    wanted = demand_kv(build, health, kpa=spark.kpa, mixture=spark.mixture) * (1 + build.scatter * float(rng.normal()))
    aside = health.shunt_kv is not None and (not health.shunt_random or rng.random() < SHUNT_CHANCE)
    if health.shunt_kv is not None and aside:
        wanted = min(wanted, health.shunt_kv * (1 + 0.08 * float(rng.normal())))
    else:
        aside = False
    breaks = wanted <= most and not health.secondary_open
    peak = wanted if breaks else most * (0.9 if health.secondary_open else 1.0)
    shape = np.zeros(times.size)
    charging = times < spark.at_s
    since_on = times[charging] - (spark.at_s - spark.dwell_s)
    sound = health.coil_inductance > 0.9
    if sound:
        shape[charging] = -TURN_ON_KV * np.exp(-since_on / 0.00012) * np.cos(2 * np.pi * 11_000 * since_on)
    after = times - spark.at_s
    rising = (after >= 0) & (after < RISE_S)
    shape[rising] = peak * np.sin(0.5 * np.pi * after[rising] / RISE_S)
    past = after >= RISE_S
    since = after[past] - RISE_S
    if not breaks:
        decay = np.exp(-since / (0.00025 if sound else 0.0001))
        shape[past] = peak * decay * (np.cos(2 * np.pi * build.ring_hz * since) if sound else 1.0)
        return shape
    line, length = _spark_line(build, spark, joule, wanted, aside)
    burning = since < length
    trajectory = np.clip(since / max(length, 1e-6), 0.0, 1.0)
    lean = _lean(spark.mixture)
    henry = build.primary_henry * health.coil_inductance * build.ratio**2
    ohm = build.plug_ohm + health.series_ohm
    start = math.sqrt(max(2 * (joule - 0.5 * build.capacity_f * (wanted * 1e3) ** 2), 1e-9) / henry)
    flowing = np.maximum((start + 1e3 * line / ohm) * np.exp(-since * ohm / henry) - 1e3 * line / ohm, 0.0)
    rough = 0.03 + 0.10 * lean + (0.12 if aside and health.shunt_random else 0.0)
    level = line * (1 + LEAN_SLOPE * lean * trajectory) * (1 + rough * rng.normal(size=since.size))
    tail = since - length
    shape[past] = np.where(
        burning,
        level + flowing * ohm / 1e3,
        RING_KV
        * np.exp(-tail.clip(0) / build.ring_decay_s)
        * np.cos(2 * np.pi * build.ring_hz * tail)
        * (1.0 if sound else 0.05),
    )
    return shape


def _lean(mixture: float) -> float:
    """Excess air as the spark line feels it; air alone bends the line less than a lean charge at its limit."""
    return min(max(mixture - 1.0, 0.0), 0.4) if math.isfinite(mixture) else AIR_ALONE


def _spark_line(
    build: IgnitionBuild, spark: Spark, joule: float, breakdown_kv: float, aside: bool
) -> tuple[float, float]:
    """Arc voltage without resistances, kV, and how long the energy keeps it burning, s."""
    health = spark.health
    if aside:
        line = max(SHUNT_LINE * breakdown_kv, 0.18)
    else:
        line = GLOW_KV + GLOW_DENSE_KV * math.sqrt(max(spark.kpa, 20.0) / GLOW_KPA) * health.gap**0.7
    lean = _lean(spark.mixture)
    henry = build.primary_henry * health.coil_inductance * build.ratio**2
    left = joule - 0.5 * build.capacity_f * (breakdown_kv * 1e3) ** 2
    if left <= 0:
        return line, 0.0
    ohm = build.plug_ohm + health.series_ohm
    start = math.sqrt(2 * left / henry)
    volts = 1e3 * line * (1 + 0.5 * LEAN_SLOPE * lean)
    return line, henry / ohm * math.log((volts + start * ohm) / (volts + SPARK_ENDS_A * ohm))


def _one_per_coil(trajectory: Trajectory, cylinders: tuple[int, ...]) -> list[int]:
    """Cylinders standing for coils: a waste-spark coil is counted once."""
    engine = trajectory.vehicle.engine
    if engine.ignition is not Ignition.WASTE_SPARK:
        return list(cylinders)
    pairs = engine.coil_pairs or engine.companion_pairs
    second = {b: a for a, b in pairs}
    return [c for c in cylinders if second.get(c) not in cylinders]

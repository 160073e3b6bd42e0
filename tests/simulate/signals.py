"""Small measurements of clean simulated signals, made without the core: enough to see what a fault does to each."""

from __future__ import annotations

import numpy as np

from fairwitness.simulate.ignition import coil_command, coil_current, secondary_kv, sparks
from fairwitness.simulate.injection import injections, injector_current, injector_volts
from fairwitness.simulate.pulses import crankcase_pa, exhaust_pa, intake_pa
from fairwitness.simulate.sensors import cam_sensor
from fairwitness.simulate.trajectory import Motion, Trajectory

RATE_HZ = 200_000.0


def times_of(trajectory: Trajectory, rate_hz: float) -> np.ndarray:
    return np.arange(int(trajectory.seconds * rate_hz)) / rate_hz


def windows(trajectory: Trajectory, cylinder: int, begin_deg: float, end_deg: float) -> list[tuple[float, float]]:
    """Times of whole stretches of the cylinder's cycles, after the inrush."""
    tdc = trajectory.cylinders[cylinder].tdc_deg
    pairs = zip(trajectory.time_at(tdc + begin_deg), trajectory.time_at(tdc + end_deg), strict=True)
    earliest = 1.5 if trajectory.motion is Motion.CRANKING else 0.0
    return [(a, b) for a, b in pairs if np.isfinite(a) and np.isfinite(b) and a > earliest]


def compression(trajectory: Trajectory, cylinder: int) -> float:
    """Peak to valley of the starter current over the cylinder's own half turn."""
    assert trajectory.motion is Motion.CRANKING
    heights = []
    run = trajectory.run
    for begin, end in windows(trajectory, cylinder, -100.0, 80.0):
        own = run.current_a[(run.time_s >= begin) & (run.time_s < end)]
        heights.append(np.ptp(own))
    return float(np.median(heights))


def speed_gain(trajectory: Trajectory, cylinder: int) -> float:
    """Change of the square of the speed over the cylinder's power stroke."""
    begin, end = np.array(windows(trajectory, cylinder, 12.0, 150.0)).T
    first, last = (np.interp(at, trajectory.run.time_s, trajectory.run.speed_rpm) for at in (begin, end))
    return float(np.mean(last**2 - first**2))


def secondary(trajectory: Trajectory, cylinder: int, seed: int = 5) -> tuple[float, float, float, int]:
    """Firing voltage and spark-line voltage in kV, duration in ms, half waves after the spark."""
    times = times_of(trajectory, RATE_HZ)
    kv = secondary_kv(trajectory, cylinder, times, np.random.default_rng(seed))
    found = []
    for spark in sparks(trajectory, cylinder):
        if spark.waste or spark.at_s + 0.006 > trajectory.seconds or spark.at_s < spark.dwell_s:
            continue
        first = int(spark.at_s * RATE_HZ)
        own = kv[first : first + int(0.006 * RATE_HZ)]
        top = int(np.argmax(own[: int(0.0003 * RATE_HZ)]))
        line = own[top + int(0.0001 * RATE_HZ) : top + int(0.00028 * RATE_HZ)]
        smooth = np.convolve(own[top + 6 :], np.ones(21) / 21, mode="valid")
        burning = smooth > 0.14
        length = int(np.argmin(burning)) if not burning.all() else burning.size
        found.append((own[top], float(np.mean(line)), 1000 * length / RATE_HZ))
    if not found:
        return 0.0, 0.0, 0.0, 0
    fv, sv, sd = np.median(np.array(found), axis=0)
    return float(fv), float(sv), float(sd), len(found)


def spark_end(trajectory: Trajectory, cylinder: int) -> tuple[float, float]:
    """Rise of the spark line from its first to its last third as a share of it, and swing once it has ended, kV."""
    times = times_of(trajectory, RATE_HZ)
    kv = secondary_kv(trajectory, cylinder, times, np.random.default_rng(5))
    length = secondary(trajectory, cylinder)[2] / 1000
    found = []
    for spark in sparks(trajectory, cylinder):
        if spark.waste or spark.at_s + 0.006 > trajectory.seconds or spark.at_s < spark.dwell_s or not length:
            continue
        since = times - spark.at_s - 0.00003
        line = kv[(since > 0.00015) & (since < 0.9 * length)]
        after = kv[(since > length + 0.0002) & (since < length + 0.0007)]
        third = max(1, line.size // 3)
        rise = (line[-third:].mean() - line[:third].mean()) / line.mean() * 1.5 if line.size else 0.0
        found.append((rise, np.percentile(after, 98) - np.percentile(after, 2)))
    rise, swing = np.median(np.array(found), axis=0) if found else (0.0, 0.0)
    return float(rise), float(swing)


def coil_peak(trajectory: Trajectory, cylinder: int) -> float:
    return float(coil_current(trajectory, (cylinder,), times_of(trajectory, 50_000.0)).max())


def coil_early(trajectory: Trajectory, cylinder: int) -> float:
    """Current half a millisecond after switch-on: the inductance shows here."""
    times = times_of(trajectory, 50_000.0)
    amps = coil_current(trajectory, (cylinder,), times)
    at = [s.at_s - s.dwell_s + 0.0005 for s in sparks(trajectory, cylinder) if s.at_s > s.dwell_s]
    return float(np.median(np.interp(at, times, amps)))


def command_levels(trajectory: Trajectory, cylinder: int, *, at_unit: bool = False) -> tuple[float, float]:
    level = coil_command(trajectory, cylinder, times_of(trajectory, 20_000.0), at_unit=at_unit)
    return float(level.min()), float(level.max())


def injector(trajectory: Trajectory, cylinder: int) -> tuple[float, float]:
    """Mean current and highest control-side voltage."""
    times = times_of(trajectory, 50_000.0)
    return float(injector_current(trajectory, (cylinder,), times).mean()), float(
        injector_volts(trajectory, cylinder, times).max()
    )


def pintle_dip(trajectory: Trajectory, cylinder: int) -> float:
    """Deepest fall of the current while it should still rise, A."""
    times = times_of(trajectory, 100_000.0)
    amps = injector_current(trajectory, (cylinder,), times)
    one = next(i for i in injections(trajectory, cylinder) if i.at_s > 0.05)
    own = amps[(times > one.at_s) & (times < one.at_s + one.on_s - 1e-4)]
    return float((np.maximum.accumulate(own) - own).max())


def needle(trajectory: Trajectory, cylinder: int) -> float:
    """How far the current sags below its neighbourhood where the needle lifts, A."""
    lift, times = trajectory.vehicle.injection.lift_s, times_of(trajectory, 50_000.0)
    amps = injector_current(trajectory, (cylinder,), times)
    first = next((i.at_s for i in injections(trajectory, cylinder) if i.at_s > 0.05), 0.0)
    before, at, after = np.interp(first + lift + np.array([-0.0003, 0.0, 0.0003]), times, amps)
    return float((before + after) / 2 - at + 0.02 * after)


def pulse(trajectory: Trajectory, cylinder: int, kind: str, begin_deg: float, end_deg: float) -> float:
    """Mean pressure over a stretch of the cylinder's cycle, the travel time allowed for, Pa."""
    running = trajectory.vehicle.running
    fast = running.exhaust_speed_m_s if trajectory.motion is Motion.RUNNING else running.cranking_exhaust_speed_m_s
    delay = {"exhaust": running.exhaust_m / fast + 0.003, "intake": 0.0045, "crankcase": 0.007}[kind]
    times = times_of(trajectory, 5_000.0)
    pressure = {"exhaust": exhaust_pa, "intake": intake_pa, "crankcase": crankcase_pa}[kind](trajectory, times)
    total = []
    for a, b in windows(trajectory, cylinder, begin_deg, end_deg):
        own = pressure[(times >= a + delay) & (times < b + delay)]
        if own.size:
            total.append(own.mean())
    return float(np.median(total))


def peak_pressure(trajectory: Trajectory, cylinder: int) -> float:
    tops = [
        trajectory.pressure(cylinder, np.arange(tdc - 60.0, tdc + 61.0)).max()
        for tdc in trajectory.cylinders[cylinder].tdc_deg[2:-3]
    ]
    return float(np.median(tops))


def intake_burst(trajectory: Trajectory, cylinder: int) -> float:
    """Highest mean intake pressure in the cylinder's own compression or at the begin of its intake stroke, Pa."""
    return max(pulse(trajectory, cylinder, "intake", *at) for at in ((-60.0, 20.0), (-360.0, -310.0), (-330.0, -170.0)))


def injector_trace(trajectory: Trajectory, cylinder: int) -> np.ndarray:
    return injector_volts(trajectory, cylinder, times_of(trajectory, 20_000.0))


def secondary_ringing(trajectory: Trajectory, cylinder: int) -> float:
    """Swing of the secondary from 3 to 6 ms after the spark, kV."""
    times = times_of(trajectory, RATE_HZ)
    kv = secondary_kv(trajectory, cylinder, times, np.random.default_rng(5))
    spark = next(s for s in sparks(trajectory, cylinder) if s.at_s > 0.05)
    after = times - spark.at_s
    quiet = kv[(after > 0.0002) & (after < 0.006)]
    smooth = np.convolve(quiet, np.ones(37) / 37, mode="same")
    return float(np.ptp((quiet - smooth)[60:-60]))


def cam_edge(trajectory: Trajectory) -> float:
    """Crank angle, modulo 720, at which the cam sensor first rises."""
    times = times_of(trajectory, 50_000.0)
    level = cam_sensor(trajectory, times)
    rises = np.flatnonzero((level[1:] > 2.5) & (level[:-1] <= 2.5))
    wide = [
        trajectory.angle_at(times[[r]])[0] for r in rises if (level[r + 1 : r + 1 + int(0.02 * 50_000)] > 2.5).all()
    ]
    return float(wide[0] % 720)

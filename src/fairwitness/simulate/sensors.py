"""Crank wheel and cam sensor: teeth with their spacing errors, induced or switched voltages."""

from __future__ import annotations

from zlib import crc32

import numpy as np

from fairwitness.core.model.angles import signed
from fairwitness.core.model.engine import REVOLUTION_DEG, FloatArray
from fairwitness.simulate.trajectory import Motion, Trajectory
from fairwitness.simulate.worlds.dynamics import rings

SUPPLY_V = 5.0
TWIST_GRID_HZ = 5_000.0
TWIST_DAMPING = 0.06
"""[M] of a crank's first torsional mode."""
CAM_WINDOWS_DEG = ((-130.0, 50.0), (230.0, 270.0))
"""Crank angles, from TDC compression of the first of the firing order, in which the cam sensor is high: two windows of
unlike width tell the two revolutions apart."""


def spacing_errors(trajectory: Trajectory) -> FloatArray:
    """Where each tooth really sits, degrees from its place; the same for the same wheel."""
    sensors = trajectory.vehicle.sensors
    rng = np.random.default_rng(crc32(f"{trajectory.vehicle.label} {sensors.wheel.teeth}".encode()))
    return np.asarray(rng.normal(0.0, sensors.spacing_error_deg, sensors.wheel.teeth))


def crank_sensor(trajectory: Trajectory, times: FloatArray) -> FloatArray:
    """Voltage of the crank sensor.

    A variable-reluctance sensor gives a voltage that grows with speed and crosses zero in the middle of a tooth; a
    Hall sensor is high over a tooth.

    Parameters
    ----------
    trajectory : Trajectory
    times : (n,) float, s

    Returns
    -------
    (n,) float, V
    """
    sensors = trajectory.vehicle.sensors
    teeth, missing = sensors.wheel.teeth, sensors.wheel.missing
    pitch = REVOLUTION_DEG / teeth
    after_gap = sensors.wheel.tdc1_deg_after_gap or 0.0
    first = trajectory.vehicle.engine.tdc_deg(1) - after_gap
    place = (_seen_deg(trajectory, times) - first) / pitch
    nearest = np.rint(place)
    number = nearest.astype(np.int64) % teeth
    away = place - nearest - (spacing_errors(trajectory) / pitch)[number]
    there = number < teeth - missing
    if sensors.hall:
        return np.asarray(np.where(there & (np.abs(away) < 0.25), SUPPLY_V, 0.1))
    speed = np.interp(times, trajectory.run.time_s, trajectory.run.speed_rpm) / trajectory.vehicle.running.idle_rpm
    sign = -1.0 if sensors.reversed else 1.0
    return np.asarray(np.where(there, sign * sensors.volts_at_idle * speed * np.sin(-2 * np.pi * away), 0.0))


def _seen_deg(trajectory: Trajectory, times: FloatArray) -> FloatArray:
    """Crank angle at the wheel: a wheel that runs out, and a crank that winds up and rings after each firing."""
    sensors = trajectory.vehicle.sensors
    angle = trajectory.angle_at(times)
    if sensors.runout_deg:
        angle = angle + sensors.runout_deg * np.cos(np.deg2rad(angle - sensors.runout_at_deg))
    if sensors.twist_deg and trajectory.motion is Motion.RUNNING:
        grid = np.arange(0.0, trajectory.seconds, 1 / TWIST_GRID_HZ)
        speed = np.interp(grid, trajectory.run.time_s, trajectory.run.speed_rpm)
        wound = rings(np.gradient(speed), TWIST_GRID_HZ, sensors.twist_hz, TWIST_DAMPING)
        angle = angle + np.interp(times, grid, wound * sensors.twist_deg / max(float(wound.std()), 1e-12))
    return np.asarray(angle)


def cam_sensor(trajectory: Trajectory, times: FloatArray) -> FloatArray:
    """Hall cam sensor; moves with the cam where the timing is shifted.

    Parameters
    ----------
    trajectory : Trajectory
    times : (n,) float, s

    Returns
    -------
    (n,) float, V
    """
    late = trajectory.cylinders[trajectory.vehicle.engine.firing_order[0]].healths[-1].valves_late_deg
    at = signed(trajectory.angle_at(times) - late)
    high = np.zeros(times.size, dtype=np.bool_)
    for begin, end in CAM_WINDOWS_DEG:
        high |= (at >= begin) & (at < end)
    return np.asarray(np.where(high, SUPPLY_V, 0.1))

"""Pressure pulses outside the cylinders: tailpipe, intake and crankcase, with their travel times."""

from __future__ import annotations

import numpy as np
import scipy

from fairwitness.core.model.angles import signed
from fairwitness.core.model.engine import CYCLE_DEG, FloatArray
from fairwitness.simulate.cranking import ATMOSPHERE_PA
from fairwitness.simulate.gas import tables_for
from fairwitness.simulate.health import Health, LeakPath
from fairwitness.simulate.trajectory import CRANKING_RPM, Motion, Trajectory
from fairwitness.simulate.worlds.dynamics import echoed, resonant
from fairwitness.simulate.worlds.parts import GasColumn

GRID_HZ = 5_000.0
"""Gas columns are slow: pulses are computed on this grid and read between."""
EXHAUST_OPENS_DEG, EXHAUST_FLOW_DEG = 130.0, 60.0
EXHAUST_PA_PER_PA = 0.009
"""[M] tailpipe pressure per excess pressure at the valve."""
INTAKE_PA_PER_M3_RAD = 2.4e6
"""[M] dip at the probe for a piston that draws this much volume per radian."""
BACK_FLOW_PA_PER_PA = 0.0022
CRANKCASE_PA_PER_PA = 0.0011
CRANKCASE_SOUND_PA = 40.0
"""[M] breathing of a sound crankcase."""
SMOOTH_S = 0.003
INTAKE_TRAVEL_S, CRANKCASE_TRAVEL_S = 0.0015, 0.004


def exhaust_pa(trajectory: Trajectory, times: FloatArray) -> FloatArray:
    """Pressure at the tailpipe above atmosphere.

    A sound cylinder still holds pressure when its exhaust valve opens and pushes; one that did not burn has less than
    the atmosphere left and pulls.

    Parameters
    ----------
    trajectory : Trajectory
    times : (n,) float, s

    Returns
    -------
    (n,) float, Pa
    """
    running = trajectory.vehicle.running
    speed = running.exhaust_speed_m_s if trajectory.motion is Motion.RUNNING else running.cranking_exhaust_speed_m_s
    column = trajectory.vehicle.acoustics.exhaust
    grid, usual = _grid(trajectory)
    flow = np.zeros(grid.size)
    for cylinder, cycles in trajectory.cylinders.items():
        health = cycles.healths[-1]
        angle = _late(trajectory, grid, usual, column.path_s(cylinder))
        at = signed(angle - cycles.tdc_deg[0])
        if health.exhaust_opens:
            opens = min(EXHAUST_OPENS_DEG + health.valves_late_deg, 175.0)
            out = (at > opens) & (at < opens + EXHAUST_FLOW_DEG)
            left = trajectory.pressure(cylinder, angle - at + opens - 2.0) - trajectory.exhaust_pa
            flow += np.where(out, left * np.sin(np.pi * (at - opens) / EXHAUST_FLOW_DEG), 0.0)
        if health.leak_path is LeakPath.EXHAUST:
            flow += 0.25 * (1 - health.sealing) * _excess(trajectory, cylinder, angle)
    return _arrived(EXHAUST_PA_PER_PA * flow, grid, times, running.exhaust_m / speed, column)


def intake_pa(trajectory: Trajectory, times: FloatArray) -> FloatArray:
    """Pressure in the intake above its mean: every cylinder pulls while it breathes in.

    Parameters
    ----------
    trajectory : Trajectory
    times : (n,) float, s

    Returns
    -------
    (n,) float, Pa
    """
    acoustics = trajectory.vehicle.acoustics
    grid, usual = _grid(trajectory)
    total = np.zeros(grid.size)
    density = np.interp(grid, trajectory.run.time_s, trajectory.manifold_pa) / ATMOSPHERE_PA
    for cylinder, cycles in trajectory.cylinders.items():
        health = cycles.healths[-1]
        angle = _late(trajectory, grid, usual, acoustics.intake.path_s(cylinder))
        at = signed(angle - cycles.tdc_deg[0])
        table = trajectory.tables[cylinder]
        slope = np.interp(at, np.linspace(-CYCLE_DEG / 2, CYCLE_DEG / 2, table.slope.size, endpoint=False), table.slope)
        if health.intake_opens:
            late = health.valves_late_deg
            drawing = (at > -360.0 + late) & (at < -140.0 + late)
            pull = INTAKE_PA_PER_M3_RAD * (1 - acoustics.leak_takes_pull * (1 - health.sealing))
            total -= np.where(drawing, pull * slope.clip(0) * density, 0.0)
        if health.leak_path is LeakPath.INTAKE:
            total += BACK_FLOW_PA_PER_PA * (1 - health.sealing) * _excess(trajectory, cylinder, angle)
        if not health.exhaust_opens:
            burst = (at > -360.0) & (at < -320.0)
            total += np.where(burst, 2.0 * BACK_FLOW_PA_PER_PA * 4e5, 0.0)
    return _arrived(total - total.mean(), grid, times, INTAKE_TRAVEL_S, acoustics.intake)


def crankcase_pa(trajectory: Trajectory, times: FloatArray) -> FloatArray:
    """Pressure in the crankcase above its mean.

    Parameters
    ----------
    trajectory : Trajectory
    times : (n,) float, s

    Returns
    -------
    (n,) float, Pa
    """
    grid, angle = _grid(trajectory)
    total = CRANKCASE_SOUND_PA * np.sin(np.deg2rad(2 * angle))
    for cylinder, cycles in trajectory.cylinders.items():
        health = cycles.healths[-1]
        leak = 0.004 + (1 - health.sealing if health.leak_path is LeakPath.CRANKCASE else 0.0)
        total += CRANKCASE_PA_PER_PA * leak * _excess(trajectory, cylinder, angle)
    return _arrived(total - total.mean(), grid, times, CRANKCASE_TRAVEL_S)


def _excess(trajectory: Trajectory, cylinder: int, angle: FloatArray) -> FloatArray:
    """What a sound cylinder would hold above the atmosphere: the gas a leak lets through is the gas that is missing."""
    cycles = trajectory.cylinders[cylinder]
    charge = float(np.median(cycles.charge_pa))
    speed = float(np.median(trajectory.run.speed_rpm)) or CRANKING_RPM
    table = tables_for(
        trajectory.vehicle.turning, Health(), speed_rpm=round(speed, -1) or CRANKING_RPM, charge_pa=charge
    )
    at = signed(angle - cycles.tdc_deg[0])
    flat = np.full(at.size, charge)
    return np.asarray((table.pressure(at, flat, np.zeros(at.size), trajectory.exhaust_pa) - ATMOSPHERE_PA).clip(0))


def _grid(trajectory: Trajectory) -> tuple[FloatArray, FloatArray]:
    grid = np.arange(0.0, trajectory.seconds, 1 / GRID_HZ)
    return grid, trajectory.angle_at(grid)


def _late(trajectory: Trajectory, grid: FloatArray, usual: FloatArray, path_s: float) -> FloatArray:
    """Crank angle that is heard now, where a cylinder has further to go than the others."""
    return trajectory.angle_at(grid - path_s) if path_s else usual


STRAIGHT = GasColumn()


def _arrived(
    source: FloatArray, grid: FloatArray, times: FloatArray, delay_s: float, column: GasColumn = STRAIGHT
) -> FloatArray:
    """Smoothed by the gas column, late by its travel time, with what the pipe sends back and makes louder."""
    source = echoed(source, GRID_HZ, column.echo, column.echo_s)
    source = resonant(source, GRID_HZ, column.ring_hz, column.ring_gain, column.ring_q)
    keep = float(np.exp(-1 / (GRID_HZ * SMOOTH_S)))
    smooth = scipy.signal.lfilter([1 - keep], [1, -keep], source)
    return np.asarray(np.interp(times - delay_s, grid, smooth))

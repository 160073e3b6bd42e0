"""Injector current and voltage, from a resistance, an inductance, a needle and a driver."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from fairwitness.core.model.engine import REVOLUTION_DEG, FloatArray, InjectorDrive
from fairwitness.simulate.health import Health
from fairwitness.simulate.trajectory import Motion, Trajectory
from fairwitness.simulate.vehicle import InjectionBuild

IDLE_CHARGE_PA = 30_000.0
ON_TIME_MIN_S, ON_TIME_MAX_S = 0.0012, 0.014
DIP_WIDTH_S = 0.00013
DRIVER_LIMIT_A = 6.0
"""[M] a shorted winding is held here by the driver's protection."""
HOLD_DECAY_S = 0.0004
EDDIES_FASTER = 6.0
"""[M] how much sooner the part that eddy currents carry has risen."""
KICK_S = 0.00018
BUMP_V, BUMP_WIDTH_S = 1.4, 0.00016
RIPPLE_A, RIPPLE_HZ = 0.12, 12_000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Injection:
    """One opening of one injector as commanded."""

    at_s: float
    on_s: float
    health: Health


def injections(trajectory: Trajectory, cylinder: int) -> Iterator[Injection]:
    """Every commanded injection of a cylinder in time order; none while the fuel is disabled for cranking.

    Parameters
    ----------
    trajectory : Trajectory
    cylinder : int

    Yields
    ------
    Injection
    """
    if trajectory.motion is Motion.CRANKING:
        return
    build = trajectory.vehicle.injection
    cycles = trajectory.cylinders[cylinder]
    begins = trajectory.time_at(cycles.tdc_deg + build.start_deg)
    again = trajectory.time_at(cycles.tdc_deg + build.start_deg + REVOLUTION_DEG)
    meant = np.interp(
        np.nan_to_num(begins), trajectory.run.time_s, trajectory.manifold_pa
    )  # one pressure for all cylinders
    for k, at in enumerate(begins):
        if not np.isfinite(at):
            continue
        on = build.on_time_s * float(meant[k]) / IDLE_CHARGE_PA
        own = cycles.healths[k]
        health = replace(own, injector_ohm=own.injector_ohm * build.own_ohm(cylinder)) if build.spread else own
        on_s = min(max(0.6 * on if build.twice else on, ON_TIME_MIN_S), ON_TIME_MAX_S)
        yield Injection(at_s=float(at), on_s=on_s, health=health)
        if build.twice and np.isfinite(again[k]):
            yield Injection(at_s=float(again[k]), on_s=on_s, health=health)


def injector_current(trajectory: Trajectory, cylinders: tuple[int, ...], times: FloatArray) -> FloatArray:
    """Current in the common feed of some injectors.

    Parameters
    ----------
    trajectory : Trajectory
    cylinders : tuple of int
    times : (n,) float, s

    Returns
    -------
    (n,) float, A
    """
    build = trajectory.vehicle.injection
    volts = float(np.mean(trajectory.run.battery_v))
    total = np.zeros(times.size)
    for cylinder in cylinders:
        for injection in injections(trajectory, cylinder):
            if injection.health.injector_always_on:
                continue
            if not injection.health.injector_runs:
                continue
            begin, end = np.searchsorted(times, (injection.at_s, injection.at_s + injection.on_s + 8 * build.decay_s))
            since = times[begin:end] - injection.at_s
            total[begin:end] += current_of(build, injection.health, volts, since, injection.on_s)
        total += _stuck_on(trajectory, cylinder, times, build, volts)
    return total


def current_of(build: InjectionBuild, health: Health, volts: float, since: FloatArray, on_s: float) -> FloatArray:
    """Current of one injector from switch-on.

    Parameters
    ----------
    since : (n,) float, s
    on_s : float, s

    Returns
    -------
    (n,) float, A
    """
    ohm, henry = build.ohm * health.injector_ohm, build.henry * health.injector_inductance
    held = np.minimum(since, on_s)
    if build.drive is InjectorDrive.BOOSTED:
        amps = _peak_then_hold(build.boost_v, ohm, henry, build, held)
        amps = amps + np.where(held > 0.0006, RIPPLE_A * np.sign(np.sin(2 * np.pi * RIPPLE_HZ * held)), 0.0)
    elif build.drive is InjectorDrive.PEAK_AND_HOLD:
        amps = _peak_then_hold(volts - build.driver_drop_v, ohm, henry, build, held)
    else:
        rise = 1 - np.exp(-held * ohm / henry)
        if build.eddy_share:
            at_once = 1 - np.exp(-EDDIES_FASTER * held * ohm / henry)
            rise = build.eddy_share * at_once + (1 - build.eddy_share) * rise
        amps = (volts - build.driver_drop_v) / ohm * rise
        if health.pintle_moves:
            plateau = (volts - build.driver_drop_v) / ohm
            amps = amps - build.dip * plateau * np.exp(-(((held - build.lift_s) / DIP_WIDTH_S) ** 2))
    amps = np.minimum(amps, max(DRIVER_LIMIT_A, 1.5 * build.peak_a))
    return np.asarray(amps * np.exp(-(since - on_s).clip(0) / build.decay_s))


def _peak_then_hold(drive_v: float, ohm: float, henry: float, build: InjectionBuild, held: FloatArray) -> FloatArray:
    rise = drive_v / ohm * (1 - np.exp(-held * ohm / henry))
    reached = drive_v / ohm
    if reached <= build.peak_a:
        return np.asarray(rise)
    peak_s = -henry / ohm * np.log(1 - build.peak_a / reached)
    fall = build.hold_a + (build.peak_a - build.hold_a) * np.exp(-(held - peak_s).clip(0) / HOLD_DECAY_S)
    return np.asarray(np.where(held < peak_s, rise, fall))


def _stuck_on(
    trajectory: Trajectory, cylinder: int, times: FloatArray, build: InjectionBuild, volts: float
) -> FloatArray | float:
    health = trajectory.cylinders[cylinder].healths[-1]
    if not health.injector_always_on:
        return 0.0
    level = build.hold_a if build.drive is not InjectorDrive.SATURATED else volts / (build.ohm * health.injector_ohm)
    return np.full(times.size, level)


def injector_volts(trajectory: Trajectory, cylinder: int, times: FloatArray, *, at_unit: bool = False) -> FloatArray:
    """Voltage on the control side of one injector.

    Parameters
    ----------
    trajectory : Trajectory
    cylinder : int
    times : (n,) float, s
    at_unit : bool
        Measured at the control unit's own pin.

    Returns
    -------
    (n,) float, V
    """
    build = trajectory.vehicle.injection
    supply = np.interp(times, trajectory.run.time_s, trajectory.run.battery_v)
    level = np.empty(times.size)
    last = 0
    for injection in injections(trajectory, cylinder):
        end = int(np.searchsorted(times, injection.at_s))
        level[last:end] = _resting(build, injection.health, supply[last:end], at_unit=at_unit)
        last = end
    level[last:] = _resting(build, trajectory.cylinders[cylinder].healths[-1], supply[last:], at_unit=at_unit)
    for injection in injections(trajectory, cylinder):
        health = injection.health
        pulled = health.injector_command_at_unit and not health.cut and not health.injector_always_on
        if not pulled or not (at_unit or health.injector_command_at_part):
            continue
        off = injection.at_s + injection.on_s
        begin, switch, end = np.searchsorted(times, (injection.at_s, off, off + 0.004))
        level[begin:switch] = build.driver_drop_v
        if health.injector_closed_circuit and health.injector_feed and health.injector_command_at_part:
            since = times[switch:end] - off
            if health.injector_inductance > 0.5:
                level[switch:end] += _kick(build, health, supply[switch:end], since)
    return level


def _resting(build: InjectionBuild, health: Health, supply: FloatArray, *, at_unit: bool) -> FloatArray | float:
    """What the control side shows while the injector should be shut."""
    if health.injector_always_on:
        return build.driver_drop_v
    connected = health.injector_closed_circuit and health.injector_feed
    if not at_unit and not health.injector_command_at_part:
        return supply if connected else 0.0
    return supply if connected and health.injector_command_at_part else build.bias_v


def _kick(build: InjectionBuild, health: Health, supply: FloatArray, since: FloatArray) -> FloatArray:
    flowing = min(1.0, 1.0 / health.injector_ohm)  # less current, less field to give back
    clamped = build.kick_v * flowing - supply
    fall = clamped * np.where(since < KICK_S, 1.0, np.exp(-(since - KICK_S).clip(0) / 0.0003))
    bump = BUMP_V * np.exp(-(((since - build.close_s) / BUMP_WIDTH_S) ** 2)) if health.pintle_moves else 0.0
    return np.asarray(fall + bump)

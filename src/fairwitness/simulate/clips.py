"""What is at the leads of instruments clipped on the vehicle, and what their front ends make of it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from fairwitness.core.errors import SimulationError
from fairwitness.core.model.capture import Channel, Role
from fairwitness.core.model.engine import FloatArray
from fairwitness.core.procedures.set_up_card import USUAL, Clip
from fairwitness.simulate import ignition, injection, pulses, sensors
from fairwitness.simulate.trajectory import Trajectory
from fairwitness.simulate.worlds.dynamics import high_pass, low_pass, rings
from fairwitness.simulate.worlds.parts import Leads

NOISE_OF: dict[Role, float] = {
    Role.STARTER_CURRENT: 2.0,
    Role.BATTERY_VOLTAGE: 0.012,
    Role.CRANK_SENSOR: 0.04,
    Role.CAM_SENSOR: 0.03,
    Role.COIL_CONTROL: 0.03,
    Role.COIL_CURRENT: 0.05,
    Role.SECONDARY_VOLTAGE: 0.06,
    Role.INJECTOR_VOLTAGE: 0.15,
    Role.INJECTOR_CURRENT: 0.012,
    Role.CYLINDER_PRESSURE: 0.02,
    Role.EXHAUST_PRESSURE: 0.03,
    Role.INTAKE_PRESSURE: 0.004,
    Role.CRANKCASE_PRESSURE: 0.004,
}
"""[M] standard deviation in a workshop, in the role's unit."""
LEVELS: dict[str, float] = {"clean": 0.0, "workshop": 1.0, "hostile": 3.0}
BITS = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class FrontEnd:
    """What happens between the lead and the number."""

    noise: float = 0.0
    gain: float = 1.0
    zero: float = 0.0
    reach: float = 20.0
    """Full scale each way; beyond it the input clips."""
    bits: int | None = BITS

    def digitised(self, signal: FloatArray, rng: Generator) -> FloatArray:
        """The numbers an instrument gives for a signal.

        Parameters
        ----------
        signal : (n,) float
        rng : numpy Generator

        Returns
        -------
        (n,) float
        """
        seen = self.gain * signal + self.zero
        if self.noise:
            seen = seen + rng.normal(0.0, self.noise, signal.size)
        seen = np.clip(seen, -self.reach, self.reach)
        if self.bits is None:
            return np.asarray(seen)
        step = 2 * self.reach / 2**self.bits
        return np.asarray(np.rint(seen / step) * step + 0.0)


def front_end(role: Role, level: str, rng: Generator, *, bits: int = 0) -> FrontEnd:
    """A usual input for a role: a clamp has a zero error, a pick-up an unknown gain.

    Parameters
    ----------
    role : Role
    level : str
        clean, workshop or hostile.
    rng : numpy Generator
    bits : int
        Of the converter; 0 as the level says.

    Returns
    -------
    FrontEnd

    Raises
    ------
    SimulationError
        No such level.
    """
    if level not in LEVELS:
        raise SimulationError(f"There is no level {level!r}.", where="level", remedy=f"Use one of {', '.join(LEVELS)}.")
    scale = LEVELS[level]
    converter = bits or (BITS if scale else None)
    end = FrontEnd(noise=scale * NOISE_OF.get(role, 0.0), reach=USUAL[role].reach, bits=converter)
    if scale and role in (Role.STARTER_CURRENT, Role.COIL_CURRENT, Role.INJECTOR_CURRENT):
        end = replace(end, gain=1 + 0.02 * float(rng.normal()), zero=0.006 * end.reach * float(rng.normal()))
    if scale and role is Role.SECONDARY_VOLTAGE:
        end = replace(end, gain=1 + 0.04 * float(rng.normal()))
    return end


def signal(trajectory: Trajectory, clip: Clip, times: FloatArray, rng: Generator) -> FloatArray:
    """What is at the lead, in the role's unit.

    Parameters
    ----------
    trajectory : Trajectory
    clip : Clip
    times : (n,) float, s
    rng : numpy Generator

    Returns
    -------
    (n,) float

    Raises
    ------
    SimulationError
        A signal of one cylinder without the cylinder.
    """
    role, everyone = clip.role, tuple(range(1, trajectory.vehicle.engine.cylinders + 1))
    own = (clip.cylinder,) if clip.cylinder is not None else (clip.feeds or everyone)
    if role in NEEDS_CYLINDER and clip.cylinder is None:
        raise SimulationError(f"{clip.label} belongs to one cylinder.", where="clip", remedy="Say which.")
    if role is Role.STARTER_CURRENT:
        return np.asarray(np.interp(times, trajectory.run.time_s, trajectory.run.current_a))
    if role is Role.BATTERY_VOLTAGE:
        return np.asarray(np.interp(times, trajectory.run.time_s, trajectory.run.battery_v))
    if role is Role.COIL_CURRENT:
        return ignition.coil_current(trajectory, own, times)
    if role is Role.INJECTOR_CURRENT:
        return injection.injector_current(trajectory, own, times)
    if role is Role.CRANK_SENSOR:
        return sensors.crank_sensor(trajectory, times)
    if role is Role.CAM_SENSOR:
        return sensors.cam_sensor(trajectory, times)
    if role is Role.EXHAUST_PRESSURE:
        return pulses.exhaust_pa(trajectory, times) / 1e3
    if role is Role.INTAKE_PRESSURE:
        return pulses.intake_pa(trajectory, times) / 1e3
    if role is Role.CRANKCASE_PRESSURE:
        return pulses.crankcase_pa(trajectory, times) / 1e3
    cylinder = own[0]
    if role is Role.COIL_CONTROL:
        return ignition.coil_command(trajectory, cylinder, times, at_unit=clip.at_unit, unplugged=clip.unplugged)
    if role is Role.SECONDARY_VOLTAGE:
        return ignition.secondary_kv(trajectory, cylinder, times, rng)
    if role is Role.INJECTOR_VOLTAGE:
        return injection.injector_volts(trajectory, cylinder, times, at_unit=clip.at_unit)
    if role is Role.CYLINDER_PRESSURE:
        return trajectory.pressure(cylinder, trajectory.angle_at(times)) / 1e5
    return np.zeros(times.size)


def at_the_number(leads: Leads, role: Role, samples: FloatArray, rate_hz: float) -> FloatArray:
    """A signal as its lead passes it on: hoses, clamps, pick-ups and transducers have dynamics of their own.

    Parameters
    ----------
    leads : Leads
    role : Role
    samples : (n,) float
    rate_hz : float, Hz

    Returns
    -------
    (n,) float
    """
    if role in PULSE_ROLES:
        if leads.pulse_lag_s:
            samples = low_pass(samples, rate_hz, 1 / (2 * np.pi * leads.pulse_lag_s))
        late = round(leads.pulse_delay_s * rate_hz)
        if late:
            samples = np.concatenate((np.full(late, samples[0]), samples[:-late]))
        return high_pass(samples, rate_hz, leads.pulse_high_pass_hz)
    if role in SMALL_CLAMPS:
        held = high_pass(samples, rate_hz, leads.small_clamp_high_pass_hz)
        return low_pass(held, rate_hz, leads.small_clamp_low_pass_hz)
    if role is Role.STARTER_CURRENT:
        return low_pass(samples, rate_hz, leads.large_clamp_low_pass_hz)
    if role is Role.SECONDARY_VOLTAGE:
        return leads.pick_up_gain * high_pass(samples, rate_hz, leads.pick_up_high_pass_hz)
    if role is Role.CYLINDER_PRESSURE:
        rung = rings(samples, rate_hz, leads.transducer_hz, leads.transducer_damping)
        return rung + leads.transducer_drift_bar_s * np.arange(samples.size) / rate_hz
    return samples


PULSE_ROLES = (Role.EXHAUST_PRESSURE, Role.INTAKE_PRESSURE, Role.CRANKCASE_PRESSURE)
SMALL_CLAMPS = (Role.COIL_CURRENT, Role.INJECTOR_CURRENT)
NEEDS_CYLINDER = (Role.COIL_CONTROL, Role.SECONDARY_VOLTAGE, Role.INJECTOR_VOLTAGE, Role.CYLINDER_PRESSURE)


def channel_of(clip: Clip, samples: FloatArray) -> Channel:
    """A channel of a capture, with what is known of where it was clipped."""
    return Channel(
        name=clip.label,
        role=clip.role,
        unit=clip.usual.unit,
        samples=samples.astype(np.float32),
        cylinder=clip.cylinder,
        feeds=clip.feeds,
        sync=clip.sync,
        measured_at="control_unit" if clip.at_unit else None,
        unplugged=True if clip.unplugged else None,
    )

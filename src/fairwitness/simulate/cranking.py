"""A cranking engine from first principles: gas, starter motor, flywheel, battery.

Shares nothing with the measurements but the engine model, so that each can test the other.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

from fairwitness.core.model.engine import CYCLE_DEG, Engine, FloatArray, cylinder_volume

TABLE_DEG = 1.0
"""Resolution of the gas torque table."""

ATMOSPHERE_PA = 101_325.0

FIELD_LEAST, FIELD_GROWS = 0.4, 1.2
"""[M] a series-wound field: what remains without current, and how it grows; one at the current it is named for."""

LEAK_MAX_PER_S = 3000.0
"""Widest leak looked for, in clearance volumes per second of choked flow: a hole."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CylinderGeometry:
    """One cylinder's volume, the law its gas follows and when its valves shut it, degrees after TDC compression."""

    swept_m3: float = 5.0e-4
    compression_ratio: float = 10.5
    rod_ratio: float = 3.4
    polytropic: float = 1.30
    intake_closing_deg: float = -130.0
    exhaust_opening_deg: float = 130.0
    heat_lost: float = 0.0
    blowdown_deg: float = 22.0
    burn_deg: float = 55.0
    burn_start_deg: float = -9.0

    @property
    def clearance_m3(self) -> float:
        """Volume left at top dead centre, m3."""
        return self.swept_m3 / (self.compression_ratio - 1)

    def volume(self, angle_deg: FloatArray) -> FloatArray:
        """(n,) float: volume at crank angles after TDC, in clearance volumes."""
        return cylinder_volume(angle_deg, compression_ratio=self.compression_ratio, rod_ratio=self.rod_ratio)


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankingVehicle:
    """What turns: one engine, its starter and its battery. SI units; typical values are from memory [M]."""

    engine: Engine
    sealing: tuple[float, ...] = ()
    """Per cylinder number: share of the sound peak pressure (above atmosphere) that a leak leaves at 200 rpm."""
    displacement_m3: float = 2.0e-3
    compression_ratio: float = 10.5
    rod_ratio: float = 3.4
    polytropic: float = 1.30
    """[M] 1.2 to 1.35 motoring at cranking speed."""
    intake_closing_deg: float = -130.0
    """Crank angle of effective intake closing before TDC compression [M]."""
    exhaust_opening_deg: float = 130.0
    heat_lost: float = 0.0
    """Share of the pressure that the walls take around TDC compression."""
    blowdown_deg: float = 22.0
    """[M] crank angle in which the excess pressure falls to 1/e after the exhaust valve opens."""
    burn_deg: float = 55.0
    """[M] 0 to 100 % burnt at idle."""
    burn_start_deg: float = -9.0
    """[M] spark plus delay."""
    inertia: float = 0.16
    """kg m2 of crank, flywheel and geared-up starter [M]."""
    friction_nm: float = 22.0
    friction_nm_s: float = 0.35
    friction_ripple: float = 0.0
    """Share of the friction that comes and goes over a turn, so many times, most after so many degrees."""
    friction_ripple_turns: int = 1
    friction_ripple_deg: float = 0.0
    starter_nm_per_a: float = 0.42
    """At the crankshaft, gear included [M]."""
    starter_ohm: float = 0.014
    """Motor, brushes and cables [M]."""
    starter_lag_s: float = 0.002
    """Electrical time constant L/R [M]."""
    flux_half_a: float | None = None
    """Current at which a series-wound field gives the torque above; None: magnets, always."""
    idling_a: float = 0.0
    """What the starter draws while the crank runs ahead of it."""
    battery_volt: float = 12.6
    battery_ohm: float = 0.006
    battery_sag_volt_s: float = 0.01
    """Loss of open-circuit voltage per second of cranking."""
    polarising_ohm: float = 0.0
    polarising_s: float = 1.0
    """Resistance that comes into play with this time constant."""

    @property
    def geometry(self) -> CylinderGeometry:
        """What one cylinder compresses with."""
        return CylinderGeometry(
            swept_m3=self.displacement_m3 / self.engine.cylinders,
            compression_ratio=self.compression_ratio,
            rod_ratio=self.rod_ratio,
            polytropic=self.polytropic,
            intake_closing_deg=self.intake_closing_deg,
            exhaust_opening_deg=self.exhaust_opening_deg,
            heat_lost=self.heat_lost,
            blowdown_deg=self.blowdown_deg,
            burn_deg=self.burn_deg,
            burn_start_deg=self.burn_start_deg,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankRun:
    """The true course of one crank, on the solver's own time grid."""

    time_s: FloatArray
    angle_deg: FloatArray
    """Unwrapped; TDC compression of the first of the firing order at multiples of 720."""
    speed_rpm: FloatArray
    current_a: FloatArray
    battery_v: FloatArray
    extra: dict[str, float] = field(default_factory=dict)


def gas_torque_table(vehicle: CrankingVehicle, *, speed_rpm: float = 200.0) -> FloatArray:
    """Gas torque on the crank against angle, all cylinders together.

    Parameters
    ----------
    vehicle : CrankingVehicle
    speed_rpm : float
        Speed at which leakage is evaluated.

    Returns
    -------
    (720 / TABLE_DEG,) float, N m
        Positive where the gas drives the crank; angle 0 is the first TDC of the firing order.
    """
    engine = vehicle.engine
    sealing = vehicle.sealing or (1.0,) * engine.cylinders
    total = np.zeros(int(CYCLE_DEG / TABLE_DEG))
    for position, cylinder in enumerate(engine.firing_order):
        torque = _cylinder_torque(round(sealing[cylinder - 1], 2), vehicle.geometry, speed_rpm)
        total += np.roll(torque, round(engine.event_angles_deg[position] / TABLE_DEG))
    return total


def leak_for_sealing(sealing: float, geometry: CylinderGeometry, *, speed_rpm: float = 200.0) -> float:
    """Leak that leaves a given share of the sound peak pressure.

    Parameters
    ----------
    sealing : float, 0 to 1
        Share of the sound peak above atmosphere.
    geometry : CylinderGeometry
    speed_rpm : float

    Returns
    -------
    float
        Clearance volumes per second of choked flow.
    """
    if sealing >= 1.0:
        return 0.0
    _, sound = cylinder_pressure(geometry, leak_per_s=0.0, speed_rpm=speed_rpm)
    wanted = max(sealing, 0.01) * (float(sound.max()) - ATMOSPHERE_PA)
    low, high = 0.0, LEAK_MAX_PER_S
    for _ in range(16):
        middle = 0.5 * (low + high) if low else high / 8
        _, pressure = cylinder_pressure(geometry, leak_per_s=middle, speed_rpm=speed_rpm)
        # A hole so wide that air flows in again during expansion still has its peak before the exhaust opens at TDC.
        peak = float(pressure[: pressure.size // 2 + 1].max()) - ATMOSPHERE_PA
        low, high = (middle, high) if peak > wanted else (low, middle)
    return 0.5 * (low + high)


def cylinder_pressure(
    geometry: CylinderGeometry, *, leak_per_s: float, speed_rpm: float = 200.0
) -> tuple[FloatArray, FloatArray]:
    """Motoring pressure of one cylinder from -360 to 360 degrees, TDC compression at 0.

    Parameters
    ----------
    geometry : CylinderGeometry
    leak_per_s : float
        Choked flow through the leak, in clearance volumes per second; 0 is sound.

    Returns
    -------
    (angle_deg, pressure) : two (720 / TABLE_DEG,) float arrays, degrees and Pa
    """
    angle = np.arange(-CYCLE_DEG / 2, CYCLE_DEG / 2, TABLE_DEG)
    volume = geometry.volume(angle)
    log_volume = np.log(volume)
    leak = leak_per_s * TABLE_DEG / (6.0 * speed_rpm)
    pressure = np.full_like(angle, ATMOSPHERE_PA)
    closed = (angle > geometry.intake_closing_deg) & (angle < geometry.exhaust_opening_deg)
    steps = 4
    now = ATMOSPHERE_PA
    for i in np.flatnonzero(closed):
        rise = np.exp(-geometry.polytropic * (log_volume[i] - log_volume[i - 1]) / steps)
        for _ in range(steps):
            now *= rise
            inflow = _orifice(ATMOSPHERE_PA / now) if now < ATMOSPHERE_PA else -_orifice(now / ATMOSPHERE_PA)
            upstream = max(now, ATMOSPHERE_PA) / now
            now *= np.exp(geometry.polytropic * inflow * upstream * leak / steps / volume[i])
        pressure[i] = now
    return angle, pressure


def _orifice(ratio: float) -> float:
    """Flow through an orifice as a share of choked flow, for an upstream over downstream pressure ratio of 1 or more.

    Compressible flow of air, Heywood appendix C [P].
    """
    gamma = 1.4
    critical = ((gamma + 1) / 2) ** (gamma / (gamma - 1))
    if ratio >= critical:
        return 1.0
    back = 1.0 / ratio
    flow = back ** (1 / gamma) * np.sqrt(2 * gamma / (gamma - 1) * (1 - back ** ((gamma - 1) / gamma)))
    choked = np.sqrt(gamma) * (2 / (gamma + 1)) ** ((gamma + 1) / (2 * (gamma - 1)))
    return float(flow / choked)


@lru_cache(maxsize=512)
def _cylinder_torque(sealing: float, geometry: CylinderGeometry, speed_rpm: float) -> FloatArray:
    leak = leak_for_sealing(sealing, geometry, speed_rpm=speed_rpm)
    angle, pressure = cylinder_pressure(geometry, leak_per_s=leak, speed_rpm=speed_rpm)
    slope = np.gradient(geometry.volume(angle) * geometry.clearance_m3, np.deg2rad(TABLE_DEG))
    torque = (pressure - ATMOSPHERE_PA) * slope
    return np.roll(torque, -torque.size // 2)  # TDC to index 0


def crank(
    vehicle: CrankingVehicle,
    *,
    seconds: float,
    rest_s: float = 0.4,
    start_angle_deg: float = 0.0,
    step_s: float = 0.0005,
    torque: FloatArray | None = None,
) -> CrankRun:
    """Turn the engine over.

    Parameters
    ----------
    vehicle : CrankingVehicle
    seconds : float, s
        Whole length, the rest before the starter engages included.
    rest_s : float, s
    start_angle_deg : float, degrees of crank
    step_s : float, s
        Solver step (midpoint rule).
    torque : (720 / TABLE_DEG,) float, N m, optional
        Gas torque against angle, where it is known better than from the sealing alone.

    Returns
    -------
    CrankRun
    """
    table = (gas_torque_table(vehicle) if torque is None else torque).tolist()
    size = len(table)
    steps = int(seconds / step_s)
    resist = vehicle.battery_ohm + vehicle.starter_ohm
    ripple, turns = vehicle.friction_ripple, vehicle.friction_ripple_turns
    ripple_at = math.radians(vehicle.friction_ripple_deg)
    polarising = min(1.0, step_s / vehicle.polarising_s)
    lost = 0.0
    to_table = np.rad2deg(1.0) / TABLE_DEG
    angles, speeds, currents, volts = (np.empty(steps) for _ in range(4))
    theta, omega, current = np.deg2rad(start_angle_deg), 0.0, 0.0

    def load(at: float, speed: float) -> float:
        where = at * to_table
        low = int(where)
        part = where - low
        gas: float = table[low % size] * (1 - part) + table[(low + 1) % size] * part
        rubbing = vehicle.friction_nm + vehicle.friction_nm_s * speed
        if ripple:
            rubbing *= 1 + ripple * math.cos(turns * at - ripple_at)
        return gas - rubbing

    def torque_per_a(amps: float) -> float:
        if vehicle.flux_half_a is None:
            return vehicle.starter_nm_per_a
        return vehicle.starter_nm_per_a * (FIELD_LEAST + FIELD_GROWS * amps / (amps + vehicle.flux_half_a))

    lag = min(1.0, step_s / vehicle.starter_lag_s)
    for i in range(steps):
        clock = i * step_s - rest_s
        source = vehicle.battery_volt - vehicle.battery_sag_volt_s * max(clock, 0.0)
        if clock >= 0:
            kt = torque_per_a(current)
            wanted = max((source - lost - kt * omega) / resist, vehicle.idling_a)
            current += (wanted - current) * lag
            lost += (vehicle.polarising_ohm * current - lost) * polarising
            drive = kt * (current if current > vehicle.idling_a else 0.0)
            pull = drive + load(theta, omega)
            if omega <= 0 and pull < 0:
                pull = 0.0
            half_speed = omega + 0.5 * step_s * pull / vehicle.inertia
            half_angle = theta + 0.5 * step_s * omega
            pull = drive + load(half_angle, half_speed)
            theta += step_s * half_speed
            omega = max(omega + step_s * pull / vehicle.inertia, 0.0)
        angles[i], speeds[i], currents[i] = theta, omega, current
        volts[i] = source - lost - current * vehicle.battery_ohm
    return CrankRun(
        time_s=np.arange(steps, dtype=np.float64) * step_s,
        angle_deg=np.rad2deg(angles),
        speed_rpm=speeds * 30 / np.pi,
        current_a=currents,
        battery_v=volts,
    )

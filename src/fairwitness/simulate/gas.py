"""Pressure in one cylinder over a whole cycle, as tables that scale with charge, heat and exhaust pressure."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from fairwitness.core.model.engine import CYCLE_DEG, FloatArray
from fairwitness.simulate.cranking import (
    ATMOSPHERE_PA,
    TABLE_DEG,
    CrankingVehicle,
    CylinderGeometry,
    _orifice,
    leak_for_sealing,
)
from fairwitness.simulate.health import Health, LeakPath

HALF = CYCLE_DEG / 2
GRID_DEG = np.arange(-HALF, HALF, TABLE_DEG)
"""Angle of every table: 0 is TDC compression."""
OVERLAP_DEG = 20.0
"""[M] crank angle in which the cylinder changes from exhaust to intake pressure after TDC."""
WALLS_DEG = 60.0
"""[M] the walls take their heat from so long before TDC compression to so long after."""
WIEBE_A, WIEBE_M = 5.0, 2.0
"""Heywood, ch. 9 [P]: usual values of the Wiebe function."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CycleTables:
    """Pressure of one cylinder as charge * p_charge + heat * q + exhaust * p_exhaust, each (720,) over ``GRID_DEG``.

    ``torque_*`` are the same times the piston's volume slope, N m per Pa; ``slope`` is that slope, m3 per radian.
    """

    charge: FloatArray
    heat: FloatArray
    """Pa per J of heat per m3 of clearance volume."""
    exhaust: FloatArray
    slope: FloatArray
    clearance_m3: float

    @property
    def torque_charge(self) -> FloatArray:
        """(720,) N m per Pa of charge pressure."""
        return self.charge * self.slope

    @property
    def torque_heat(self) -> FloatArray:
        """(720,) N m per J/m3 of heat."""
        return self.heat * self.slope

    @property
    def torque_exhaust(self) -> FloatArray:
        """(720,) N m per Pa of exhaust pressure."""
        return self.exhaust * self.slope

    def pressure(self, angle_deg: FloatArray, charge: FloatArray, heat: FloatArray, exhaust: float) -> FloatArray:
        """Pressure at angles with the state of the cycle each lies in.

        Parameters
        ----------
        angle_deg : (n,) float
            -360 to 360.
        charge, heat : (n,) float
        exhaust : float, Pa

        Returns
        -------
        (n,) float, Pa
        """
        at = (angle_deg + HALF) / TABLE_DEG
        low = np.minimum(at.astype(np.intp), GRID_DEG.size - 1)
        part = at - low
        high = np.minimum(low + 1, GRID_DEG.size - 1)
        total = np.zeros(angle_deg.size)
        for table, scale in ((self.charge, charge), (self.heat, heat), (self.exhaust, exhaust)):
            first = table[low]
            total += scale * (first + part * (table[high] - first))
        return total


def tables_for(vehicle: CrankingVehicle, health: Health, *, speed_rpm: float, charge_pa: float) -> CycleTables:
    """Tables of one cylinder near a speed and a charge pressure.

    Parameters
    ----------
    vehicle : CrankingVehicle
    health : Health
    speed_rpm : float
    charge_pa : float
        Pressure when the intake closes; what leaks depends on it.

    Returns
    -------
    CycleTables
    """
    valves = _Valves(
        sealing=round(health.sealing, 2),
        leaks_to_intake=health.leak_path is LeakPath.INTAKE,
        intake_opens=health.intake_opens,
        exhaust_opens=health.exhaust_opens,
        late_deg=round(health.valves_late_deg, 1),
    )
    return _tables(vehicle.geometry, valves, float(speed_rpm), float(charge_pa))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Valves:
    """What a cylinder's valves do, and how well it seals."""

    sealing: float
    leaks_to_intake: bool
    intake_opens: bool
    exhaust_opens: bool
    late_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class _ShutPhase:
    """The stretch in which both valves are shut, degrees after TDC compression, and what a leak sees meanwhile."""

    closes_deg: float
    opens_deg: float
    charge_pa: float
    outside_pa: float
    speed_rpm: float


@lru_cache(maxsize=512)
def _tables(geometry: CylinderGeometry, valves: _Valves, speed_rpm: float, charge_pa: float) -> CycleTables:
    volume, polytropic = geometry.volume(GRID_DEG), geometry.polytropic
    opens = min(geometry.exhaust_opening_deg + valves.late_deg, 175.0) if valves.exhaust_opens else HALF
    shut = _ShutPhase(
        closes_deg=geometry.intake_closing_deg + valves.late_deg,
        opens_deg=opens,
        charge_pa=charge_pa,
        outside_pa=charge_pa if valves.leaks_to_intake else ATMOSPHERE_PA,
        speed_rpm=speed_rpm,
    )
    kept = 1 - geometry.heat_lost * np.clip((GRID_DEG + WALLS_DEG) / (2 * WALLS_DEG), 0.0, 1.0)
    sound = kept * _closed(volume, polytropic, shut, 0.0)
    leaky = kept * _closed(volume, polytropic, shut, leak_for_sealing(valves.sealing, geometry))
    after = np.clip((GRID_DEG - opens) / geometry.blowdown_deg, 0.0, None)
    is_open = np.greater_equal(GRID_DEG, opens)
    left = np.where(is_open, np.exp(-after), 1.0)
    charge = np.where(is_open, leaky[max(0, int(opens + HALF) - 1)] * left, leaky)
    exhaust = np.where(is_open, 1.0 - left, 0.0)
    spring = (volume[0] / volume) ** polytropic
    charge, exhaust = _intake_stroke(charge, exhaust, spring, valves, geometry, shut.closes_deg)
    heat = _heat(volume, geometry) * np.clip(leaky / sound, 0.0, 1.0)
    heat = np.where(is_open, heat[max(0, int(min(opens, HALF - 1) + HALF) - 1)] * left, heat)
    return CycleTables(
        charge=charge,
        heat=heat,
        exhaust=exhaust,
        slope=np.gradient(volume * geometry.clearance_m3, np.deg2rad(TABLE_DEG)),
        clearance_m3=geometry.clearance_m3,
    )


def _closed(volume: FloatArray, polytropic: float, shut: _ShutPhase, leak_per_s: float) -> FloatArray:
    """Pressure over charge pressure while both valves are shut, 1 before; leakage by the orifice law."""
    pressure = np.ones(GRID_DEG.size)
    log_volume = np.log(volume)
    leak = leak_per_s * TABLE_DEG / (6.0 * shut.speed_rpm)
    outside_pa = shut.outside_pa
    steps, now = 4, shut.charge_pa
    for i in np.flatnonzero(np.greater(GRID_DEG, shut.closes_deg) & np.less(GRID_DEG, shut.opens_deg)):
        rise = np.exp(-polytropic * (log_volume[i] - log_volume[i - 1]) / steps)
        for _ in range(steps):
            now *= rise
            if leak > 0:
                inward = now < outside_pa
                flow = _orifice(outside_pa / now) if inward else -_orifice(now / outside_pa)
                now *= np.exp(polytropic * flow * max(now, outside_pa) / now * leak / steps / volume[i])
        pressure[i] = now / shut.charge_pa
    return pressure


def _intake_stroke(
    charge: FloatArray,
    exhaust: FloatArray,
    spring: FloatArray,
    valves: _Valves,
    geometry: CylinderGeometry,
    closes_deg: float,
) -> tuple[FloatArray, FloatArray]:
    """What the cylinder holds from TDC gas exchange on; ``spring`` is gas shut in at that TDC, as a share of it."""
    since = GRID_DEG + HALF
    if not valves.intake_opens:
        # The residual gas is a spring: it gives back at TDC what it took, and no charge ever enters.
        shut = exhaust == 0
        return np.where(shut, 0.0, charge * 0.0), np.where(shut, spring, exhaust)
    begin = max(0.0, valves.late_deg)
    before = closes_deg + HALF
    waiting = since < begin
    mixing = (since >= begin) & (since < min(begin + OVERLAP_DEG, before))
    entered = np.clip((since - begin) / OVERLAP_DEG, 0.0, 1.0)
    held = spring[int(begin / TABLE_DEG)]
    exhaust = np.where(waiting, spring, np.where(mixing, (1 - entered) * held, exhaust))
    charge = np.where(waiting, 0.0, np.where(mixing, entered, charge))
    if not valves.exhaust_opens:
        burst = np.exp(-since / geometry.blowdown_deg) * (since < before)
        charge = charge + (charge[-1] - 1.0) * burst  # last cycle's gas, pushed back into the intake
    return charge, exhaust


def _heat(volume: FloatArray, geometry: CylinderGeometry) -> FloatArray:
    """Pressure rise of unit heat per clearance volume: dp = (n - 1) dQ / V - n p dV / V has a closed solution."""
    polytropic = geometry.polytropic
    burnt_angle = np.clip((GRID_DEG - geometry.burn_start_deg) / geometry.burn_deg, 0.0, None)
    burnt = 1.0 - np.exp(-WIEBE_A * burnt_angle ** (WIEBE_M + 1))
    released = np.diff(burnt, prepend=0.0)
    gathered = np.cumsum((polytropic - 1) * volume ** (polytropic - 1) * released)
    return np.asarray(gathered / volume**polytropic)

"""What the engine did: one crank trajectory and the state of every cylinder in every cycle of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.random import Generator

from fairwitness.core.model.engine import CYCLE_DEG, FloatArray
from fairwitness.simulate.cranking import ATMOSPHERE_PA, CrankRun, crank
from fairwitness.simulate.gas import HALF, CycleTables, tables_for
from fairwitness.simulate.health import Fault, Health, healths, shows
from fairwitness.simulate.vehicle import Vehicle

CRANKING_RPM = 200.0
CRANKING_CHARGE_PA = 0.97 * ATMOSPHERE_PA
"""[M] open throttle, small loss through the valve."""


class Motion(StrEnum):
    """What turns the engine."""

    CRANKING = "cranking"
    RUNNING = "running"


@dataclass(frozen=True, kw_only=True)
class CylinderCycles:
    """One cylinder over the cycles of a course, (k,) each; cycle i has its TDC compression at ``tdc_deg[i]``."""

    tdc_deg: FloatArray
    charge_pa: FloatArray
    heat: FloatArray
    """J per m3 of clearance volume; 0 where nothing burnt."""
    mixture: FloatArray
    """Air-fuel ratio over the ideal one; infinite without fuel."""
    healths: tuple[Health, ...]


@dataclass(frozen=True, kw_only=True)
class Trajectory:
    """A trajectory and everything that went with it. Signals are functions of this and of time."""

    vehicle: Vehicle
    motion: Motion
    load: str
    hot: bool
    run: CrankRun
    cylinders: Mapping[int, CylinderCycles]
    tables: Mapping[int, CycleTables]
    manifold_pa: FloatArray
    """On the time grid of ``run``."""
    exhaust_pa: float = ATMOSPHERE_PA

    @property
    def seconds(self) -> float:
        """Length, s."""
        return float(self.run.time_s[-1])

    def angle_at(self, times: FloatArray) -> FloatArray:
        """Crank angle at times, degrees, unwrapped."""
        return np.asarray(np.interp(times, self.run.time_s, self.run.angle_deg))

    def time_at(self, angles: FloatArray) -> FloatArray:
        """When the crank passes angles, s; NaN outside the course or while it stands."""
        moving = np.flatnonzero(np.diff(self.run.angle_deg, prepend=-np.inf) > 0)
        return np.asarray(
            np.interp(angles, self.run.angle_deg[moving], self.run.time_s[moving], left=np.nan, right=np.nan)
        )

    def pressure(self, cylinder: int, angle_deg: FloatArray) -> FloatArray:
        """Absolute pressure in a cylinder at unwrapped crank angles.

        Parameters
        ----------
        cylinder : int
        angle_deg : (n,) float

        Returns
        -------
        (n,) float, Pa
        """
        cycles = self.cylinders[cylinder]
        first = cycles.tdc_deg[0]
        which = np.floor((angle_deg - first + HALF) / CYCLE_DEG)
        at = angle_deg - first - which * CYCLE_DEG
        index = np.clip(which.astype(np.intp), 0, cycles.tdc_deg.size - 1)
        return self.tables[cylinder].pressure(at, cycles.charge_pa[index], cycles.heat[index], self.exhaust_pa)


def cycle_healths(
    vehicle: Vehicle, *, cycles: int, hot: bool, load: str, rng: Generator
) -> list[tuple[frozenset[int], dict[int, Health]]]:
    """Which faults show in each cycle and what that makes of the parts.

    Parameters
    ----------
    vehicle : Vehicle
    cycles : int
    hot : bool
    load : str
    rng : numpy Generator

    Returns
    -------
    list of (faults showing, health per cylinder), one entry per cycle
    """
    showing = [shows(fault, hot=hot, load=load, cycles=cycles, rng=rng) for fault in vehicle.faults]
    known: dict[frozenset[int], dict[int, Health]] = {}
    trajectory = []
    for cycle in range(cycles):
        active = frozenset(i for i, mask in enumerate(showing) if mask[cycle])
        if active not in known:
            faults = [vehicle.faults[i] for i in sorted(active)]
            known[active] = healths(vehicle.engine, faults, protective=vehicle.protective)
        trajectory.append((active, known[active]))
    return trajectory


def mechanical_healths(vehicle: Vehicle, *, hot: bool) -> dict[int, Health]:
    """Sealing and valves, which do not come and go from cycle to cycle."""
    lasting: list[Fault] = [f for f in vehicle.faults if f.condition == "always" or (f.condition == "hot" and hot)]
    return healths(vehicle.engine, lasting, protective=vehicle.protective)


def crank_over(
    vehicle: Vehicle, *, seconds: float, rest_s: float = 0.5, hot: bool = False, rng: Generator, step_s: float = 0.0005
) -> Trajectory:
    """Crank with the fuel disabled.

    Parameters
    ----------
    vehicle : Vehicle
    seconds : float, s
        The rest before the starter engages included.
    rest_s : float, s
    hot : bool
    rng : numpy Generator
    step_s : float, s

    Returns
    -------
    Trajectory
    """
    engine = vehicle.engine
    mechanical = mechanical_healths(vehicle, hot=hot)
    tables = {
        c: tables_for(vehicle.turning, mechanical[c], speed_rpm=CRANKING_RPM, charge_pa=CRANKING_CHARGE_PA)
        for c in engine.firing_order
    }
    torque = np.zeros(int(CYCLE_DEG))
    for cylinder, table in tables.items():
        own = (
            CRANKING_CHARGE_PA * table.torque_charge
            + ATMOSPHERE_PA * table.torque_exhaust
            - ATMOSPHERE_PA * table.slope
        )
        torque += np.roll(own, round(engine.tdc_deg(cylinder) - HALF))
    run = crank(
        vehicle.turning,
        seconds=seconds,
        rest_s=rest_s,
        start_angle_deg=float(rng.uniform(0, CYCLE_DEG)),
        step_s=step_s,
        torque=torque,
    )
    count = int(run.angle_deg[-1] // CYCLE_DEG) + 3
    states = cycle_healths(vehicle, cycles=count, hot=hot, load="none", rng=rng)
    cylinders = {}
    for c in engine.firing_order:
        tdc = engine.tdc_deg(c) + CYCLE_DEG * np.arange(-1, count - 1, dtype=np.float64)
        cylinders[c] = CylinderCycles(
            tdc_deg=tdc,
            charge_pa=np.full(count, CRANKING_CHARGE_PA),
            heat=np.zeros(count),
            mixture=np.full(count, np.inf),
            healths=tuple(state[c] for _, state in states),
        )
    return Trajectory(
        vehicle=vehicle,
        motion=Motion.CRANKING,
        load="none",
        hot=hot,
        run=run,
        cylinders=cylinders,
        tables=tables,
        manifold_pa=np.full(run.time_s.size, CRANKING_CHARGE_PA),
    )

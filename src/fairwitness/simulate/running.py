"""The engine under its own power: energy of the crank from event to event, idle control, loads, cycle variation."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.random import Generator

from fairwitness.core.errors import SimulationError
from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, FloatArray, Fuel
from fairwitness.simulate.cranking import ATMOSPHERE_PA, CrankRun
from fairwitness.simulate.gas import HALF, tables_for
from fairwitness.simulate.health import SHUNT_CHANCE, Health
from fairwitness.simulate.spark import available_kv, demand_kv, dense_kpa, primary_end_a, stored_j
from fairwitness.simulate.trajectory import CylinderCycles, Motion, Trajectory, cycle_healths, mechanical_healths
from fairwitness.simulate.vehicle import Vehicle
from fairwitness.simulate.worlds.stragglers import Stragglers

LOADS = ("none", "idle", "snap", "brake_torque", "cruise")
STEP_DEG = 2.0
PRE_ROLL_S = 3.0
"""The engine settles before anybody looks."""
SPEED_MIN = 30.0
"""rad/s; a stumbling engine is caught by whoever holds the throttle."""
CHARGING_V = 14.1
CHARGING_RIPPLE_V = 0.03
EXHAUST_BACK_PA = 1_500.0
MANIFOLD_MIN_PA, MANIFOLD_MAX_PA = 22_000.0, 97_000.0
BURNT_AT = (0.40, 0.55, 0.75, 1.05, 1.25, 1.45, 1.60)
BURNT_SHARE = (0.0, 0.5, 0.95, 1.0, 0.88, 0.45, 0.0)
"""[M] share of the heat released against air-fuel ratio over ideal."""
LEAN_MISS_AT, LEAN_MISS_CHANCE = (1.22, 1.55), (0.0, 0.9)
"""[M] a lean charge is not lit in every cycle."""
MARGIN_AT, MARGIN_MISS = (0.6, 1.0), (0.0, 0.9)
"""[M] little is left for the spark where the breakdown takes nearly all the coil has."""
SERIES_AT, SERIES_MISS = (2e4, 2e5), (0.0, 0.6)
"""[M] a resistance in the lead leaves a faint spark."""
TRIM_RICHER, TRIM_LEANER = 0.25, 0.15
"""[M] how far the mixture control corrects each way; less where leaning out would stop the sound cylinders."""
SEALING_TO_BURN = 0.3
"""[M] with less compression left than this the charge does not light."""
GLOW_SEALING = 0.55
"""[M] the same for a diesel, which needs the heat of compression."""


@dataclass(frozen=True, slots=True)
class Task:
    """What the driver does."""

    target_rpm: float
    load_nm: float
    """At the target; grows with the square of the speed."""


@dataclass(frozen=True, slots=True)
class Withheld:
    """Cylinders whose fuel the scan link withholds, and from when on, s; from long before if left out."""

    cylinders: tuple[int, ...] = ()
    from_s: float = -PRE_ROLL_S


NOTHING_WITHHELD = Withheld()


def run_engine(
    vehicle: Vehicle,
    *,
    seconds: float,
    load: str = "idle",
    hot: bool = True,
    rng: Generator,
    cut: Withheld = NOTHING_WITHHELD,
) -> Trajectory:
    """Run the engine warm or cold under a load.

    Energy of the crank is summed over angle from one firing to the next, which needs no small time steps.

    Parameters
    ----------
    vehicle : Vehicle
    seconds : float, s
    load : str
        idle, snap, brake_torque or cruise; none is idle.
    hot : bool
    rng : numpy Generator
    cut : Withheld
        Whose fuel the scan link withholds.

    Returns
    -------
    Trajectory

    Raises
    ------
    SimulationError
        No such load.
    """
    if load not in LOADS:
        raise SimulationError(f"There is no load {load!r}.", where="load", remedy=f"Use one of {', '.join(LOADS)}.")
    return _Runner(vehicle, load, hot, cut, rng).go(seconds)


class _Runner:
    """The state that is carried from one firing to the next."""

    def __init__(self, vehicle: Vehicle, load: str, hot: bool, cut: Withheld, rng: Generator) -> None:
        self.vehicle, self.load, self.hot, self.rng = vehicle, load, hot, rng
        self.cut, self.cut_from_s = cut.cylinders, cut.from_s
        self.clock = 0.0
        own = vehicle.running
        self.stragglers = Stragglers(own.stragglers, own.rebound, own.uneven, rng.spawn(1)[0])
        self.engine = vehicle.engine
        self.diesel = self.engine.fuel is Fuel.DIESEL
        self.task = _task(vehicle, load, hot)
        mechanical = mechanical_healths(vehicle, hot=hot)
        self.typical = 96_000.0 if self.diesel else (75_000.0 if load in ("brake_torque", "snap") else 38_000.0)
        self.tables = {
            c: tables_for(vehicle.turning, mechanical[c], speed_rpm=self.task.target_rpm, charge_pa=self.typical)
            for c in self.engine.firing_order
        }
        self.manifold = 96_000.0 if self.diesel else 40_000.0
        self.fuelling = 0.25
        """Diesel: share of the full heat."""
        self.reserve = 0.0
        self.cylinders = self.engine.cylinders
        self.slices = [self._segment(i) for i in range(self.cylinders)]
        self._breathing = [self._begins_to_breathe(i) for i in range(self.cylinders)]

    def _segment(self, event: int) -> _Segment:
        """Torque tables of all cylinders from one firing to the next."""
        begin = float(self.engine.event_angles_deg[event])
        width = float(self.engine.firing_intervals_deg[event])
        angles = np.linspace(0.0, width, max(4, round(width / STEP_DEG)) + 1)
        per_cylinder = []
        for cylinder in self.engine.firing_order:
            at = (begin + angles - self.engine.tdc_deg(cylinder) + HALF) % CYCLE_DEG
            low = np.minimum(at.astype(np.intp), int(CYCLE_DEG) - 1)
            table = self.tables[cylinder]
            per_cylinder.append(
                (
                    table.torque_charge[low],
                    table.torque_heat[low],
                    (table.torque_exhaust * self._back_pa)[low],
                    table.slope[low],
                )
            )
        charge, heat, exhaust, slope = (np.array(rows) for rows in zip(*per_cylinder, strict=True))
        fixed = exhaust.sum(axis=0) - ATMOSPHERE_PA * slope.sum(axis=0)
        return _Segment(angles=angles, charge=charge, heat=heat, fixed=fixed)

    @property
    def _back_pa(self) -> float:
        return ATMOSPHERE_PA + EXHAUST_BACK_PA

    def go(self, seconds: float) -> Trajectory:
        """Run until the time is over; what the engine did while settling is dropped."""
        order, n = self.engine.firing_order, self.cylinders
        turning, running = self.vehicle.turning, self.vehicle.running
        rubbing = running.friction_hot if self.hot else running.friction_cold
        total = seconds + PRE_ROLL_S
        cycles_max = int(total * max(self.task.target_rpm, 900.0) * 4 / 120) + 8
        states = cycle_healths(self.vehicle, cycles=cycles_max, hot=self.hot, load=self.load, rng=self.rng)
        charge = np.full(n, self.manifold)
        heat = np.zeros(n)
        log: dict[int, list[tuple[float, float, float, float, Health]]] = {c: [] for c in order}
        clock, angle, omega = 0.0, 0.0, self.task.target_rpm * math.pi / 30
        times, angles, speeds, manifolds = (
            [np.zeros(1)],
            [np.zeros(1)],
            [np.array([omega])],
            [np.array([self.manifold])],
        )
        cycle = 0
        while clock < total and cycle < cycles_max - 1:
            _, health = states[cycle]
            for event, cylinder in enumerate(order):
                part, self.clock = self.slices[event], clock
                lit_heat, mixture = self._burn(cylinder, health, float(charge[event]), omega)
                heat[event] = lit_heat
                log[cylinder].append((angle, float(charge[event]), lit_heat, mixture, health[cylinder]))
                gas = charge @ part.charge + heat @ part.heat + part.fixed
                drag = rubbing * (turning.friction_nm + turning.friction_nm_s * omega) + self._load_nm(omega)
                radians = np.deg2rad(part.angles)
                step = radians[1]
                work = np.concatenate(([0.0], np.cumsum((gas[1:] + gas[:-1]) * 0.5 * step))) - drag * radians
                squared = np.maximum(omega**2 + 2 * work / turning.inertia, SPEED_MIN**2)
                trajectory = np.sqrt(squared)
                passed = np.concatenate(([0.0], np.cumsum(step * 2 / (trajectory[1:] + trajectory[:-1]))))
                times.append(clock + passed[1:])
                angles.append(angle + part.angles[1:])
                speeds.append(trajectory[1:])
                clock, angle, omega = clock + float(passed[-1]), angle + float(part.angles[-1]), float(trajectory[-1])
                self._govern(omega, float(passed[-1]), clock - PRE_ROLL_S)
                manifolds.append(np.full(part.angles.size - 1, self.manifold))
                for later in self._breathing[event]:
                    charge[later] = self._charge(order[later], health)
            cycle += 1
        return self._course(times, angles, speeds, manifolds, log)

    def _begins_to_breathe(self, event: int) -> list[int]:
        """Places in the firing order whose intake stroke begins between this firing and the next."""
        width = self.engine.firing_intervals_deg[event]
        since = (self.engine.event_angles_deg + REVOLUTION_DEG - self.engine.event_angles_deg[event]) % CYCLE_DEG
        return [int(place) for place in np.flatnonzero(since < width - 1e-6)]

    def _charge(self, cylinder: int, health: dict[int, Health]) -> float:
        state = health[cylinder]
        if not state.intake_opens:
            return self.manifold
        share = 1.0 if state.exhaust_opens else 0.4
        return share * min(self.manifold * (1 + 0.5 * state.extra_air), MANIFOLD_MAX_PA)

    def _burn(self, cylinder: int, health: dict[int, Health], charge: float, omega: float) -> tuple[float, float]:
        """Heat of this cycle per clearance volume and the mixture it burnt at."""
        state, running = health[cylinder], self.vehicle.running
        mixture = self._mixture(cylinder, health)
        if cylinder in self.cut and self.clock - PRE_ROLL_S >= self.cut_from_s:
            mixture = math.inf
        if not (state.intake_opens and state.exhaust_opens) or not math.isfinite(mixture):
            return 0.0, mixture
        room = self.vehicle.turning.compression_ratio - 1  # cylinder volume over clearance volume
        swing = running.variation * (1.5 if self.load == "idle" else 1.0)
        luck = max(0.0, 1 + swing * float(self.rng.normal())) * self.stragglers.factor(cylinder)
        if self.diesel:
            lit = state.sealing > GLOW_SEALING
            share = self.fuelling * min(1.0 / mixture, 1.5)
            return (running.heat_per_charge * charge * room * share * luck if lit else 0.0), mixture
        missed = float(self.rng.random()) < float(np.interp(mixture, LEAN_MISS_AT, LEAN_MISS_CHANCE))
        if missed or state.sealing < SEALING_TO_BURN or not self._spark(cylinder, state, charge, mixture):
            return 0.0, mixture
        share = float(np.interp(mixture, BURNT_AT, BURNT_SHARE))
        return running.heat_per_charge * charge * room * share * luck, mixture

    def _spark(self, cylinder: int, state: Health, charge: float, mixture: float) -> bool:
        """Whether the gap breaks down before the energy, or another path, gives out."""
        build = self.vehicle.ignition
        if state.secondary_open or not state.coil_runs:
            return False
        table = self.tables[cylinder]
        at = np.array([-build.advance_deg])
        pressure = float(table.pressure(at, np.array([charge]), np.zeros(1), self._back_pa)[0])
        kpa = dense_kpa(pressure, charge, self.vehicle.turning.polytropic)
        wanted = demand_kv(build, state, kpa=kpa, mixture=mixture)
        amps = primary_end_a(build, state, battery_v=CHARGING_V, dwell_s=build.dwell_s)
        most = available_kv(build, stored_j(build, state, amps))
        if wanted > most:
            return False
        if state.shunt_kv is not None and wanted >= state.shunt_kv:
            return state.shunt_random and float(self.rng.random()) >= SHUNT_CHANCE
        faint = max(
            float(np.interp(wanted / most, MARGIN_AT, MARGIN_MISS)),
            float(np.interp(state.series_ohm, SERIES_AT, SERIES_MISS)),
        )
        return float(self.rng.random()) >= faint

    def _mixture(self, cylinder: int, health: dict[int, Health]) -> float:
        """Air-fuel ratio over ideal with the mixture control of the bank at work."""
        bank = next((b for b in self.engine.banks if cylinder in b), self.engine.firing_order)
        richness = [richness_of(health[c]) for c in bank]
        mean = sum(richness) / len(richness)
        closed_loop = self.hot and not self.diesel and self.load in ("none", "idle", "cruise")
        trim = min(max(1 / mean, 1 - TRIM_LEANER), 1 + TRIM_RICHER) if closed_loop and mean > 0 else 1.0
        own = richness_of(health[cylinder]) * trim
        return 1 / own if own > 0.02 else math.inf

    def _load_nm(self, omega: float) -> float:
        return self.task.load_nm * (omega * 30 / math.pi / self.task.target_rpm) ** 2

    def _govern(self, omega: float, passed: float, clock: float) -> None:
        """Idle control, or the foot: moves the throttle (or the diesel's fuel) towards the wanted speed."""
        target = self.task.target_rpm
        if self.load == "snap":
            if 0.25 < clock % SNAP_EVERY_S < 0.25 + SNAP_OPEN_S:
                self.manifold += (MANIFOLD_MAX_PA - self.manifold) * min(1.0, passed / 0.05)
                return
            if omega * 30 / math.pi > 1.25 * target:
                self.manifold += (MANIFOLD_MIN_PA - self.manifold) * min(1.0, passed / 0.10)
                self.reserve = 0.0
                return
        if not self.vehicle.running.idle_control and clock > 0:
            return
        wrong = (target - omega * 30 / math.pi) / target
        self.reserve = min(max(self.reserve + wrong * passed * 1.2, -1.0), 1.0)
        effort = 0.9 * wrong + self.reserve
        if self.diesel:
            self.fuelling = min(max(0.18 + 0.8 * effort, 0.02), 0.9)
            return
        wanted = min(max(36_000.0 * (1 + 2.2 * effort), MANIFOLD_MIN_PA), MANIFOLD_MAX_PA)
        self.manifold += (wanted - self.manifold) * min(1.0, passed / 0.15)

    def _course(
        self,
        times: list[FloatArray],
        angles: list[FloatArray],
        speeds: list[FloatArray],
        manifolds: list[FloatArray],
        log: dict[int, list[tuple[float, float, float, float, Health]]],
    ) -> Trajectory:
        clock, angle, omega = np.concatenate(times), np.concatenate(angles), np.concatenate(speeds)
        manifold = np.concatenate(manifolds)
        keep = slice(max(0, int(np.searchsorted(clock, PRE_ROLL_S)) - 1), None)
        run_time = clock[keep] - PRE_ROLL_S
        ripple = CHARGING_RIPPLE_V * np.sin(np.deg2rad(angle[keep]) * 18)  # alternator poles, belt ratio 3
        volts = CHARGING_V + ripple
        return Trajectory(
            vehicle=self.vehicle,
            motion=Motion.RUNNING,
            load=self.load,
            hot=self.hot,
            run=CrankRun(
                time_s=run_time,
                angle_deg=angle[keep],
                speed_rpm=omega[keep] * 30 / np.pi,
                current_a=np.zeros(run_time.size),
                battery_v=volts,
            ),
            cylinders={c: _cycles(rows) for c, rows in log.items()},
            tables=self.tables,
            manifold_pa=manifold[keep],
            exhaust_pa=self._back_pa,
        )


@dataclass(frozen=True, slots=True)
class _Segment:
    """Between two firings: angles (m,), torque tables (cylinders, m) in firing order, and what never changes (m,)."""

    angles: FloatArray
    charge: FloatArray
    heat: FloatArray
    fixed: FloatArray


SNAP_EVERY_S = 4.0
SNAP_OPEN_S = 0.4


def _task(vehicle: Vehicle, load: str, hot: bool) -> Task:
    running = vehicle.running
    size = vehicle.turning.displacement_m3 / 2.0e-3
    if load == "cruise":
        return Task(2500.0, 28.0 * size)
    if load == "brake_torque":
        return Task(1500.0, 75.0 * size)
    return Task(running.idle_rpm if hot else running.cold_idle_rpm, running.accessories_nm * size)


def trim_percent(trajectory: Trajectory, bank: tuple[int, ...]) -> float:
    """What the mixture control adds to a bank: the mixture that burnt against the one the parts would give.

    Parameters
    ----------
    trajectory : Trajectory
        Running.
    bank : tuple of int

    Returns
    -------
    float, %
        Positive where fuel is added; 0 where no cylinder of the bank gets fuel.
    """
    added = []
    for cylinder in bank:
        cycles = trajectory.cylinders[cylinder]
        for mixture, state in zip(cycles.mixture, cycles.healths, strict=True):
            own = richness_of(state)
            if np.isfinite(mixture) and own > 0:
                added.append(1 / (mixture * own))
    return 100 * (float(np.median(added)) - 1) if added else 0.0


def richness_of(state: Health) -> float:
    """Fuel over air of one cylinder, 1 ideal, before any correction."""
    if state.injector_always_on:
        fuel = 1.0 + state.drip
    elif not state.injector_runs or not state.pintle_moves:
        fuel = state.drip
    else:
        fuel = state.flow * (1 - 0.3 * (state.injector_ohm - 1)) + state.drip
    return fuel / (1 + state.extra_air)


def _cycles(rows: list[tuple[float, float, float, float, Health]]) -> CylinderCycles:
    tdc, charge, heat, mixture, healths = zip(*rows, strict=True)
    return CylinderCycles(
        tdc_deg=np.array(tdc),
        charge_pa=np.array(charge),
        heat=np.array(heat),
        mixture=np.array(mixture),
        healths=tuple(healths),
    )

"""The simulated bay: one vehicle with its fault, what the engine does now, what the leads see."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from fairwitness.core.errors import InstrumentError
from fairwitness.core.model.engine import FloatArray
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.simulate.clips import signal
from fairwitness.simulate.health import DOES_NOT_START, Health, healths
from fairwitness.simulate.running import Withheld, run_engine, trim_percent
from fairwitness.simulate.trajectory import Trajectory, crank_over
from fairwitness.simulate.vehicle import Vehicle

CRANK_MAX_S = 20.0
STARTER_HEAT_S = 30.0
"""[T] so much cranking in all before the starter must cool."""
STARTER_COOLS = 0.2
"""Seconds of cranking forgotten per second of rest."""
CRANK_COST_V = 0.004
"""Volts of rested battery lost per second of cranking."""
IDLE_LOOP_S = 24.0
"""The engine's own idle is computed this far and then repeated."""
Clock = Callable[[], float]


class EngineMotion(StrEnum):
    """What the engine does now."""

    OFF = "off"
    CRANKING = "cranking"
    RUNNING = "running"


@dataclass(frozen=True, slots=True)
class Shown:
    """What the scan link can see at a moment."""

    rpm: float
    manifold_kpa: float
    coolant_c: float
    battery_v: float
    short_trim: tuple[float, ...]
    """Per bank, percent."""
    counts: Mapping[int, int]
    """Misfires per cylinder since the engine was started."""


class Bay:
    """A vehicle somebody can crank, start, cut cylinders of, and clip leads on. Safe to use from several threads.

    Parameters
    ----------
    vehicle : Vehicle
    seed : int
    hot : bool
    pace : float
        Simulated seconds per second of the clock; above 1 for tests.
    clock : callable
        Seconds.
    """

    def __init__(
        self, vehicle: Vehicle, *, seed: int = 0, hot: bool = True, pace: float = 1.0, clock: Clock = time.monotonic
    ) -> None:
        self.vehicle, self.hot, self.pace = vehicle, hot, pace
        self._clock = clock
        self._rng = np.random.default_rng((20_26, 13, seed))
        self._lock = threading.RLock()
        self._course: Trajectory | None = None
        self._began = 0.0
        self._motion = EngineMotion.OFF
        self._heat_s, self._heat_at = 0.0, clock()
        self._spent_s = 0.0
        self.cut: tuple[int, ...] = ()
        self.fuel_disabled = False
        self.codes_cleared = False

    @property
    def elapsed_s(self) -> float:
        """Simulated time since the engine last began to do what it does."""
        return (self._clock() - self._began) * self.pace

    @property
    def motion(self) -> EngineMotion:
        """What the engine does now; cranking ends by itself."""
        with self._lock:
            over = self._course is None or self.elapsed_s >= self._course.seconds
            if self._motion is EngineMotion.CRANKING and over:
                self._motion = EngineMotion.OFF
            return self._motion

    @property
    def battery_v(self) -> float:
        """Rested battery voltage after what was cranked so far."""
        return self.vehicle.turning.battery_volt - CRANK_COST_V * self._spent_s

    @property
    def starter_heat_s(self) -> float:
        """Seconds of cranking the starter still holds as heat."""
        rested = (self._clock() - self._heat_at) * self.pace
        return max(0.0, self._heat_s - STARTER_COOLS * rested)

    def crank(self, seconds: float) -> Trajectory:
        """Turn the engine over. With fuel it would start: the fuel must be disabled.

        Raises
        ------
        InstrumentError
            Too long, starter too hot, or fuel still on.
        """
        if not self.fuel_disabled:
            raise InstrumentError("The fuel is on: the engine would start.", remedy="Disable the fuel first.")
        if seconds > CRANK_MAX_S:
            remedy = f"Crank {CRANK_MAX_S:g} s at most."
            raise InstrumentError(f"{seconds:g} s is too long for the starter.", remedy=remedy)
        if self.starter_heat_s + seconds > STARTER_HEAT_S:
            wait = (self.starter_heat_s + seconds - STARTER_HEAT_S) / STARTER_COOLS
            raise InstrumentError("The starter is hot.", remedy=f"Let it cool for {wait:.0f} s.")
        with self._lock:
            trajectory = crank_over(self.vehicle, seconds=seconds, hot=self.hot, rng=self._rng)
            self._heat_s, self._heat_at = self.starter_heat_s + seconds, self._clock()
            self._spent_s += seconds
            self._begin(trajectory, EngineMotion.CRANKING)
        return trajectory

    def run(self, *, load: str = "idle", seconds: float = IDLE_LOOP_S) -> Trajectory:
        """Start the engine, or go on with it under another load or with other cylinders cut.

        Raises
        ------
        InstrumentError
            The fuel is disabled, or the engine has a fault it does not start with.
        """
        if self.fuel_disabled:
            raise InstrumentError("The fuel is disabled: the engine will not start.", remedy="Enable the fuel first.")
        if any(fault.fault in DOES_NOT_START for fault in self.vehicle.faults):
            raise InstrumentError("The engine cranks and does not start.", remedy="Take tests that crank it.")
        with self._lock:
            trajectory = run_engine(
                self.vehicle, seconds=seconds, load=load, hot=self.hot, rng=self._rng,
                cut=Withheld(self.cut, from_s=0.0),
            )  # fmt: skip
            self._begin(trajectory, EngineMotion.RUNNING)
        return trajectory

    def stop(self) -> None:
        """Key off."""
        with self._lock:
            self._motion, self._course = EngineMotion.OFF, None
            self.cut = ()

    def cut_cylinders(self, cylinders: tuple[int, ...]) -> None:
        """Withhold the fuel of some cylinders while the engine runs; none gives them back.

        Raises
        ------
        InstrumentError
            The engine does not run.
        """
        if self.motion is not EngineMotion.RUNNING:
            raise InstrumentError("The engine does not run.", remedy="Start it before cutting a cylinder.")
        for cylinder in cylinders:
            self.vehicle.engine.position(cylinder)
        self.cut = cylinders
        self.run(load=self._course.load if self._course else "idle")

    def _begin(self, trajectory: Trajectory, motion: EngineMotion) -> None:
        self._course, self._motion, self._began = trajectory, motion, self._clock()

    def signals(self, clips: Mapping[int, Clip], *, rate_hz: float, seconds: float) -> dict[int, FloatArray]:
        """What the leads see from when the engine began to do what it does.

        Parameters
        ----------
        clips : mapping of channel to Clip
        rate_hz : float
        seconds : float

        Returns
        -------
        dict of channel to (n,) float in the role's unit
            An engine at rest gives what a parked vehicle gives.
        """
        with self._lock:
            trajectory, motion = self._course, self.motion
        times = np.arange(int(seconds * rate_hz)) / rate_hz
        if trajectory is None or motion is EngineMotion.OFF:
            return {n: np.full(times.size, self._parked(clip)) for n, clip in clips.items()}
        times = np.minimum(times, trajectory.seconds)
        return {n: signal(trajectory, clip, times, self._rng) for n, clip in clips.items()}

    def _parked(self, clip: Clip) -> float:
        return self.battery_v if clip.role == "battery_voltage" else 0.0

    def shown(self) -> Shown:
        """What the control unit would tell at this moment."""
        with self._lock:
            trajectory, motion, at = self._course, self.motion, self.elapsed_s
        banks = self.vehicle.engine.banks or (self.vehicle.engine.firing_order,)
        coolant = 88.0 if self.hot else 18.0
        if trajectory is None or motion is EngineMotion.OFF:
            return Shown(0.0, 101.3, coolant, self.battery_v, tuple(0.0 for _ in banks), {})
        at = at % trajectory.seconds if motion is EngineMotion.RUNNING else min(at, trajectory.seconds)
        return Shown(
            rpm=float(np.interp(at, trajectory.run.time_s, trajectory.run.speed_rpm)),
            manifold_kpa=float(np.interp(at, trajectory.run.time_s, trajectory.manifold_pa)) / 1000,
            coolant_c=coolant,
            battery_v=float(np.interp(at, trajectory.run.time_s, trajectory.run.battery_v)),
            short_trim=tuple(
                trim_percent(trajectory, bank) if motion is EngineMotion.RUNNING else 0.0 for bank in banks
            ),
            counts=self._counts(trajectory, at) if motion is EngineMotion.RUNNING else {},
        )

    def _counts(self, trajectory: Trajectory, at_s: float) -> dict[int, int]:
        usual = float(np.median(np.concatenate([c.heat for c in trajectory.cylinders.values()])))
        counts = {}
        for cylinder, cycles in trajectory.cylinders.items():
            when = trajectory.time_at(cycles.tdc_deg)
            missed = (cycles.heat <= 0.3 * usual) & (when <= at_s) & (cylinder not in self.cut)
            counts[cylinder] = int(missed.sum())
        return counts

    def speed_table(self) -> dict[int, float]:
        """Speed of each cylinder at its compression while cranking; empty while there is nothing to table."""
        with self._lock:
            trajectory, motion, at = self._course, self.motion, self.elapsed_s
        if trajectory is None or motion is not EngineMotion.CRANKING or at < 4.0:
            return {}
        table = {}
        for cylinder, cycles in trajectory.cylinders.items():
            begin, end = trajectory.time_at(cycles.tdc_deg - 60.0), trajectory.time_at(cycles.tdc_deg + 10.0)
            done = np.isfinite(begin) & np.isfinite(end) & (end < at)
            if done.sum() > 2:
                table[cylinder] = float(np.median(70.0 / 6.0 / (end - begin)[done][1:]))
        return table

    def parts(self) -> dict[int, Health]:
        """The state of the parts, for the stand-in's own monitors; no instrument of the bay shows it."""
        return healths(self.vehicle.engine, self.vehicle.faults, protective=False)

"""A vehicle at rest as a technician finds it: what gauges, meters and eyes are held to."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.random import Generator

from fairwitness.core.model.case import Observation
from fairwitness.simulate.health import Fault, Health, healths, shows
from fairwitness.simulate.running import Withheld, run_engine
from fairwitness.simulate.trajectory import Trajectory
from fairwitness.simulate.vehicle import Vehicle
from fairwitness.simulate.worlds.parts import Hands

HOT_K = 65.0
COPPER_PER_K = 0.00393  # [P: IEC 60028] temperature coefficient of copper at 20 degrees C


class VehicleUnderTest:
    """A vehicle at rest, as a technician finds it: the faults that show at this temperature."""

    def __init__(self, vehicle: Vehicle, *, hot: bool, suspects: tuple[int, ...] = ()) -> None:
        self.vehicle, self.hot = vehicle, hot
        rng = np.random.default_rng(0)
        now = [f for f in vehicle.faults if bool(shows(f, hot=hot, load="none", cycles=1, rng=rng)[0])]
        self.faults: tuple[Fault, ...] = tuple(now)
        self.parts: dict[int, Health] = healths(vehicle.engine, now, protective=False)
        self.suspects = suspects or tuple(dict.fromkeys(c for f in vehicle.faults for c in f.cylinders)) or (1,)
        self.order = tuple(range(1, vehicle.engine.cylinders + 1))

    @property
    def spread(self) -> float:
        """Resistance of warm copper over that at 20 degrees."""
        return 1 + COPPER_PER_K * (HOT_K if self.hot else 0.0)

    @property
    def hands(self) -> Hands:
        """Who measures."""
        return self.vehicle.hands

    def slips(self, rng: Generator) -> bool:
        """Whether an eye errs now."""
        return bool(self.hands.slip) and float(rng.random()) < self.hands.slip

    def idle(self, rng: Generator, *, seconds: float = 6.0, cut: tuple[int, ...] = ()) -> Trajectory:
        """The engine at idle."""
        return run_engine(self.vehicle, seconds=seconds, hot=self.hot, rng=rng, cut=Withheld(cut))


def seen_by(test: str, **data: Any) -> Observation:
    """An observation of a test."""
    return Observation(test=test, data=data)

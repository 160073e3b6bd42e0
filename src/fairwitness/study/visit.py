"""A simulated vehicle in the bay: every test is taken when asked for, and what it said is kept."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from fairwitness.core.diagnose import measure_capture
from fairwitness.core.model.capture import Capture, CaptureTest
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured
from fairwitness.core.procedures.registry import measure_observation
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.procedures.specs import CARDS, TEST_OF
from fairwitness.simulate.examine import CAM_TIMING, Recorder, cam_capture, captures_of, sample, with_known_good
from fairwitness.simulate.gauges import observe
from fairwitness.simulate.running import run_engine
from fairwitness.simulate.trajectory import crank_over
from fairwitness.simulate.vehicle import Vehicle


@dataclass(slots=True)
class Visit:
    """One vehicle, and all that was found of it so far.

    Parameters
    ----------
    vehicle : Vehicle
    level : str
        Noise of the instruments.
    seed : int
        The same test on the same vehicle always says the same.
    """

    vehicle: Vehicle
    level: str
    seed: int
    kept: dict[tuple[str, tuple[int, ...], bool, bool], tuple[Measured, ...]] = field(default_factory=dict)

    @property
    def engine(self) -> Engine:
        """Of the vehicle, with what the shop holds of a sound one: where its cam stands."""
        return with_known_good(self.vehicle)

    def case(self) -> Case:
        """The case without evidence: what is measured is handed over beside it."""
        return Case(name=f"vehicle-{self.seed}", engine=self.engine)

    def take(
        self, test: Offer, at: Sequence[int], avoid: Sequence[int] = (), *, longer: bool = False, again: bool = False
    ) -> tuple[Measured, ...]:
        """Do a test.

        Parameters
        ----------
        test : Offer
        at : sequence of int
            Cylinders of a test of single cylinders.
        avoid : sequence of int
            Accused cylinders: no sync is put on them.
        longer : bool
            Record for as long as the card of the test asks, whatever the operator's habit.
        again : bool
            Once more, as carefully or carelessly as the first time.

        Returns
        -------
        tuple of Measured
            Empty where the vehicle does not allow it.
        """
        where = tuple(at) if test.per_cylinder else tuple(c for c in avoid if c == min(self.engine.firing_order))
        key = (test.id, where, longer, again)
        if key not in self.kept:
            habit = replace(self.vehicle.habit, cycles=0.0) if longer else self.vehicle.habit
            patient = replace(self, vehicle=replace(self.vehicle, habit=habit))
            self.kept[key] = tuple(
                patient._measured(test, where, (*(["longer"] if longer else ()), *(["again"] if again else ())))
            )
        return self.kept[key]

    def _measured(self, test: Offer, where: tuple[int, ...], how: tuple[str, ...]) -> list[Measured]:
        turn = [{"longer": 1, "again": 2}[word] for word in how]
        rng = np.random.default_rng((20_26, 9, self.seed, zlib.crc32(test.id.encode()), *where, *turn))
        case = self.case()
        if test.id == CAM_TIMING:
            captures = [cam_capture(self.vehicle, level=self.level, rng=rng)]
        elif test.lead:
            captures = [self._along_the_wire(test, where, rng)]
        elif test.id in set(CaptureTest) and CaptureTest(test.id) in CARDS:
            captures = list(captures_of(self.vehicle, CaptureTest(test.id), level=self.level, rng=rng, suspects=where))
        else:
            return self._by_hand(test, where, how, rng)
        named = [
            replace(c, name="-".join([test.id, *map(str, where), *how, *([str(n)] if n else [])]))
            for n, c in enumerate(captures)
        ]
        reported = [m for c in named for m in measure_capture(c, case)]
        return [m for m in reported if m.test == test.id] if test.id == CAM_TIMING else reported

    def _along_the_wire(self, test: Offer, where: tuple[int, ...], rng: np.random.Generator) -> Capture:
        card = CARDS[CaptureTest(TEST_OF[test.id])]
        peer = next((c for c in sorted(self.engine.firing_order) if c not in where), None)
        leads = [c for c in card.clips(self.engine, (), ()) if c.cylinder in (*where, peer)]
        clips: list[Clip] = [replace(c, **test.lead) for c in leads]  # type: ignore[arg-type]
        turn = crank_over if card.cranking else run_engine
        trajectory = turn(self.vehicle, seconds=card.seconds, hot=True, rng=rng)
        return sample(
            trajectory,
            clips,
            Recorder(rate_hz=card.rate_hz, level=self.level, name=test.id, set_up=card.recorded(hot=True)),
            rng=rng,
        )

    def _by_hand(
        self, test: Offer, where: tuple[int, ...], how: tuple[str, ...], rng: np.random.Generator
    ) -> list[Measured]:
        seen = [
            o for o in observe(self.vehicle, TEST_OF[test.id], hot=True, rng=rng, suspects=where) if _asked(test, o)
        ]
        first = zlib.crc32(repr((test.id, where, how)).encode()) % 1_000_000  # a number of its own for each reading
        read = (measure_observation(o, first + i, self.engine) for i, o in enumerate(seen))
        return [m for m in read if m is not None]


TOO_SHORT = frozenset({"too_short"})
"""Reasons of a refusal that a longer recording answers."""


def asks_for_longer(measured: Sequence[Measured]) -> bool:
    """Whether a test came to nothing because it was recorded for too short a time, and says so."""
    return bool(measured) and all(
        not m.usable and any(r.code in TOO_SHORT for r in m.reasons if r.blocking) for m in measured
    )


def _asked(test: Offer, observation: Observation) -> bool:
    """Whether an observation is of the form of the test that was asked for."""
    usual = {"measured_at": "part", "by": test.asks.get("by")}  # a simulated cylinder is out however it was taken out
    return all(observation.data.get(key, usual.get(key)) == value for key, value in test.asks.items())

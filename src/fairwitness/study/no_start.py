"""Engines that crank and do not start: from intake by the plan alone to the cause, with the minutes it took.

Vehicles carry one fault of the whole engine; every look is what the simulated vehicle shows. The way taken is kept, so
that a person of the trade can judge it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.measurement import Measured
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.procedures.registry import measure_observation
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.procedures.specs import OFFERS, TEST_OF
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.planning.approach import READY, USUAL
from fairwitness.core.reason.planning.minutes import minutes_of
from fairwitness.core.reason.verdict import Status
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.gauges import GAUGES, observe
from fairwitness.simulate.health import DOES_NOT_START, Fault
from fairwitness.simulate.vehicle import Vehicle

STEPS_MOST = 16
BY_HAND = tuple(offer for offer in OFFERS.values() if TEST_OF[offer.id] in GAUGES)


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """One vehicle: its fault, what was taken in which order, and what was said in the end."""

    seed: int
    engine: str
    fault: str
    tests: tuple[str, ...]
    minutes: float
    status: str
    named: tuple[str, ...]
    headline: str

    @property
    def right(self) -> bool:
        """The fault was named, and no other."""
        return self.named == (self.fault,)


def way_of(seed: int) -> Way:
    """Let the plan find why one engine does not start.

    Parameters
    ----------
    seed : int
        Of the vehicle.

    Returns
    -------
    Way
    """
    rng = np.random.default_rng((4, seed))
    name = str(rng.choice(sorted(ENGINES)))
    engine = ENGINES[name]
    possible = [f for f in DOES_NOT_START if FAULTS[f].possible(engine) and FAULTS[f].no_start > 0.5]
    fault = str(rng.choice(possible))
    vehicle = build(engine, (Fault(fault, (), float(rng.uniform(0.4, 0.95))),), rng=rng)
    case = Case(name=f"no-start-{seed}", engine=vehicle.engine, symptom=Symptom.NO_START)
    measured: list[Measured] = []
    taken: list[str] = []
    minutes = 0.0
    reported = conclude(case, ())
    while not reported.plan.done and len(taken) < STEPS_MOST:
        offer = next((OFFERS[o.id] for o in reported.plan.offers if _can_take(OFFERS[o.id], taken)), None)
        if offer is None:
            break
        taken.append(offer.id)
        minutes += minutes_of(offer, vehicle.engine.firing_order[:1], USUAL, READY)
        measured += _looked(vehicle, offer, len(measured), rng)
        reported = conclude(case, tuple(measured))
    verdict = reported.verdict
    named = verdict.faults if verdict.accuses else ()
    return Way(
        seed=seed,
        engine=name,
        fault=fault,
        tests=tuple(taken),
        minutes=minutes,
        status=verdict.status.value,
        named=named,
        headline=render(reported.statement.headline),
    )


def _can_take(offer: Offer, taken: Sequence[str]) -> bool:
    return offer in BY_HAND and offer.id not in taken


def _looked(vehicle: Vehicle, offer: Offer, first: int, rng: np.random.Generator) -> list[Measured]:
    """What a look shows: of all the readings of its test those that the offer asks for."""
    seen: list[Observation] = observe(vehicle, TEST_OF[offer.id], hot=False, rng=rng)
    asked = [o for o in seen if all(o.data.get(key) == value for key, value in offer.asks.items())]
    read = [measure_observation(o, first + i, vehicle.engine) for i, o in enumerate(asked)]
    return [m for m in read if m is not None]


def targets_met(ways: Sequence[Way]) -> bool:
    """Seven of ten named and right, and nothing established that is wrong."""
    wrong = any(w.status == Status.ESTABLISHED.value and not w.right for w in ways)
    return not wrong and sum(w.right for w in ways) >= 0.7 * len(ways)


def report(ways: Sequence[Way]) -> str:
    """Every way taken, and what came of all of them."""
    right = sum(w.right for w in ways)
    wrong = sum(w.status == Status.ESTABLISHED.value and not w.right for w in ways)
    lines = [
        f"{len(ways)} engines that crank and do not start, from intake by the plan alone",
        f"fault named and right   {right} of {len(ways)}",
        f"established and wrong   {wrong} of {len(ways)}",
        f"minutes                 {np.mean([w.minutes for w in ways]):.0f} on average, "
        f"{np.mean([len(w.tests) for w in ways]):.1f} tests",
        "",
    ]
    for w in ways:
        lines.append(f"{w.seed} {w.engine}, {w.fault}: {w.status}, {w.minutes:.0f} min. {w.headline}")
        lines.append(f"    {' > '.join(w.tests)}")
    return "\n".join(lines)

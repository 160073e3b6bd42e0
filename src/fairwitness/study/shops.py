"""Does learning help? Simulated shops whose faults come otherwise than the shipped priors say.

Every vehicle is examined once by the plan, as shipped; what its evidence says of each fault is kept. Another prior only
re-weighs that, exactly, so that thousands of cases of many shops cost no more than adding up. Minutes are different:
another prior asks for other tests, so the last cases of every shop are examined anew with what the shop had learned.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from functools import cached_property, partial
from pathlib import Path
from typing import Any

import numpy as np

from fairwitness.core.model.engine import Engine
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.faults import NO_FAULT
from fairwitness.core.reason.learned import Outcome, ShopKnowledge, learned_shares
from fairwitness.simulate.garage import ENGINES
from fairwitness.simulate.health import Fault
from fairwitness.study.ledger import Ledger
from fairwitness.study.policies import BLAMING, Under, to_the_end
from fairwitness.study.population import vehicle_of
from fairwitness.study.spread import spread
from fairwitness.study.trust import interval_of

SHOPS, CASES = 50, 200
WRITTEN_DOWN = 0.7
"""So many outcomes are written down at all."""
SLIPS = 0.02
"""So many of them are wrong in any shop."""
POISONED = 10
"""Wrong outcomes, one fault in all of them, that a poisoned shop begins with."""
MIX_SPREAD = 1.0
"""Spread of the natural logarithm of how much more often a fault comes in a shop than as shipped."""
AGAIN = 6
"""So many of a shop's last cases are examined anew."""
LEAST = 1e-9
FOLDER = Path("var/study")


@dataclass(frozen=True, slots=True, kw_only=True)
class Examined:
    """One vehicle, examined to the end.

    Parameters
    ----------
    seed : int
    engine : str
    fault : str
        What is wrong with it; of several the first named, ``NO_FAULT`` for nothing.
    chances : mapping of fault to float
        What its evidence gives to each fault at the end, by the priors it was examined under.
    minutes : float
    right : bool
        The cylinders and the fault that were named are the true ones.
    """

    seed: int
    engine: str
    fault: str
    chances: Mapping[str, float]
    minutes: float
    right: bool

    def with_factors(self, factors: Mapping[str, float]) -> float:
        """What the evidence gives to what is really wrong, by other priors."""
        weighed = {fault: chance * factors.get(fault, 1.0) for fault, chance in self.chances.items()}
        return max(weighed.get(self.fault, 0.0) / sum(weighed.values()), LEAST)


def examined(seed: int, under: Under, factors: Mapping[str, float]) -> Examined:
    """Examine a vehicle of the population.

    Parameters
    ----------
    seed : int
    under : Under
    factors : mapping of fault to float
        What a shop has learned; empty as shipped.

    Returns
    -------
    Examined
    """
    visit, faults, name = vehicle_of(seed, under.population)
    way = to_the_end(visit, under.densities(seed), ShopKnowledge(factors=factors))
    verdict = way.reported.verdict
    true = true_fault(faults)
    named = verdict.status in BLAMING
    return Examined(
        seed=seed,
        engine=name,
        fault=true,
        chances={fault: round(chance, 12) for fault, chance in chances_of(way.reported.posterior).items()},
        minutes=round(way.minutes, 1),
        right=not named if true == NO_FAULT else named and true in verdict.faults,
    )


def true_fault(faults: Sequence[Fault]) -> str:
    """What an outcome would name."""
    return faults[0].fault if faults else NO_FAULT


def chances_of(posterior: Posterior) -> dict[str, float]:
    """Chance of each fault as the root of the trouble, wherever it sits."""
    found: dict[str, float] = {}
    for h, p in zip(posterior.hypotheses, posterior.probabilities.tolist(), strict=True):
        found[h.fault] = found.get(h.fault, 0.0) + p
    return found


@dataclass(frozen=True, kw_only=True)
class Shop:
    """One shop: its cases, in their order, and which outcomes it writes down.

    Parameters
    ----------
    number : int
    cases : tuple of Examined
    mix : mapping of fault to float
        How much more often each fault comes than as shipped.
    """

    number: int
    cases: tuple[Examined, ...]
    mix: Mapping[str, float]
    poison: int = 0

    @cached_property
    def written(self) -> tuple[Outcome | None, ...]:
        """What is written down of each case: the truth, a slip, or nothing."""
        rng = np.random.default_rng((20_26, 31, self.number))
        names = sorted({case.fault for case in self.cases})
        wrong = str(rng.choice(names))
        told: list[Outcome | None] = []
        for at, case in enumerate(self.cases):
            fault = case.fault
            if at < self.poison:
                fault = wrong if fault != wrong else str(rng.choice([n for n in names if n != wrong]))
            elif rng.random() < SLIPS:
                fault = str(rng.choice(names))
            kept = at < self.poison or rng.random() < WRITTEN_DOWN
            told.append(
                Outcome(engine=engine_of(case), fault=fault, chance=case.chances.get(fault, 0.0)) if kept else None
            )
        return tuple(told)

    def factors_before(self, at: int) -> Mapping[str, float]:
        """What had been learned before a case."""
        known = [outcome for outcome in self.written[:at] if outcome is not None]
        return {line.fault: line.factor for line in learned_shares(known)}


def engine_of(case: Examined) -> Engine:
    """The engine of a vehicle."""
    return ENGINES[case.engine]


def shops(pool: Sequence[Examined], *, count: int, cases: int, poison: int = 0) -> tuple[Shop, ...]:
    """Shops that draw their cases from examined vehicles, each with a mix of faults of its own.

    Parameters
    ----------
    pool : sequence of Examined
    count, cases : int
    poison : int
        Wrong outcomes at the beginning.

    Returns
    -------
    tuple of Shop
    """
    faults = sorted({vehicle.fault for vehicle in pool})
    made = []
    for number in range(count):
        rng = np.random.default_rng((20_26, 30, number))
        mix = {fault: float(np.exp(rng.normal(0.0, MIX_SPREAD))) for fault in faults}
        weights = np.array([mix[vehicle.fault] for vehicle in pool])
        drawn = rng.choice(len(pool), size=cases, p=weights / weights.sum())
        made.append(Shop(number=number, cases=tuple(pool[i] for i in drawn), mix=mix, poison=poison))
    return tuple(made)


@dataclass(frozen=True, slots=True, kw_only=True)
class Losses:
    """Mean log score of what was given to the truth, in nats: of all cases, and of the second half of each shop's.

    Parameters
    ----------
    shipped, learned, known : (shops,) float
        With the shipped priors, with what was learned, and with the shop's true mix, which nobody knows.
    late_shipped, late_learned : (shops,) float
    """

    shipped: np.ndarray[Any, Any]
    learned: np.ndarray[Any, Any]
    known: np.ndarray[Any, Any]
    late_shipped: np.ndarray[Any, Any]
    late_learned: np.ndarray[Any, Any]


def losses(of: Sequence[Shop]) -> Losses:
    """What learning does to the chances given to what was really wrong.

    Parameters
    ----------
    of : sequence of Shop

    Returns
    -------
    Losses
    """
    rows = []
    for shop in of:
        plain = np.array([-np.log(case.with_factors({})) for case in shop.cases])
        learned = np.array([-np.log(case.with_factors(shop.factors_before(i))) for i, case in enumerate(shop.cases)])
        known = np.array([-np.log(case.with_factors(shop.mix)) for case in shop.cases])
        late = len(plain) // 2
        rows.append((plain.mean(), learned.mean(), known.mean(), plain[late:].mean(), learned[late:].mean()))
    table = np.array(rows)
    return Losses(
        shipped=table[:, 0],
        learned=table[:, 1],
        known=table[:, 2],
        late_shipped=table[:, 3],
        late_learned=table[:, 4],
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Again:
    """One of a shop's last cases, examined as shipped and anew with what the shop had learned."""

    seed: int
    """Of the shop and the case: its name in the ledger."""
    before: Mapping[str, Any]
    after: Mapping[str, Any]


def again(number: int, of: Sequence[Shop], under: Under) -> Again:
    """Examine one case anew.

    Parameters
    ----------
    number : int
        Shops times ``AGAIN``.
    of : sequence of Shop
    under : Under

    Returns
    -------
    Again
    """
    shop = of[number // AGAIN]
    at = len(shop.cases) - 1 - number % AGAIN
    before = shop.cases[at]
    after = examined(before.seed, under, shop.factors_before(at))
    return Again(seed=number, before=asdict(before), after=asdict(after))


@dataclass(frozen=True, slots=True, kw_only=True)
class Size:
    """How large a study is: vehicles in the pool from a seed on, shops, and cases of each."""

    vehicles: int
    seed: int
    shops: int = SHOPS
    cases: int = CASES


def run(size: Size, under: Under, *, folder: Path = FOLDER, workers: int | None = None) -> tuple[str, bool]:
    """The whole study; what is done already is read from its ledgers.

    Parameters
    ----------
    size : Size
    under : Under
    folder : Path
    workers : int, optional

    Returns
    -------
    (text, helps) : str, bool
        The report, and whether learning helps and cannot be led astray.
    """
    name = f"shops-{under.population}-{size.seed}".replace(" ", "-")
    ledger = Ledger(folder / f"{name}.jsonl", asdict, lambda row: Examined(**row))
    seeds = range(size.seed, size.seed + size.vehicles)
    waiting = [one for one in seeds if one not in ledger.known]
    for done in spread(partial(examined, under=under, factors={}), waiting, workers=workers):
        ledger.keep(done)
    pool = [ledger.known[one] for one in seeds]
    honest, poisoned = (shops(pool, count=size.shops, cases=size.cases, poison=poison) for poison in (0, POISONED))
    second = Ledger(folder / f"{name}-again.jsonl", asdict, lambda row: Again(**row))
    numbers = [n for n in range(size.shops * AGAIN) if n not in second.known]
    for redone in spread(partial(again, of=honest, under=under), numbers, workers=workers):
        second.keep(redone)
    fair, led = losses(honest), losses(poisoned)
    return report(fair, led, [second.known[n] for n in range(size.shops * AGAIN)], honest), helps(fair, led)


def report(honest: Losses, poisoned: Losses, anew: Sequence[Again], of: Sequence[Shop]) -> str:
    """The figures in words."""
    mean_cases = sum(len(shop.cases) for shop in of)
    minutes = np.array([(row.before["minutes"], row.after["minutes"]) for row in anew])
    right = np.array([(row.before["right"], row.after["right"]) for row in anew], dtype=float)
    return "\n".join(
        (
            f"{len(of)} shops, {mean_cases} cases; faults come up to e times as often or as seldom as shipped"
            f" (one standard deviation)",
            f"log loss as shipped             {honest.shipped.mean():.4f} nats a case",
            f"log loss with learning          {_compared(honest.learned, honest.shipped)}",
            f"  second half of the cases      {_compared(honest.late_learned, honest.late_shipped)}",
            f"  with the shop's true mix      {_compared(honest.known, honest.shipped)}",
            f"after {POISONED} wrong outcomes of one fault {_compared(poisoned.learned, poisoned.shipped)}",
            f"  second half of the cases      {_compared(poisoned.late_learned, poisoned.late_shipped)}",
            f"minutes of {len(anew)} late cases      {minutes[:, 0].mean():.1f} as shipped,"
            f" {minutes[:, 1].mean():.1f} with learning ({_interval(minutes[:, 1] - minutes[:, 0], '.1f')})",
            f"named rightly                   {100 * right[:, 0].mean():.1f} % as shipped,"
            f" {100 * right[:, 1].mean():.1f} % with learning",
        )
    )


def _compared(now: np.ndarray[Any, Any], before: np.ndarray[Any, Any]) -> str:
    better = int((now < before).sum())
    return (
        f"{now.mean():.4f} ({_interval(now - before, '.4f')}; {100 * (now.mean() / before.mean() - 1):+.1f} %,"
        f" lower in {better} of {len(now)} shops)"
    )


def _interval(change: np.ndarray[Any, Any], form: str) -> str:
    """A mean change with its 95 % interval."""
    low, high = interval_of(change, lambda drawn: float(drawn.mean()), digits=4)
    return f"change {change.mean():+{form}}, 95 %: {low:+{form}} to {high:+{form}}"


def helps(honest: Losses, poisoned: Losses) -> bool:
    """Learning lowers the mean log loss, and wrong outcomes do not raise it above what ships."""
    return bool(honest.learned.mean() < honest.shipped.mean() and poisoned.learned.mean() <= poisoned.shipped.mean())

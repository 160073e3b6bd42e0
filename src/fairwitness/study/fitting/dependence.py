"""How far readings that share a capture, and views that share a spark, count as independent: by what serves best.

The powers are those under which the true answer was given the highest probability, over visits of a few tests each.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from fairwitness.core.model.case import Case
from fairwitness.core.reason.inference.hypotheses import Hypothesis, hypotheses
from fairwitness.core.reason.inference.posterior import infer
from fairwitness.core.reason.knowledge.densities import Densities
from fairwitness.core.reason.knowledge.faults import NO_FAULT
from fairwitness.simulate.garage import ENGINES
from fairwitness.study.fitting.readings import KnownVehicle

TEMPERS = (0.4, 0.55, 0.7, 0.85, 1.0)
VIEWS = (0.3, 0.45, 0.6, 0.8, 1.0)
TESTS_OF_A_VISIT = (2, 7)
"""[M] so many sources at least, and fewer than so many, are there when somebody looks at a verdict."""
LEAST = 1e-6


@dataclass(frozen=True, slots=True)
class Choice:
    """Powers, and the mean log probability of the true answer under them."""

    temper: float
    views_count_as: float
    score: float


def best_powers(densities: Densities, vehicles: Sequence[KnownVehicle]) -> Choice:
    """The powers that serve best, one after the other.

    Parameters
    ----------
    densities : Densities
    vehicles : sequence of KnownVehicle

    Returns
    -------
    Choice
    """
    best = _tried(densities, vehicles)
    for temper in TEMPERS:
        best = max(best, _tried(replace(densities, temper=temper), vehicles), key=lambda c: c.score)
    for views in VIEWS:
        own = replace(densities, temper=best.temper, views_count_as=views)
        best = max(best, _tried(own, vehicles), key=lambda c: c.score)
    return best


def _tried(densities: Densities, vehicles: Sequence[KnownVehicle]) -> Choice:
    return Choice(densities.temper, densities.views_count_as, log_score(densities, vehicles))


def log_score(densities: Densities, vehicles: Sequence[KnownVehicle]) -> float:
    """Mean log probability of the true fault at its true place, over short visits.

    Parameters
    ----------
    densities : Densities
    vehicles : sequence of KnownVehicle

    Returns
    -------
    float, nats
    """
    return float(np.mean([np.log(max(chance_of_truth(densities, known), LEAST)) for known in vehicles]))


def chance_of_truth(densities: Densities, known: KnownVehicle) -> float:
    """Probability that a short visit gives to what is wrong with a vehicle."""
    rng = np.random.default_rng((20_26, 19, known.seed))
    sources = sorted({*(e.source for e in known.lines), *(s.source for s in known.outcomes)})
    if not sources:
        return 1.0
    count = min(int(rng.integers(*TESTS_OF_A_VISIT)), len(sources))
    heard = set(rng.choice(sources, size=count, replace=False).tolist())
    engine = ENGINES[known.engine]
    posterior = infer(
        _all_of(known.engine),
        [line for line in known.lines if line.source in heard],
        engine,
        [seen for seen in known.outcomes if seen.source in heard],
        densities=densities,
    )
    if known.fault is None:
        return float(sum(p for h, p in zip(posterior.hypotheses, posterior.probabilities, strict=True)
                         if h.fault == NO_FAULT))  # fmt: skip
    if known.everywhere:
        return float(sum(p for h, p in zip(posterior.hypotheses, posterior.probabilities, strict=True)
                         if h.fault == known.fault.fault))  # fmt: skip
    return posterior.of_placed(known.fault)


@lru_cache(maxsize=64)
def _all_of(engine: str) -> tuple[Hypothesis, ...]:
    return hypotheses(Case(name="", engine=ENGINES[engine]))

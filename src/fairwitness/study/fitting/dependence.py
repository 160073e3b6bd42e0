"""How far readings that share a capture, and views that share a spark, count as independent: by what serves best.

The score is the mean log probability of the true answer over visits of a few tests each.

References
----------
Gneiting and Raftery, JASA 102 (2007): the logarithmic score, which honest chances win [P].
Breiman, Friedman, Olshen and Stone, Classification and Regression Trees (1984), section 3.4.3: of choices within one
standard error of the best, the most cautious [P].
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.case import Case
from fairwitness.core.reason.inference.hypotheses import Hypothesis, hypotheses
from fairwitness.core.reason.inference.posterior import infer
from fairwitness.core.reason.knowledge.densities import Densities
from fairwitness.core.reason.knowledge.faults import NO_FAULT
from fairwitness.simulate.garage import ENGINES
from fairwitness.study.fitting.readings import KnownVehicle

FloatArray = NDArray[np.float64]

TEMPERS = (0.4, 0.55, 0.7, 0.85)
"""[M] never all of it: no world does everything that one clamp, battery and operator do to all numbers at once."""
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
        At least one, and none that the densities were estimated from: what knew the answer would look independent.

    Returns
    -------
    Choice
    """
    temper, _ = _best({t: log_scores(replace(densities, temper=t), vehicles) for t in TEMPERS})
    tempered = replace(densities, temper=temper)
    views, score = _best({v: log_scores(replace(tempered, views_count_as=v), vehicles) for v in VIEWS})
    return Choice(temper, views, score)


def _best(scores: Mapping[float, FloatArray]) -> tuple[float, float]:
    """The lowest power whose mean score lies within one standard error of the best, and that score.

    Vehicles are the same under every power, so it is their differences whose error counts.
    """
    powers = sorted(scores)
    top = scores[max(powers, key=lambda p: float(scores[p].mean()))]

    def as_good(power: float) -> bool:
        behind = top - scores[power]
        return float(behind.mean()) <= float(behind.std() / np.sqrt(behind.size))

    power = next(p for p in powers if as_good(p))
    return power, float(scores[power].mean())


def log_scores(densities: Densities, vehicles: Sequence[KnownVehicle]) -> FloatArray:
    """Log probability of the true fault at its true place, over one short visit of each vehicle.

    Parameters
    ----------
    densities : Densities
    vehicles : sequence of KnownVehicle

    Returns
    -------
    (vehicles,) float, nats
    """
    return np.array([np.log(max(chance_of_truth(densities, known), LEAST)) for known in vehicles])


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

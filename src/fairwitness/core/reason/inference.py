"""Weighing the evidence: Bayes over every fault at every place."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.engine import Engine
from fairwitness.core.finding import Evidence, Sighting
from fairwitness.core.reason.faults import OTHER, OTHER_MECHANICAL, Cause, Hypothesis
from fairwitness.core.reason.outcomes import SOUND, chance
from fairwitness.core.reason.signatures import SIGNATURES, log_likelihood

FloatArray = NDArray[np.float64]
BoolArray = NDArray[np.bool_]

LEFT_ALONE, BESIDE = "=", "beside"
ANYTHING = ("=", "-", "0", "+", "~")
SCATTERS = ("~", "0")
"""Forms that stay visible where every cylinder is ill."""
TEMPER = 0.85
"""[M] numbers of one capture share clamp, battery and operator: together they count less than independent ones."""
VIEWS_COUNT_AS = 0.6
"""[M] several views of one source (breakdown, line and duration of the same sparks) count as this power of their
number, not as that many witnesses."""
SPREADS_ROUND = ("RC", "CON", "EX", "CK", "IN")
"""Lines in which an ill cylinder disturbs those fired beside it; coils and injectors do not hear each other."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Posterior:
    """Hypotheses with what the evidence makes of them, most probable first."""

    hypotheses: tuple[Hypothesis, ...]
    probabilities: FloatArray

    def of_cause(self, cause: Cause) -> float:
        """Probability that the fault is of a cause, wherever it sits."""
        return float(sum(p for h, p in zip(self.hypotheses, self.probabilities, strict=True) if h.cause is cause))

    def of_cylinder(self, cylinder: int, cause: Cause) -> float:
        """Probability that this cylinder suffers from a fault of a cause."""
        return float(
            sum(
                p
                for h, p in zip(self.hypotheses, self.probabilities, strict=True)
                if h.cause is cause and cylinder in h.cylinders
            )
        )

    @property
    def entropy_bits(self) -> float:
        """What is still open, in bits."""
        p = self.probabilities[self.probabilities > 0]
        return float(-(p * np.log2(p)).sum())


def infer(
    candidates: Sequence[Hypothesis],
    evidence: Sequence[Evidence],
    engine: Engine,
    sightings: Sequence[Sighting] = (),
) -> Posterior:
    """Posterior over hypotheses.

    Parameters
    ----------
    candidates : sequence of Hypothesis
    evidence : sequence of Evidence
        Lines of one source are tempered together; an unusable capture gives none.
    engine : Engine
    sightings : sequence of Sighting

    Returns
    -------
    Posterior
        Probabilities sum to 1.
    """
    scores = np.log(np.array([h.prior for h in candidates]))
    places = {h.cylinders: _places(h.cylinders, engine.firing_order) for h in candidates}
    views = Counter(line.source for line in evidence)
    for line in evidence:
        weight = TEMPER * views[line.source] ** (VIEWS_COUNT_AS - 1)
        scores += weight * _line_log_likelihoods(candidates, line, places)
    for sighting in sightings:
        scores += TEMPER * _sighting_log_likelihoods(candidates, sighting)
    weights = np.exp(scores - scores.max())
    probabilities = weights / weights.sum()
    order = np.argsort(-probabilities, kind="stable")
    return Posterior(hypotheses=tuple(candidates[i] for i in order), probabilities=probabilities[order])


@dataclass(frozen=True, slots=True)
class _Places:
    """Who is ill, who fires beside an ill one and who is apart, in firing order."""

    ill: BoolArray
    beside: BoolArray
    apart: BoolArray

    @property
    def all_ill(self) -> bool:
        return bool(self.ill.all())


@lru_cache(maxsize=4096)
def _places(cylinders: tuple[int, ...], firing_order: tuple[int, ...]) -> _Places:
    ill = np.array([c in cylinders for c in firing_order])
    beside = (np.roll(ill, 1) | np.roll(ill, -1)) & ~ill
    return _Places(ill=ill, beside=beside, apart=~ill & ~beside)


def _line_log_likelihoods(
    candidates: Sequence[Hypothesis], line: Evidence, places: Mapping[tuple[int, ...], _Places]
) -> FloatArray:
    """Open assignments are averaged over: a capture without sync says how many are low, not which."""
    scores = np.array([_scores(candidates, line, shares, places) for shares in line.alternatives])
    peak = scores.max(axis=0)
    return np.asarray(peak + np.log(np.exp(scores - peak).mean(axis=0)))


def _sighting_log_likelihoods(candidates: Sequence[Hypothesis], sighting: Sighting) -> FloatArray:
    at = set(sighting.cylinders)

    def score(hypothesis: Hypothesis) -> float:
        here = not at or bool(at & set(hypothesis.cylinders))
        return float(np.log(chance(sighting.kind, sighting.outcome, hypothesis.fault if here else SOUND)))

    return np.array([score(h) for h in candidates])


def _scores(
    candidates: Sequence[Hypothesis], line: Evidence, shares: FloatArray, places: Mapping[tuple[int, ...], _Places]
) -> FloatArray:
    """Log likelihood of one assignment of shares to cylinders under each hypothesis."""
    looked_up: dict[tuple[str, ...], FloatArray] = {}

    def under(symbols: tuple[str, ...]) -> FloatArray:
        if symbols not in looked_up:
            looked_up[symbols] = log_likelihood(shares, line.sigmas, symbols, line.line)
        return looked_up[symbols]

    def score(hypothesis: Hypothesis) -> float:
        if not hypothesis.cylinders and hypothesis.fault in (OTHER, OTHER_MECHANICAL):
            seals = hypothesis.fault == OTHER and line.line == "RC"
            return float(under((LEFT_ALONE,) if seals else ANYTHING).sum())
        at = places[hypothesis.cylinders]
        expected = SIGNATURES[hypothesis.fault][line.line]
        if at.all_ill and expected and (LEFT_ALONE in expected or not set(expected) & set(SCATTERS)):
            expected = (LEFT_ALONE,)  # relative: a fault common to all is even
        near = (LEFT_ALONE,) if LEFT_ALONE in expected or line.line not in SPREADS_ROUND else (BESIDE,)
        total = under(expected)[at.ill].sum() + under(near)[at.beside].sum() + under((LEFT_ALONE,))[at.apart].sum()
        return float(total)

    return np.array([score(h) for h in candidates])

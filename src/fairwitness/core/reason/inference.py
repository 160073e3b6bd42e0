"""Weighing the evidence: Bayes over every fault at every place."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.engine import Engine
from fairwitness.core.finding import Evidence
from fairwitness.core.reason.faults import Cause, Hypothesis
from fairwitness.core.reason.signatures import SIGNATURES, log_likelihood

FloatArray = NDArray[np.float64]

LEFT_ALONE, BESIDE = "=", "beside"
TEMPER = 0.85
"""[M] numbers of one capture share clamp, battery and operator: together they count less than independent ones."""


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


def infer(candidates: Sequence[Hypothesis], evidence: Sequence[Evidence], engine: Engine) -> Posterior:
    """Posterior over hypotheses.

    Parameters
    ----------
    candidates : sequence of Hypothesis
    evidence : sequence of Evidence
        One per independent source; an unusable capture gives none.
    engine : Engine

    Returns
    -------
    Posterior
        Probabilities sum to 1.
    """
    scores = np.log(np.array([h.prior for h in candidates]))
    for line in evidence:
        scores += np.array([TEMPER * _line_log_likelihood(h, line, engine) for h in candidates])
    weights = np.exp(scores - scores.max())
    probabilities = weights / weights.sum()
    order = np.argsort(-probabilities, kind="stable")
    return Posterior(hypotheses=tuple(candidates[i] for i in order), probabilities=probabilities[order])


def _line_log_likelihood(hypothesis: Hypothesis, line: Evidence, engine: Engine) -> float:
    """Open assignments are averaged over: a capture without sync says how many are low, not which."""
    per_alternative = []
    for shares in line.alternatives:
        total = 0.0
        if hypothesis.fault == "other":
            total = float(log_likelihood(shares, line.sigmas, ("=", "-", "0", "+", "~")).sum())
        else:
            ill = np.array([c in hypothesis.cylinders for c in engine.firing_order])
            expected = SIGNATURES[hypothesis.fault][line.line]
            if ill.all() and line.line == "RC":
                expected = (LEFT_ALONE,)  # relative: a fault common to all is even
            total += float(log_likelihood(shares[ill], line.sigmas[ill], expected).sum())
            beside = (np.roll(ill, 1) | np.roll(ill, -1)) & ~ill & (LEFT_ALONE not in expected)
            apart = ~ill & ~beside
            total += float(log_likelihood(shares[beside], line.sigmas[beside], (BESIDE,)).sum())
            total += float(log_likelihood(shares[apart], line.sigmas[apart], (LEFT_ALONE,)).sum())
        per_alternative.append(total)
    values = np.array(per_alternative)
    peak = float(values.max())
    return peak + float(np.log(np.mean(np.exp(values - peak))))

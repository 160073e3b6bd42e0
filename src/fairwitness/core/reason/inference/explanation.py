"""Why this and not that: what each piece of evidence says of the leading hypothesis beside its nearest rival."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior

RIVAL_MIN = 0.004
"""[M] chance below which a rival is not worth a sentence."""
TELLS = float(np.log(2.0))
"""[M] evidence that favours one of two hypotheses less than twofold is not named."""
AGAINST = float(np.log(10.0))
"""[M] evidence some other hypothesis would have foretold so much better than the leading one is named against it."""
OPPOSED = float(np.log(40.0))
"""[M] from here on nothing is called established over it."""


@dataclass(frozen=True, slots=True)
class SourceLogRatio:
    """What one source says between two hypotheses; ``nats`` above zero speak for the leading one."""

    source: str
    nats: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Explanation:
    """The leading hypothesis beside its rival.

    Parameters
    ----------
    leading : Hypothesis
    rival : Hypothesis or None
        The next probable one of another fault or place; None where all others are negligible.
    rival_probability : float
    telling : tuple of SourceLogRatio
        What tells the two apart, strongest first, whichever way it speaks.
    against : tuple of SourceLogRatio
        What speaks against the leading one whatever the rival; ``nats`` below zero.
    """

    leading: Hypothesis
    rival: Hypothesis | None = None
    rival_probability: float = 0.0
    telling: tuple[SourceLogRatio, ...] = ()
    against: tuple[SourceLogRatio, ...] = ()

    @property
    def opposed(self) -> bool:
        """Whether something speaks so much against the leading one that it cannot be called established."""
        return any(-t.nats >= OPPOSED for t in self.against)


def explain(posterior: Posterior) -> Explanation:
    """Lay the evidence between the leading hypothesis and its rival.

    Parameters
    ----------
    posterior : Posterior

    Returns
    -------
    Explanation
    """
    leading = posterior.hypotheses[0]
    reported = posterior.log_likelihoods
    if reported is None or not len(posterior.sources):
        return Explanation(leading=leading)
    misfit = reported[:, 0] - reported.max(axis=1)
    against = sorted(
        (SourceLogRatio(s, float(n)) for s, n in zip(posterior.sources, misfit, strict=True) if -n >= AGAINST),
        key=lambda t: t.nats,
    )
    at = nearest_alternative(posterior)
    if at is None:
        return Explanation(leading=leading, against=tuple(against))
    between = reported[:, 0] - reported[:, at]
    telling = sorted(
        (SourceLogRatio(s, float(n)) for s, n in zip(posterior.sources, between, strict=True) if abs(n) >= TELLS),
        key=lambda t: -abs(t.nats),
    )
    return Explanation(
        leading=leading,
        rival=posterior.hypotheses[at],
        rival_probability=float(posterior.probabilities[at]),
        telling=tuple(telling),
        against=tuple(against),
    )


def nearest_alternative(posterior: Posterior) -> int | None:
    """Place of the nearest rival: another fault, or the same one elsewhere, and not the leading one with company."""
    leading = posterior.hypotheses[0]
    for i, h in enumerate(posterior.hypotheses[1:], start=1):
        if posterior.probabilities[i] < RIVAL_MIN:
            return None
        if h.fault != leading.fault or not set(h.everywhere) & set(leading.everywhere):
            return i
    return None

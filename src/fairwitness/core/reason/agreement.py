"""Whether what a test showed spoke for what was found in the end."""

from __future__ import annotations

import numpy as np

from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import FloatArray, Posterior
from fairwitness.core.reason.knowledge.faults import NO_FAULT

MOVED = 0.2
"""[M] nats by which a test has to move the odds of what was found before it said anything of it."""


def chance_of(posterior: Posterior, fault: str) -> float:
    """What the evidence gives to a fault, wherever it sits.

    Parameters
    ----------
    posterior : Posterior
    fault : str
        Of the catalogue, or ``NO_FAULT``.

    Returns
    -------
    float
    """
    shown = np.array([_is(h, fault, ()) for h in posterior.hypotheses])
    return float(posterior.probabilities[shown].sum()) if shown.any() else 0.0


def spoke_for(posterior: Posterior, fault: str, cylinders: tuple[int, ...]) -> dict[str, bool]:
    """Which sources made what was found likelier, and which less likely.

    A source is compared with what all hypotheses together would have foretold of it, each by its prior chance.

    Parameters
    ----------
    posterior : Posterior
    fault : str
    cylinders : tuple of int
        Where it was found; empty for anywhere.

    Returns
    -------
    dict of source to bool
        Sources that hardly moved it are left out.
    """
    found = np.array([_is(h, fault, cylinders) for h in posterior.hypotheses])
    if posterior.log_likelihoods is None or not found.any():
        return {}
    priors = np.array([h.prior for h in posterior.hypotheses])
    told = {}
    for source, log_likelihood in zip(posterior.sources, posterior.log_likelihoods, strict=True):
        usual = _expected(log_likelihood, priors)
        of_found = _expected(log_likelihood[found], priors[found])
        if abs(of_found - usual) > MOVED:
            told[source] = bool(of_found > usual)
    return told


def _is(hypothesis: Hypothesis, fault: str, cylinders: tuple[int, ...]) -> bool:
    if fault == NO_FAULT:
        return hypothesis.fault == NO_FAULT
    return any(p.fault == fault and (not cylinders or set(p.cylinders) == set(cylinders)) for p in hypothesis.placed)


def _expected(log_likelihood: FloatArray, priors: FloatArray) -> float:
    """Logarithm of the mean likelihood, weighed by the priors."""
    most = float(log_likelihood.max())
    return most + float(np.log((priors * np.exp(log_likelihood - most)).sum() / priors.sum()))

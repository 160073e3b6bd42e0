"""The reading by hand an accusation hangs on, taken once more: whom a slip accuses the next reading clears.

A slip is another one each time. A capture is not offered again: the same clamp on the same wire says the same, be it
right or wrong, and agrees with itself for no reason.

From the posterior and the measurements; the plan offers it where no other test would tell more.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fairwitness.core.model.measurement import Measured
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Cause

SOUND_FROM = 0.05
"""[M] chance that nothing is wrong, from which a reading is doubted before a vehicle is."""
HANGS_ON_ODDS = 3.0
"""[M] odds by which a reading speaks against a sound engine, from which the accusation hangs on it."""
TIMES_MOST = 2
"""A reading that was repeated has said what it can say."""


@dataclass(frozen=True, slots=True)
class Pivot:
    """A test whose reading an accusation hangs on, and the cylinders it was of."""

    test: str
    """Offer, such as ``exhaust_temperature`` or ``runner_check:runner``."""
    cylinders: tuple[int, ...]


def pivots(posterior: Posterior, usable: Sequence[Measured]) -> tuple[Pivot, ...]:
    """Readings that tell the leading fault from a sound engine, the most telling first.

    Parameters
    ----------
    posterior : Posterior
    usable : sequence of Measured

    Returns
    -------
    tuple of Pivot
        Empty where a sound engine is out of the question, or no fault is.
    """
    sound = next((i for i, h in enumerate(posterior.hypotheses) if h.cause is Cause.NONE), None)
    leading = next((i for i, h in enumerate(posterior.hypotheses) if h.placed), None)
    told = posterior.log_likelihoods
    if sound is None or leading is None or told is None:
        return ()
    if not (SOUND_FROM <= posterior.probabilities[sound] <= 1.0 - SOUND_FROM):
        return ()
    gains = told[:, leading] - told[:, sound]
    found = {pivot: None for i in np.argsort(-gains) if gains[i] >= np.log(HANGS_ON_ODDS)
             for pivot in _taken(posterior.sources[i], usable)}  # fmt: skip
    return tuple(p for p in found if _times(p, usable) < TIMES_MOST)


def _taken(source: str, usable: Sequence[Measured]) -> list[Pivot]:
    """What was done by hand to read a source."""
    for m in usable:
        if m.resource is not None:
            continue
        if any(line.source == source for line in m.lines) and m.test in OFFERS:
            return [Pivot(m.test, ())]
        own = [s for s in m.categorical if s.source == source]
        if by_hand := [Pivot(s.kind, s.cylinders) for s in own if s.kind in OFFERS]:
            return by_hand[:1]
        if own and m.test in OFFERS and not OFFERS[m.test].per_cylinder:
            return [Pivot(m.test, ())]
    return []


def _times(pivot: Pivot, usable: Sequence[Measured]) -> int:
    """How often it was taken."""
    if not pivot.cylinders:
        return sum(m.test == pivot.test for m in usable)
    return sum(s.kind == pivot.test and bool(set(s.cylinders) & set(pivot.cylinders))
               for m in usable for s in m.categorical)  # fmt: skip

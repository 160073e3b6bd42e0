"""What the work of single events amounts to per cylinder: share, spread, misfires, state."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.model.measurement import State
from fairwitness.core.signal.peers import healthy_level, usual_of
from fairwitness.core.signal.robust import robust_centre, robust_sigma

FloatArray = NDArray[np.float64]

HEAP_MIN, HEAPS_APART, HEAP_LOW_SHARE, HEAP_HIGH = 2, 4.5, 0.6, 0.6
"""[M] events of a heap, how far heaps lie apart in scatters of their own, how much less a misfire and how much at least
a burnt event does."""
WORK_NEAR = 0.15
"""[M] cylinders whose work differs by less are of one group."""
CLEAR_OF_SCATTER = 4.5
"""Standard deviations that an event must lie below the sound ones before it is called a misfire."""
MISSED_MIN = 2
"""One odd event is an accident."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Contribution:
    """What the events of one cylinder amount to, as shares of the sound level."""

    share: float
    spread: float
    misfire_rate: float
    events: int
    state: State


def contributions(per_cycle: FloatArray) -> tuple[FloatArray, list[Contribution]]:
    """Shares of every event, and what they amount to per cylinder.

    Parameters
    ----------
    per_cycle : (cycles, cylinders) float
        Work of every event, any unit.

    Returns
    -------
    (shares, contributions) : (cycles, cylinders) float, list of Contribution
    """
    level = usual_work(np.percentile(per_cycle, 60, axis=0))
    if not level > 0:
        return np.zeros(per_cycle.shape), [_contribution(np.zeros(per_cycle.shape[0]), 0.5) for _ in per_cycle.T]
    shares = per_cycle / level
    scatter = float(np.median(robust_centre(shares)[1]))
    missed = min(limit.MISFIRE_EVENT_SHARE.value, 1.0 - CLEAR_OF_SCATTER * scatter)
    return shares, _neighbours_spared([_contribution(own, missed) for own in shares.T])


def usual_work(work: FloatArray) -> float:
    """Work of a sound cylinder.

    One that towers over all others is fed too much; it is not the mark that they fall short of.

    Parameters
    ----------
    work : (cylinders,) float

    Returns
    -------
    float
        Same unit.
    """
    ranked = np.sort(work)
    if ranked.size >= 4 and ranked[-1] * limit.WORK_TOWERS_SHARE.value > ranked[-2] > 0:
        return usual_of(ranked[:-1], within=WORK_NEAR)
    return healthy_level(work)


def _neighbours_spared(found: list[Contribution]) -> list[Contribution]:
    """A cylinder fired beside a much worse one is not accused of a mild deviation: power strokes overlap."""
    spared = []
    for i, own in enumerate(found):
        beside = (found[i - 1], found[(i + 1) % len(found)])
        worse = len(found) > 2 and min(b.share for b in beside) < own.share - limit.BESIDE_WORSE_BY.value
        mild = own.state is State.LOW and own.share >= limit.BESIDE_WORSE_LOW_SHARE.value
        mild = mild and own.misfire_rate < limit.MISFIRE_RATE_MIN.value
        spared.append(replace(own, state=State.NORMAL) if worse and mild else own)
    return spared


def _contribution(shares: FloatArray, missed_below: float) -> Contribution:
    missed = shares < _parted(shares, missed_below)
    rate = float(np.mean(missed)) if np.count_nonzero(missed) >= MISSED_MIN else 0.0
    middle = float(np.clip(np.mean(np.clip(shares, 0.0, 1.6)), 0.0, 1.6))
    fired = shares[~missed]
    spread = robust_sigma(fired) if fired.size > 2 else 0.0
    if float(np.median(shares)) < limit.CONTRIBUTION_ABSENT_SHARE.value and middle < 0.5:
        state = State.ABSENT
    elif rate >= limit.MISFIRE_RATE_MIN.value or middle < limit.CONTRIBUTION_LOW_SHARE.value:
        state = State.LOW
    else:
        state = State.NORMAL
    return Contribution(share=middle, spread=spread, misfire_rate=rate, events=shares.size, state=state)


def _parted(shares: FloatArray, usual: float) -> float:
    """Where misfires end and burnt events begin: between two heaps where there are two, else the usual limit.

    The heaps are parted where they scatter least about their own means [P: Otsu, IEEE Trans. SMC 9 (1979)].
    """
    ranked = np.sort(shares)
    count = ranked.size
    if count < 2 * HEAP_MIN:
        return usual
    below = np.arange(HEAP_MIN, count - HEAP_MIN + 1)
    sums = np.cumsum(ranked)
    low = sums[below - 1] / below
    high = (sums[-1] - sums[below - 1]) / (count - below)
    best = int(np.argmax(below * (count - below) * (high - low) ** 2))
    cut = int(below[best])
    within = float(np.sqrt((np.var(ranked[:cut]) * cut + np.var(ranked[cut:]) * (count - cut)) / count))
    apart = float(high[best] - low[best])
    if apart < HEAPS_APART * within or low[best] > HEAP_LOW_SHARE * high[best] or high[best] < HEAP_HIGH:
        return usual
    return float(0.5 * (ranked[cut - 1] + ranked[cut]))

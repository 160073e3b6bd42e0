"""Heights of compressions as shares of the sound ones, and what they say of a cylinder."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.model.measurement import State
from fairwitness.core.signal.peers import healthy_level
from fairwitness.core.signal.robust import robust_centre

FloatArray = NDArray[np.float64]


def shares_of_peers(per_cycle: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Each cylinder's height as a share of the sound level, with its robust spread.

    Parameters
    ----------
    per_cycle : (n_cycles, cylinders) float

    Returns
    -------
    (shares, spreads) : two (cylinders,) float arrays, 1
    """
    centre, sigma = robust_centre(per_cycle, axis=0)
    level = healthy_level(centre)
    if level <= 0:
        return np.zeros(centre.size), np.ones(centre.size)
    return np.maximum(centre / level, 0.0), sigma / level


def judge(shares: FloatArray, errors: FloatArray) -> list[State]:
    """State of each cylinder; mild deviations beside a dead hole are not accusations.

    Parameters
    ----------
    shares, errors : (cylinders,) float, 1
        In firing-order position; error of each share's centre.

    Returns
    -------
    list of State
    """
    absent = shares < limit.COMPRESSION_ABSENT_SHARE.value
    beside = (np.roll(absent, 1) | np.roll(absent, -1)) & ~absent if shares.size > 2 else np.zeros(shares.size, bool)
    states = []
    for share, error, dead, near in zip(shares, errors, absent, beside, strict=True):
        low = limit.BESIDE_DEAD_HOLE_LOW_SHARE.value if near else limit.COMPRESSION_LOW_SHARE.value
        high = limit.BESIDE_DEAD_HOLE_HIGH_SHARE.value if near else limit.COMPRESSION_HIGH_SHARE.value
        clear = abs(1.0 - share) > 2.5 * error
        if dead and clear:
            states.append(State.ABSENT)
        elif share < low and clear:
            states.append(State.LOW)
        elif share > high and clear:
            states.append(State.HIGH)
        else:
            states.append(State.NORMAL)
    return states


def scatter_of(spreads: FloatArray, count: int) -> FloatArray:
    """Scatter of a single compression; of few cycles that of all cylinders, and what the run-up adds, counts too.

    Parameters
    ----------
    spreads : (cylinders,) float, 1
        Robust spread of each.
    count : int
        Cycles.

    Returns
    -------
    (cylinders,) float, 1
    """
    if count >= limit.CRANKING_CYCLES_FEW.value:
        return spreads
    return np.hypot(np.maximum(spreads, np.median(spreads)), limit.CRANKING_RUN_UP_SIGMA.value)

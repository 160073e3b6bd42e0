"""Comparing a cylinder with its peers."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit

FloatArray = NDArray[np.float64]


def robust_centre(values: FloatArray, axis: int = 0) -> tuple[FloatArray, FloatArray]:
    """Median and robust sigma (1.4826 times the median absolute deviation).

    Parameters
    ----------
    values : (..., n, ...) float; NaN left out
    axis : int

    Returns
    -------
    (centre, sigma) : float arrays without ``axis``

    References
    ----------
    Factor 1.4826 for a normal distribution: Rousseeuw and Croux, JASA 88 (1993) [P].
    """
    median = np.nanmedian if np.isnan(values).any() else np.median  # several times as fast, and usual
    centre = median(values, axis=axis)
    sigma = 1.4826 * median(np.abs(values - np.expand_dims(centre, axis)), axis=axis)
    return np.asarray(centre), np.asarray(sigma)


def sound_level(heights: FloatArray) -> float:
    """Level of the sound cylinders: median of those near the strongest.

    A plain median of all fails where half the engine is low (a bank, companions). The second strongest sets the mark
    from four cylinders up, because the compression after a dead hole stands taller than it is.

    Parameters
    ----------
    heights : (n,) float

    Returns
    -------
    float
        Same unit; 0 or below where there is no compression at all.
    """
    ranked = np.sort(heights)[::-1]
    mark = ranked[1] if ranked.size >= 4 else ranked[0]
    peers = ranked[ranked >= limit.PEER_GROUP_SHARE.value * mark]
    if not peers.size:
        return float(mark)
    return float(0.5 * (peers[(peers.size - 1) // 2] + peers[peers.size // 2]))


def usual_of(values: FloatArray, *, within: float) -> float:
    """Usual value of cylinders of which some may stand out to either side.

    The median names the group, its mean is the level: of three cylinders with one ill, the median alone would be the
    sound one nearer to the ill one.

    Parameters
    ----------
    values : (n,) float, at least one
    within : float
        Share of the median that still belongs to the group; infinite for the median itself.

    Returns
    -------
    float
        Same unit.
    """
    middle = float(np.median(values))
    if not np.isfinite(within):
        return middle
    near = values[np.abs(values - middle) <= within * abs(middle)]
    return float(near.mean()) if near.size else middle

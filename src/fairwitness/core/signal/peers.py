"""Comparing a cylinder with its peers."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit

FloatArray = NDArray[np.float64]


def healthy_level(heights: FloatArray) -> float:
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


def usual_of(values: FloatArray, *, within: float, sound_is_high: bool = True) -> float:
    """Usual value of cylinders of which some may stand out to either side.

    The largest group of values near each other is the sound one, and its mean the level: of three cylinders with one
    ill, the median alone would be the sound one nearer to the ill one; of four with a pair ill, nobody's value.

    Parameters
    ----------
    values : (n,) float, at least one
    within : float
        Share of its middle that still belongs to a group; infinite for the median itself.
    sound_is_high : bool
        Which of two equally large groups is the sound one.

    Returns
    -------
    float
        Same unit.
    """
    middle = float(np.median(values))
    if not np.isfinite(within):
        return middle
    centres = np.concatenate(([middle], values))
    near = np.abs(values[None, :] - centres[:, None]) <= within * np.abs(centres[:, None])
    counts = near.sum(axis=1)
    if counts[0] == counts.max():
        return float(values[near[0]].mean())
    levels = np.array([values[row].mean() for row, count in zip(near, counts, strict=True) if count == counts.max()])
    return float(levels.max() if sound_is_high else levels.min())

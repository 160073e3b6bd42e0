"""Centre, spread and noise that a few values far off do not move."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]

NORMAL_FACTOR = 1.4826
"""Standard deviation of a normal distribution over its median absolute deviation.

Rousseeuw and Croux, JASA 88 (1993) [P].
"""


def robust_centre(values: FloatArray, axis: int = 0) -> tuple[FloatArray, FloatArray]:
    """Median and robust sigma.

    Parameters
    ----------
    values : (..., n, ...) float; NaN left out
    axis : int

    Returns
    -------
    (centre, sigma) : float arrays without ``axis``
    """
    median = np.nanmedian if np.isnan(values).any() else np.median  # several times as fast, and usual
    centre = median(values, axis=axis)
    sigma = NORMAL_FACTOR * median(np.abs(values - np.expand_dims(centre, axis)), axis=axis)
    return np.asarray(centre), np.asarray(sigma)


def robust_sigma(values: FloatArray) -> float:
    """Robust standard deviation about the median.

    Parameters
    ----------
    values : (n,) float, at least one

    Returns
    -------
    float
        Same unit.
    """
    return float(scipy.stats.median_abs_deviation(values, scale=1.0 / NORMAL_FACTOR))


def sample_noise(values: FloatArray, order: int = 1) -> float:
    """Noise of single samples, from differences of neighbours: what changes slowly drops out.

    Parameters
    ----------
    values : (n,) float, n above ``order``
    order : int
        1 leaves levels out, 2 slopes as well.

    Returns
    -------
    float
        Standard deviation in the unit of the values.
    """
    power = {1: 2.0, 2: 6.0}[order]  # sum of the squares of the binomial weights
    return NORMAL_FACTOR * float(np.median(np.abs(np.diff(values, order)))) / float(np.sqrt(power))

"""Angles on a circle: how far apart two stand, which mark is nearest, what their mean is.

Used by the measurements and by the simulator alike; degrees of crank with a period of one revolution or one cycle, or
any other period.
"""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.model.engine import CYCLE_DEG

FloatArray = NDArray[np.float64]


def signed(angle: FloatArray | float, period: float = CYCLE_DEG) -> FloatArray:
    """The same place on the circle, as a signed distance from 0.

    Parameters
    ----------
    angle : (...) float
        In the unit of ``period``.
    period : float

    Returns
    -------
    (...) float
        From half a period before 0, inclusive, to half a period after it.
    """
    return np.asarray((angle + period / 2) % period - period / 2)


def from_nearest(angles: FloatArray, marks: FloatArray, period: float = CYCLE_DEG) -> FloatArray:
    """How far each angle stands behind the mark nearest to it.

    Parameters
    ----------
    angles : (n,) float
    marks : (m,) float, at least one
    period : float

    Returns
    -------
    (n,) float
        Below zero where the angle comes before its mark.
    """
    apart = signed(angles[:, None] - marks[None, :], period)
    return np.asarray(apart[np.arange(angles.size), np.abs(apart).argmin(axis=1)])


def mean_angle(angles: FloatArray, period: float = CYCLE_DEG) -> float:
    """Direction of the sum of unit vectors.

    Parameters
    ----------
    angles : (n,) float, at least one
    period : float

    Returns
    -------
    float
        From half a period before 0 to half a period after it; anything where the angles cancel.
    """
    return float(scipy.stats.circmean(angles, high=period / 2, low=-period / 2))


def gathered(angles: FloatArray, period: float = CYCLE_DEG) -> float:
    """How closely angles stand together: length of the mean of unit vectors.

    Parameters
    ----------
    angles : (n,) float, at least one
    period : float

    Returns
    -------
    float
        1 where all are the same, about 0 where they lie all around the circle.
    """
    return float(1.0 - scipy.stats.circvar(angles, high=period / 2, low=-period / 2))

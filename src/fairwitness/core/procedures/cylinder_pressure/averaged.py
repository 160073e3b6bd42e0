"""The averaged cycle of a pressure capture, for the board."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.model.measurement import (
    AveragedCycle,
)
from fairwitness.core.signal.pressure.trace import (
    ATMOSPHERE_PA,
    GRID_DEG,
)

FloatArray = NDArray[np.float64]
BAR = 1e5


def averaged_cycle(read: Mapping[int, tuple[FloatArray, float]], engine: Engine) -> AveragedCycle | None:
    """Each cylinder's average cycle at its own place; where two are drawn the higher one shows.

    Parameters
    ----------
    read : mapping of cylinder to ((n,) float, float)
        Absolute pressure over ``GRID_DEG``, Pa, and where its top dead centre was found, degrees.
    engine : Engine

    Returns
    -------
    AveragedCycle or None
        None where no cylinder was read.
    """
    if not read:
        return None
    first_edge = engine.firing_intervals_deg[-1] / 2  # the strip begins half a column before the first TDC
    angle = np.arange(0.0, CYCLE_DEG, 2.0)
    rows = []
    for c, (pressure_pa, tdc_deg) in read.items():
        at = (angle - first_edge - engine.tdc_deg(c) + tdc_deg + CYCLE_DEG / 2) % CYCLE_DEG
        gauge = (pressure_pa - ATMOSPHERE_PA) / BAR
        rows.append(np.interp(at - CYCLE_DEG / 2, GRID_DEG, gauge, period=CYCLE_DEG))
    middle = np.max(rows, axis=0)
    return AveragedCycle(angle_deg=angle, middle=middle, low=middle, high=middle, unit="bar")

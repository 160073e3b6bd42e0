"""How burning, compressing and breathing hang together in engines: what parts shapes that repeat with every firing.

From common practice and handbooks; the precisions go to the fit of the work.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]

FRICTION = 1.12
"""[P: Heywood, Internal Combustion Engine Fundamentals, eq. 13.6: 0.97 + 0.15 n + 0.05 n^2 bar with n in 1,000 rpm, at
an idle of 800; from memory] what friction takes a cycle, in atmospheres under the pistons."""
FRICTION_OF_PUSH = 0.37 * FRICTION
"""The same per work stored by compression: an atmosphere under the piston beside compressing it by a ratio of 10."""
BALANCE_SPREAD = 0.1
"""[M] of the usual work, by how much load and friction may be off from that."""
BREATH_OF_PUSH, BREATH_SPREAD = 0.33, 0.6
"""[M] breathing beside compression at half an atmosphere in the manifold, and by how much of the usual work it may be
off: from a throttle nearly shut to none at all."""
BREATHES_APART = 4
"""Cylinders up to which the rhythm of firing is slow enough to tell breathing from burning; beyond, compression takes a
share of the net work."""
PUSH_SHARE, PUSH_SPREAD = 0.85, 1.0
"""[M] that share at half an atmosphere in the manifold, and by how much of itself it may be off: 0.4 behind a throttle
nearly shut, 2.4 without one, by the proportions above."""


PUSH_OPEN, PUSH_OPEN_SPREAD = 1.0 / FRICTION_OF_PUSH, 0.25
"""The same of an engine without a throttle, where friction alone is left to be worked against."""
BREATH_OPEN_SPREAD = 0.05
"""[M] of the usual work, by which such an engine still breathes against something."""


def usual_proportions(cylinders: int, *, throttled: bool) -> FloatArray:
    """How what is common to all cylinders hangs together in engines, as precisions in units of the usual work.

    Burning, compressing and breathing repeat alike with every firing, and only their proportions part them.

    Parameters
    ----------
    cylinders : int
    throttled : bool
        A throttle meters the air, so the manifold stands somewhere below the atmosphere.

    Returns
    -------
    (cylinders + 3, cylinders + 3) float, or two where breathing is not told apart
        For the work of each cylinder, compression, breathing where it is told apart, and the pistons' inertia.
    """
    if cylinders <= BREATHES_APART:  # what the cylinders do covers breathing and friction; breathing goes with vacuum
        rows = np.zeros((2, cylinders + 3))
        rows[0, :cylinders] = 1.0 / cylinders / BALANCE_SPREAD
        rows[0, cylinders : cylinders + 2] = -FRICTION_OF_PUSH / BALANCE_SPREAD, -(1.0 + FRICTION) / BALANCE_SPREAD
        of_push, spread = (BREATH_OF_PUSH, BREATH_SPREAD) if throttled else (0.0, BREATH_OPEN_SPREAD)
        rows[1, cylinders : cylinders + 2] = -of_push / spread, 1.0 / spread
    else:
        share, spread = (PUSH_SHARE, PUSH_SPREAD) if throttled else (PUSH_OPEN, PUSH_OPEN_SPREAD)
        rows = np.zeros((1, cylinders + 2))
        rows[0, :cylinders] = -1.0 / cylinders / spread
        rows[0, cylinders] = 1.0 / (spread * share)
    return np.asarray(rows.T @ rows)

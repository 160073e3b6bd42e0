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


def usual_proportions(cylinders: int) -> FloatArray:
    """How what is common to all cylinders hangs together in engines, as precisions in units of the usual work.

    Burning, compressing and breathing repeat alike with every firing, and only their proportions part them.

    Parameters
    ----------
    cylinders : int

    Returns
    -------
    (cylinders + 3, cylinders + 3) float, or two where breathing is not told apart
        For the work of each cylinder, compression, breathing where it is told apart, and the pistons' inertia.
    """
    if cylinders <= BREATHES_APART:  # what the cylinders do covers breathing and friction; breathing goes with vacuum
        rows = np.zeros((2, cylinders + 3))
        rows[0, :cylinders] = 1.0 / cylinders / BALANCE_SPREAD
        rows[0, cylinders : cylinders + 2] = -FRICTION_OF_PUSH / BALANCE_SPREAD, -(1.0 + FRICTION) / BALANCE_SPREAD
        rows[1, cylinders : cylinders + 2] = -BREATH_OF_PUSH / BREATH_SPREAD, 1.0 / BREATH_SPREAD
    else:
        rows = np.zeros((1, cylinders + 2))
        rows[0, :cylinders] = -PUSH_SHARE / cylinders / (PUSH_SPREAD * PUSH_SHARE)
        rows[0, cylinders] = 1.0 / (PUSH_SPREAD * PUSH_SHARE)
    return np.asarray(rows.T @ rows)

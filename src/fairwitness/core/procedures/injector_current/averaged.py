"""The strip of the injector currents: one averaged pulse per cylinder, each in the middle of its column."""

from __future__ import annotations

import numpy as np

from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.model.measurement import AveragedCycle
from fairwitness.core.signal.injector.assignment import Assigned

POINTS_PER_CYLINDER = 64
FILLED = 0.8
"""Of a column: the average pulse is drawn over so much of it."""


def averaged_pulses(assigned: Assigned, engine: Engine) -> AveragedCycle | None:
    """Average pulses side by side on one scale, stretched alike.

    Parameters
    ----------
    assigned : Assigned
    engine : Engine

    Returns
    -------
    AveragedCycle or None
        None where pulses overlap or none was found.
    """
    shapes = {c: s for c, s in assigned.shapes.items() if s.size}
    if not shapes:
        return None
    longest = max(s.size for s in shapes.values())
    column = CYCLE_DEG / engine.cylinders
    count = engine.cylinders * POINTS_PER_CYLINDER
    middle = np.zeros(count)
    drawn = round(FILLED * POINTS_PER_CYLINDER)
    lead = (POINTS_PER_CYLINDER - drawn) // 2
    for i, cylinder in enumerate(engine.firing_order):
        shape = shapes.get(cylinder)
        if shape is None:
            continue
        at = np.linspace(0.0, longest * 1.05, drawn)
        padded = np.concatenate((shape, np.zeros(1)))
        first = i * POINTS_PER_CYLINDER + lead
        middle[first : first + drawn] = np.interp(at, np.arange(padded.size), padded, right=0.0)
    return AveragedCycle(
        angle_deg=np.arange(count) * column / POINTS_PER_CYLINDER, middle=middle, low=middle, high=middle, unit="A"
    )

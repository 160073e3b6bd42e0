"""Where top dead centre lies, where only a spark marks it: how early that spark comes nobody says.

A few degrees decide how much work a cylinder seems to do, as pushing, breathing and the pistons' inertia are told from
burning by where they lie. So the angle is fitted: of the advances that engines have the one with which all of these
come out as engines have them.
"""

from __future__ import annotations

import numpy as np

from fairwitness.core.model.engine import Engine
from fairwitness.core.signal.crank.averaged_energy import averaged_cycle
from fairwitness.core.signal.crank.torque_fit import phase_cost
from fairwitness.core.signal.crank.wheel import CrankAngle

USUAL_ADVANCE_DEG, ADVANCE_SPREAD_DEG = 10.0, 7.0
"""[M] of a spark at idle before top dead centre, and how far engines and loads differ."""
ADVANCES_DEG = (-2.0, 4.0, 10.0, 16.0, 22.0, 28.0)


def advance_of(crank: CrankAngle, engine: Engine, spark_deg: float) -> float:
    """How early the spark comes, by the fit of the torque.

    Parameters
    ----------
    crank : CrankAngle
    engine : Engine
    spark_deg : float
        Unwrapped crank angle of any spark of the first cylinder of the firing order.

    Returns
    -------
    float, crank degrees
        The usual one where too little was recorded to tell.
    """
    cycle = averaged_cycle(crank, engine, spark_deg + USUAL_ADVANCE_DEG)
    if cycle is None:
        return USUAL_ADVANCE_DEG
    costs = [
        phase_cost(cycle, engine, advance - USUAL_ADVANCE_DEG)
        + ((advance - USUAL_ADVANCE_DEG) / ADVANCE_SPREAD_DEG) ** 2
        for advance in ADVANCES_DEG
    ]
    return _least(costs)


def _least(costs: list[float]) -> float:
    """Vertex of the parabola through the least cost and its neighbours."""
    best = int(np.argmin(costs))
    if best in (0, len(costs) - 1):
        return ADVANCES_DEG[best]
    before, here, after = costs[best - 1 : best + 2]
    curve = before - 2 * here + after
    step = ADVANCES_DEG[1] - ADVANCES_DEG[0]
    return ADVANCES_DEG[best] + (0.5 * step * (before - after) / curve if curve > 0 else 0.0)

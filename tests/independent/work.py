"""What the product makes of a running engine written on its own: the share of each cylinder in the work."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from fairwitness.core.model.engine import CrankWheel, even_engine
from fairwitness.core.signal.crank.contribution import contributions
from fairwitness.core.signal.crank.torque_fit import solve_work
from fairwitness.core.signal.crank.wheel import crank_angle, smoothed_wheel
from tests.independent.running import Running, tooth_times

ORDERS = {3: (1, 3, 2), 4: (1, 3, 4, 2), 6: (1, 5, 3, 6, 2, 4), 8: (1, 8, 4, 3, 6, 5, 7, 2)}
JITTER_S = 2e-6
UNTHROTTLED = "unthrottled"
OPEN_KPA = 92.0
"""Manifold pressure from which the engine data says that no throttle meters the air, as of a diesel."""


def shares_of(run: Running) -> np.ndarray:
    """Shares in firing order as the product works them out from the times of the teeth."""
    engine = replace(even_engine(run.order), extra={UNTHROTTLED: run.manifold_kpa >= OPEN_KPA})
    times, tops = tooth_times(run)
    times = times + np.random.default_rng(1).normal(0.0, JITTER_S, times.size)
    crank = crank_angle(times, wheel=CrankWheel(teeth=60, missing=2), cycle_starts_s=tops)
    crank = smoothed_wheel(crank, max(6, engine.cylinders))
    work = solve_work(crank, engine, float(np.interp(tops[2], crank.times_s, crank.angle_deg)))
    return np.array([own.share for own in contributions(work.per_cycle)[1]])

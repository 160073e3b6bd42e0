"""Injectors whose driver holds the current: the winding shows in how fast the current comes, and in what it holds.

From the average pulse of each injector; which of them stand apart goes to the comparison.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit

FloatArray = NDArray[np.float64]
Figures = Mapping[str, float]

RISE_FROM, RISE_TO = 0.15, 0.7
"""Of its own peak: the stretch over which a rise is timed, clear of the noise below and of the regulator above."""
PEERS_MIN = 3
"""Injectors that make a comparison: of two that differ nobody can say which is the odd one."""


def rise_of(shape: FloatArray, rate_hz: float) -> dict[str, float]:
    """How fast the current of an average pulse comes.

    Parameters
    ----------
    shape : (n,) float, A
    rate_hz : float

    Returns
    -------
    dict
        ``rise_a_ms`` and, as a share of it, ``rise_error``: what the steps of time leave open. Empty where no rise
        can be timed.
    """
    if shape.size < 3:
        return {}
    peak = int(np.argmax(shape))
    levels = shape[peak] * np.array([RISE_FROM, RISE_TO])
    rising = np.maximum.accumulate(shape[: peak + 1])
    if not shape[peak] > 0 or rising[0] >= levels[1]:
        return {}
    places = np.interp(levels, rising, np.arange(rising.size))
    steps = float(places[1] - places[0])
    if steps < 1.0:
        return {}
    slope = float(levels[1] - levels[0]) / (1e3 * steps / rate_hz)
    return {"rise_a_ms": round(slope, 4), "rise_error": round(float(np.sqrt(1.0 / 6.0)) / steps, 4)}


def apart_in(figures: Mapping[int, Figures]) -> dict[int, float]:
    """Injectors whose rise or held current stands apart from all their peers'.

    Parameters
    ----------
    figures : mapping of cylinder to figures

    Returns
    -------
    dict of cylinder to float, 1
        Share of the peers' in what is farthest out of line; nobody where all are alike, or too few to compare.
    """
    flowing = {c: f for c, f in figures.items() if f["pulses"] > 0}
    if len(flowing) < PEERS_MIN:
        return {}
    found: dict[int, float] = {}
    for c, own in flowing.items():
        shares = []
        for name in ("rise_a_ms", "hold_a"):
            beside = np.array([f[name] for d, f in flowing.items() if d != c and f.get(name, 0.0) > 0])
            if own.get(name, 0.0) <= 0 or beside.size < PEERS_MIN - 1:
                continue
            usual = float(np.median(beside))
            error = own.get("rise_error", 0.0) if name == "rise_a_ms" else 0.0
            scatter = float(np.ptp(beside)) / usual / 2 if beside.size > 1 else 0.0
            least = max(limit.REGULATED_APART.value, limit.REGULATED_TIMES.value * float(np.hypot(error, scatter)))
            share = own[name] / usual
            if abs(share - 1.0) > least:
                shares.append(share)
        if shares:
            found[c] = round(float(max(shares, key=lambda share: abs(share - 1.0))), 4)
    return found

"""How long a cycle of a crank may be: by its sync, by what repeats, and what equal humps leave open.

From a slow trace's values and the events of a sync; ``reading`` fits the cylinders to the lengths that remain.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.model.engine import Engine
from fairwitness.core.signal.sync import SyncEvents

FloatArray = NDArray[np.float64]


def interval_said(events: SyncEvents, begin: float, end: float) -> float | None:
    """Seconds between the events of a sync that comes regularly: a cycle or half of one. None: it says nothing."""
    inside = events.times_s[(events.times_s >= begin) & (events.times_s <= end)]
    steps = np.diff(inside)
    if not steps.size:
        return None
    usual = float(np.median(steps))
    shortest, longest = 60 / limit.CRANKING_RPM_SEARCH_MAX.value, 120 / limit.CRANKING_RPM_SEARCH_MIN.value
    regular = float(np.median(np.abs(steps - usual))) <= limit.SYNC_INTERVAL_SPREAD_MAX.value * usual
    return usual if regular and shortest <= usual <= longest else None


def peaks(autocorrelation: FloatArray, shortest: int) -> NDArray[np.intp]:
    """Lags from ``shortest`` up at which a trace is most like itself."""
    inside = autocorrelation[shortest:]
    return np.flatnonzero((inside[1:-1] > inside[:-2]) & (inside[1:-1] >= inside[2:])) + 1 + shortest


def length_of_equal_humps(autocorrelation: FloatArray, lag: int, engine: Engine) -> float | None:
    """How long a cycle would be if what repeats within ``lag`` are the compressions of cylinders that are all alike.

    None where neighbouring humps differ, or where they are as many as the engine has cylinders. Part of a healthy cycle
    repeats itself as well as a whole one does: read as a cycle, it would hold cylinders without compression.
    """
    nearest = max(2, lag // (3 * engine.cylinders))
    for hump in peaks(autocorrelation[: lag + 2], nearest):
        humps = round(lag / hump)
        alike = autocorrelation[hump] >= limit.HUMP_LIKENESS_RATIO.value * autocorrelation[lag]
        if alike and abs(lag / humps - hump) <= limit.HUMP_PLACE_TOLERANCE.value * hump:
            return None if humps == engine.cylinders else lag / humps * engine.cylinders
    return None


def autocorrelation(values: FloatArray, longest: int) -> FloatArray:
    """Correlation of a trace with itself, by lag."""
    centred = (
        values
        - np.convolve(np.pad(values, longest // 2, mode="edge"), np.ones(longest) / longest, mode="same")[
            longest // 2 : longest // 2 + values.size
        ]
    )
    size = 1 << math.ceil(math.log2(2 * values.size))
    spectrum = np.fft.rfft(centred, size)
    own = np.fft.irfft(spectrum * spectrum.conj(), size)[:longest]
    weight = values.size / (values.size - np.arange(longest))
    return np.asarray(own / max(own[0], 1e-12) * weight)

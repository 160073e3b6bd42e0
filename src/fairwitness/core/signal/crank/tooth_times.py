"""When the teeth of a crank wheel pass its sensor, from variable-reluctance and Hall traces alike.

Levels, polarity and the kind of sensor are found in the trace itself. A crossing is timed by two levels on either side
of the middle, so noise on the flank does not make two of one tooth and counts half as much.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.model.capture import SampleArray, TimeBase

FloatArray = NDArray[np.float64]

LOOKS = 20_000
"""Samples that set the levels, at uneven steps so that they do not beat with the teeth."""
GOLDEN = 0.6180339887498949
TRIAL_TEETH = 600
"""Teeth from which the flank is chosen."""
HYSTERESIS_SHARE = 0.25
"""[M] of half the reach; a flank passes both levels within a small part of a tooth."""
MIDDLE_SHARE = 0.12
"""[M] a square wave leaves less of its samples than this in the middle third of its reach."""
TEETH_MIN = 40
GAP_RATIO = 1.3
TEETH_PER_S_MAX = 72_000.0
"""[M] 360 lines of an encoder at 12,000 rpm; what passes its levels more often is noise, dear in memory."""
STRETCHES, STRETCH = 16, 4_096
"""Places looked at, and samples of each, for how often the levels are passed."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ToothTimes:
    """Passing of teeth.

    Parameters
    ----------
    times_s : (n,) float, s
        Rising.
    square : bool
        A Hall or optical sensor rather than a coil.
    falling : bool
        Timed on the falling flank.
    """

    times_s: FloatArray
    square: bool
    falling: bool


def tooth_times(samples: SampleArray, time: TimeBase) -> ToothTimes | None:
    """Find the teeth.

    Parameters
    ----------
    samples : (n,) float
        Any unit, any offset, either polarity.
    time : TimeBase

    Returns
    -------
    ToothTimes or None
        None where there are too few crossings to be a wheel, or more than any wheel has.
    """
    few = a_few_of(samples)
    if few.size < 100:
        return None
    low, high = (float(v) for v in np.percentile(few, (4, 96)))
    reach = (high - low) / 2
    if not reach > 0:
        return None
    middle = (high + low) / 2
    square = float(np.mean(np.abs(few - middle) < reach / 3)) < MIDDLE_SHARE
    if not square:
        middle = float(np.median(few))
    step = HYSTERESIS_SHARE * reach
    levels = (middle - step, middle + step)
    if _passed_per_s(samples, levels, time.rate_hz) > TEETH_PER_S_MAX:
        return None
    with ThreadPoolExecutor(2) as pool:  # whole passes over the samples, which leave the interpreter
        (low_up, low_down), (high_up, high_down) = pool.map(lambda level: _passes(samples, level), levels)
    if min(low_up.size, high_up.size) < TEETH_MIN:
        return None
    ups = (low_up, high_up, *levels)
    downs = (high_down, low_down, *levels[::-1])
    trials = [
        _restlessness(_passed(samples, first[:TRIAL_TEETH], last[:TRIAL_TEETH], *between))
        for first, last, *between in (ups, downs)
    ]
    down = trials[1] < trials[0]
    places = _passed(samples, *(downs if down else ups))
    if places.size < TEETH_MIN:
        return None
    return ToothTimes(times_s=_moments(places, time), square=square, falling=down)


def _passes(samples: SampleArray, level: float) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Samples after which a level is passed upwards and downwards."""
    above = samples > level
    order_offsets = np.flatnonzero(above[1:] != above[:-1])
    up = above[order_offsets + 1]
    return order_offsets[up], order_offsets[~up]


def _passed_per_s(samples: SampleArray, levels: tuple[float, float], rate_hz: float) -> float:
    """How often a trace rises through both levels, by stretches from all over it."""
    starts = np.linspace(0, max(0, samples.size - STRETCH), STRETCHES).astype(int)
    rises = []
    for start in starts:
        piece = samples[start : start + STRETCH]
        place = np.where(piece > levels[1], 1, np.where(piece < levels[0], -1, 0))
        sides = place[place != 0]
        rises.append(np.count_nonzero(np.diff(sides) > 0) / piece.size)
    return float(np.median(rises)) * rate_hz


def a_few_of(samples: SampleArray) -> SampleArray:
    """Samples enough to set levels by, from all over a trace.

    Parameters
    ----------
    samples : (n,) float

    Returns
    -------
    (m,) float, m at most ``2 * LOOKS``
        Finite ones, at uneven steps.
    """
    if samples.size > 2 * LOOKS:
        index = np.arange(LOOKS)
        places = (index + (index * GOLDEN) % 1.0) * (samples.size / LOOKS)
        samples = samples[places.astype(np.intp)]
    return samples[np.isfinite(samples)]


def _passed(
    samples: SampleArray, first: NDArray[np.intp], last: NDArray[np.intp], first_level: float, last_level: float
) -> FloatArray:
    """Where the first level is passed and then the last one, with nothing of either between: the middle of the two."""
    if first.size == 0 or last.size == 0:
        return np.empty(0)
    before = np.searchsorted(first, last, side="right") - 1
    armed = before >= 0
    before, last = before[armed], last[armed]
    newest = np.concatenate(([True], before[1:] != before[:-1]))  # only the first finish after a start
    return 0.5 * (_crossed(samples, first[before[newest]], first_level) + _crossed(samples, last[newest], last_level))


def _crossed(samples: SampleArray, index: NDArray[np.intp], level: float) -> FloatArray:
    one, two = samples[index].astype(np.float64), samples[index + 1].astype(np.float64)
    rise = two - one
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.where(rise != 0, (level - one) / rise, 0.5)
    return np.asarray(index + np.clip(np.nan_to_num(share, nan=0.5), 0.0, 1.0))


def _restlessness(places: FloatArray) -> float:
    """How many steps are long, and how unevenly the others follow: a coil's wrong flank breaks every gap in two."""
    if places.size < TEETH_MIN:
        return float("inf")
    steps = np.diff(places)
    usual = scipy.ndimage.median_filter(steps, size=11, mode="nearest")
    long = steps > GAP_RATIO * usual
    even = np.abs(np.diff(np.log(steps[~long])))
    return float(np.mean(even)) + float(np.mean(long))


def _moments(places: FloatArray, time: TimeBase) -> FloatArray:
    if time.stamps_s is None:
        return np.asarray(time.start_s + places / time.rate_hz)
    return np.asarray(np.interp(places, np.arange(time.samples), time.stamps_s))

"""The gaps between events of a sync: whether an engine turned, what belongs to one event, what is missing.

A rest between two attempts is a gap as well; it comes once and says nothing about how long a cycle is.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit

FloatArray = NDArray[np.float64]


def regular(times: FloatArray) -> bool:
    """Whether events follow each other as an engine turns; crossings of mere noise come at any distance.

    Neighbouring gaps are compared, so that a changing speed, and events that are lost now and then, stay regular.
    """
    gaps = np.diff(times)
    if gaps.size < limit.SYNC_GAPS_MIN.value:
        return True
    gaps = gaps[gaps <= limit.RESTS_ABOVE.value * float(np.median(gaps))]
    ratio = gaps[1:] / np.maximum(gaps[:-1], 1e-12)
    alike = np.abs(np.log(np.maximum(ratio, 1e-12))) < np.log(limit.SYNC_GAP_RATIO.value)
    return float(np.mean(alike)) >= limit.SYNC_REGULAR_SHARE.value


def group_strikes(times: FloatArray, heights: FloatArray) -> tuple[FloatArray, FloatArray, int]:
    """Keep the first of edges that belong to one event, with the largest height of the group."""
    gaps = np.diff(times)
    if gaps.size < 2:
        return times, heights, 0
    repeated = max(2, math.ceil(limit.REPEATED_GAPS_SHARE.value * gaps.size))
    longest = float(np.sort(gaps)[-repeated])  # a rest between two attempts comes once and is no interval
    usual = float(np.median(gaps[(gaps >= 0.25 * longest) & (gaps <= 4.0 * longest)]))
    first = np.concatenate(([True], gaps > limit.STRIKE_GROUP_SHARE.value * usual))
    starts = np.flatnonzero(first)
    return times[first], np.maximum.reduceat(heights, starts), int(np.count_nonzero(~first))


def bridge_missing(times: FloatArray) -> tuple[FloatArray, int]:
    """Fill gaps that are a whole multiple of the usual one."""
    gaps = np.diff(times)
    usual = float(np.median(gaps))
    multiples = np.rint(gaps / usual)
    fits = np.abs(gaps / usual - multiples) <= 0.15
    filled = [times[:1]]
    added = 0
    for i, gap in enumerate(gaps):
        parts = int(multiples[i])
        if fits[i] and parts in (2, 3):
            filled.append(times[i] + gap * np.arange(1, parts) / parts)
            added += parts - 1
        filled.append(times[i + 1 : i + 2])
    return np.concatenate(filled), added

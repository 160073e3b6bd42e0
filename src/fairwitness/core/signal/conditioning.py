"""Array functions that ready a fast trace for slow work: block means, spike removal, edges."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.model.capture import Channel, SampleArray
from fairwitness.core.signal.robust import NORMAL_FACTOR
from fairwitness.core.signal.runs import runs

FloatArray = NDArray[np.float64]
STEP_SAMPLES = 20_000


def block_means(samples: SampleArray, block: int) -> FloatArray:
    """Mean of each run of ``block`` samples, missing ones left out.

    Parameters
    ----------
    samples : (n,) float
    block : int, at least 1

    Returns
    -------
    (n // block,) float, unit of ``samples``
        NaN where a whole block is missing.
    """
    count = samples.size // block
    table = samples[: count * block].reshape(count, block)
    with np.errstate(invalid="ignore", over="ignore"):
        means = np.asarray(table.mean(axis=1, dtype=np.float32 if samples.dtype == np.float32 else None), np.float64)
    holed = np.flatnonzero(~np.isfinite(means))
    for i in holed:
        row = table[i][np.isfinite(table[i])]
        means[i] = row.mean(dtype=np.float64) if row.size else np.nan
    return means


def block_extremes(samples: SampleArray, block: int) -> tuple[FloatArray, FloatArray]:
    """Smallest and largest of each run of ``block`` samples.

    Parameters
    ----------
    samples : (n,) float
    block : int, at least 1

    Returns
    -------
    (low, high) : two (n // block,) float arrays, NaN where a whole block is missing
    """
    count = samples.size // block
    table = samples[: count * block].reshape(count, block)
    low = np.asarray(np.minimum.reduce(table, axis=1), np.float64)
    high = np.asarray(np.maximum.reduce(table, axis=1), np.float64)
    holed = np.flatnonzero(np.isnan(low))  # the fast reduction passes a missing sample on; only those rows are redone
    low[holed] = np.fmin.reduce(table[holed], axis=1)
    high[holed] = np.fmax.reduce(table[holed], axis=1)
    return low, high


def bridge_gaps(values: FloatArray) -> FloatArray:
    """Straight lines across missing values.

    Parameters
    ----------
    values : (n,) float, at least one finite

    Returns
    -------
    (n,) float, finite
    """
    good = np.isfinite(values)
    if good.all():
        return values
    where = np.arange(values.size)
    return np.interp(where, where[good], values[good])


BESIDE = 3
"""Samples on either side that a spike must stand out from, to the same side and about as far."""


def remove_spikes(values: FloatArray, *, sigma: float, width: int = 7) -> tuple[FloatArray, int]:
    """Replace values far from their neighbours' median by that median.

    A step, such as the starter taking hold, stands apart from one of its sides only and is none.

    Parameters
    ----------
    values : (n,) float, finite
    sigma : float
        Robust standard deviations beyond which a value is interference.
    width : int, odd
        Neighbourhood in samples.

    Returns
    -------
    (cleaned, count) : (n,) float and the number of values replaced
    """
    if values.size < width:
        return values, 0
    centre = scipy.ndimage.median_filter(values, size=width, mode="nearest")
    apart = np.abs(values - centre)
    scale = NORMAL_FACTOR * float(np.median(apart)) + 1e-12 * (1.0 + float(np.abs(values).max()))
    coarse = 0.5 * converter_step(values)  # a trace of few levels often does not differ from its neighbours at all
    spikes = apart > sigma * max(scale, coarse, 0.002 * float(np.ptp(centre)))
    count = 0
    for first, last in zip(*runs(np.flatnonzero(spikes), gap=1), strict=True):
        sides = values[max(0, first - BESIDE) : first], values[last + 1 : last + 1 + BESIDE]
        away = [float(np.median(values[first : last + 1]) - np.median(side)) for side in sides if side.size]
        if len(away) == 2 and away[0] * away[1] > 0 and 2 * min(map(abs, away)) > max(map(abs, away)):
            count += 1
        else:
            spikes[first : last + 1] = len(away) < 2
    if not spikes.any():
        return values, 0
    return np.where(spikes, centre, values), count


def converter_step(values: SampleArray) -> float:
    """Distance of the levels a converter gave; next to nothing where they are many.

    Parameters
    ----------
    values : (n,) float

    Returns
    -------
    float
        Same unit; 0 where all are alike.
    """
    levels = np.unique(values[np.isfinite(values)])
    return float(np.median(np.diff(levels))) if levels.size > 1 else 0.0


def step_of(channel: Channel) -> float:
    """Distance of the levels that the converter of a channel gave, from samples spread over it.

    Parameters
    ----------
    channel : Channel

    Returns
    -------
    float
        In the base unit of the channel's quantity (V, A, Pa).
    """
    few = channel.samples[:: max(1, channel.samples.size // STEP_SAMPLES)]
    return converter_step(few) * channel.si_factor


def crossings(samples: SampleArray, *, arm: float, fire: float) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Rising and falling edges with hysteresis.

    Parameters
    ----------
    samples : (n,) float
        Missing samples count as below both levels.
    arm : float
        A new rise is accepted only after the trace was below this.
    fire : float, not below ``arm``
        A rise is a crossing to this or above.

    Returns
    -------
    (rises, falls) : int arrays of equal length
        First sample at or above ``fire``; first sample after it below ``arm`` (or the length of the trace).
    """
    high = samples >= fire
    starts = np.flatnonzero(high[1:] & ~high[:-1]) + 1
    if high.size and high[0]:
        starts = np.concatenate(([0], starts))
    if starts.size == 0:
        return starts, starts
    low = ~(samples >= arm)
    low_starts = np.flatnonzero(low[1:] & ~low[:-1]) + 1
    if low.size and low[0]:
        low_starts = np.concatenate(([0], low_starts))
    ends = np.searchsorted(low_starts, starts, side="right")
    first_of_group = np.concatenate(([True], ends[1:] != ends[:-1]))
    ends = ends[first_of_group]
    padded = np.concatenate((low_starts, [samples.size]))
    return starts[first_of_group], padded[ends]


def low_pass(samples: SampleArray, rate_hz: float, corner_hz: float) -> FloatArray:
    """A trace below a corner frequency, without delay: fourth-order Butterworth run both ways.

    Parameters
    ----------
    samples : (n,) float
        Missing samples are bridged.
    rate_hz, corner_hz : float, Hz
        A corner at or above half the rate leaves the trace as it is.

    Returns
    -------
    (n,) float
    """
    values = bridge_gaps(np.asarray(samples, dtype=np.float64))
    sos = None if corner_hz >= 0.5 * rate_hz else scipy.signal.butter(2, corner_hz, fs=rate_hz, output="sos")
    if sos is None or values.size < 16:
        return values
    return np.asarray(
        scipy.signal.sosfiltfilt(sos, values, padlen=min(values.size - 1, 3 * int(rate_hz / corner_hz) + 12))
    )

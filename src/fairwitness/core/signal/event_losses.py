"""When an event that should have come did not: what a long watch waits for.

From the samples of one channel; the moments go to whoever watches.
"""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.signal.conditioning import crossings
from fairwitness.core.signal.event_gaps import group_strikes

SampleArray = NDArray[np.float32] | NDArray[np.float64]
FloatArray = NDArray[np.float64]

EVENTS_MIN = 8
"""[M] fewer say nothing of how often they should come."""
NEIGHBOURS = 25
"""[M] gaps among which one is judged: the speed may change over a stretch, not from one event to the next."""
USUAL_PERCENTILE = 75
"""[M] uneven firing has short and long gaps in turn: the long ones are usual too."""
LOST_FACTOR = 1.5
"""[M] of a usual gap from which an event is missing in it: an even engine leaves 2, a 90 and 150 degree one 1.6."""
SWING_MIN = 6.0
"""[M] of the scatter of the resting signal that its events must rise by."""


def event_losses(samples: SampleArray, rate_hz: float) -> FloatArray:
    """Moments at which an event was due and did not come.

    Parameters
    ----------
    samples : (n,) float
        Pulses, ramps or sparks of either polarity, in any unit.
    rate_hz : float, Hz

    Returns
    -------
    (k,) float, s
        From the first sample; empty where nothing is missing, or where the channel shows no events at all.
    """
    times = _events_s(samples, rate_hz)
    if times.size < EVENTS_MIN:
        return np.zeros(0)
    end = samples.size / rate_hz
    gaps = np.diff(np.append(times, end))
    usual = scipy.ndimage.percentile_filter(
        gaps[:-1], USUAL_PERCENTILE, size=min(NEIGHBOURS, gaps.size - 1), mode="nearest"
    )
    usual = np.append(usual, usual[-1])
    lost = gaps > LOST_FACTOR * usual
    return np.asarray(times[lost] + usual[lost])


def _events_s(samples: SampleArray, rate_hz: float) -> FloatArray:
    """When each event begins; empty where nothing rises out of the resting signal."""
    whole = np.nan_to_num(np.asarray(samples, dtype=np.float64), nan=float(np.nanmedian(samples)))
    rest = float(np.median(whole))
    scatter = 1.4826 * float(np.median(np.abs(whole - rest)))
    low, high = (float(v) for v in np.percentile(whole, (0.2, 99.8)))
    signal = whole - rest if high - rest >= rest - low else rest - whole
    reach = max(high - rest, rest - low)
    if reach <= SWING_MIN * scatter or reach == 0:
        return np.zeros(0)
    rising, _ = crossings(signal, arm=0.25 * reach, fire=0.5 * reach)
    times = np.asarray(rising) / rate_hz
    return group_strikes(times, np.ones(times.size))[0] if times.size > 2 else times

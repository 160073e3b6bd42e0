"""Filters of pipes, hoses and leads."""

from __future__ import annotations

from typing import Literal

import numpy as np
import scipy

from fairwitness.core.model.engine import FloatArray


def high_pass(samples: FloatArray, rate_hz: float, corner_hz: float) -> FloatArray:
    """First order, settled on the first sample; nothing where the corner is 0.

    Parameters
    ----------
    samples : (n,) float
    rate_hz, corner_hz : float, Hz

    Returns
    -------
    (n,) float
    """
    return _first_order(samples, rate_hz, corner_hz, "highpass")


def low_pass(samples: FloatArray, rate_hz: float, corner_hz: float) -> FloatArray:
    """First order, settled on the first sample; nothing where the corner is 0, or beyond what the rate can tell.

    Parameters
    ----------
    samples : (n,) float
    rate_hz, corner_hz : float, Hz

    Returns
    -------
    (n,) float
    """
    return _first_order(samples, rate_hz, corner_hz, "lowpass")


def _first_order(
    samples: FloatArray, rate_hz: float, corner_hz: float, kind: Literal["lowpass", "highpass"]
) -> FloatArray:
    if not 0 < corner_hz < 0.45 * rate_hz or not samples.size:
        return samples
    b, a = scipy.signal.butter(1, corner_hz, kind, fs=rate_hz)
    return np.asarray(scipy.signal.lfilter(b, a, samples, zi=scipy.signal.lfilter_zi(b, a) * samples[0])[0])


def rings(samples: FloatArray, rate_hz: float, own_hz: float, damping: float) -> FloatArray:
    """A second-order system that follows and overshoots; nothing where its frequency is 0 or too high for the rate.

    Parameters
    ----------
    samples : (n,) float
    rate_hz, own_hz : float, Hz
    damping : float
        1 is critical.

    Returns
    -------
    (n,) float
    """
    if not 0 < own_hz < 0.25 * rate_hz or not samples.size:
        return samples
    w = 2 * np.pi * own_hz
    b, a = scipy.signal.bilinear([w * w], [1.0, 2 * damping * w, w * w], fs=rate_hz)
    return np.asarray(scipy.signal.lfilter(b, a, samples, zi=scipy.signal.lfilter_zi(b, a) * samples[0])[0])


def echoed(samples: FloatArray, rate_hz: float, share: float, after_s: float) -> FloatArray:
    """A sound and what comes back of it, again and again.

    Parameters
    ----------
    samples : (n,) float
    rate_hz : float, Hz
    share : float
        -1 to 1, of what comes back each time.
    after_s : float

    Returns
    -------
    (n,) float
    """
    late = round(after_s * rate_hz)
    if not share or late < 1:
        return samples
    feedback = np.zeros(late + 1)
    feedback[0], feedback[-1] = 1.0, -share
    return np.asarray(scipy.signal.lfilter([1.0], feedback, samples))


def resonant(samples: FloatArray, rate_hz: float, own_hz: float, gain: float, sharpness: float) -> FloatArray:
    """A signal with what a cavity makes louder.

    Parameters
    ----------
    samples : (n,) float
    rate_hz, own_hz : float, Hz
    gain : float
        Of the part at its own frequency, beside the signal itself.
    sharpness : float
        Its quality factor.

    Returns
    -------
    (n,) float
    """
    if not gain or not 0 < own_hz < 0.45 * rate_hz:
        return samples
    b, a = scipy.signal.iirpeak(own_hz, sharpness, fs=rate_hz)
    return np.asarray(samples + gain * scipy.signal.lfilter(b, a, samples))

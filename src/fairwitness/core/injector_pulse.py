"""Pulses of injector current: when each begins, how long it lasts, and what it looks like on the average.

An injector is a resistance and an inductance with a needle in it: the current rises exponentially, and dips a little
where the needle lifts, because a moving core takes voltage for itself.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from fairwitness.core.capture import SampleArray
from fairwitness.core.coil_ramp import fit_rl
from fairwitness.core.conditioning import block_means, bridge_gaps, crossings

FloatArray = NDArray[np.float64]

WORKING_RATE_HZ = 50_000.0
SHORTEST_S = 0.25e-3
SPIKE_SAMPLES = 5
BEFORE_S = 0.3e-3
FIRE_SHARE, ARM_SHARE = 0.25, 0.15
"""Of the usual height: where a pulse begins, and where it has ended."""
NEEDLE_S = 0.2e-3
"""[M] about how long a lifting needle shows."""
NOISE_SWING = 3.5
NEEDLE_FROM, NEEDLE_TO = 0.15, 0.85
"""Part of the on-time in which the needle may lift."""


@dataclass(frozen=True, kw_only=True, eq=False)
class Pulses:
    """Pulses of one trace in time order, with the trace they are in.

    Parameters
    ----------
    begin_s, on_ms : (n,) float
    peak_a, charge_mc : (n,) float
        Highest current of each, and its integral in milliampere seconds.
    upright : (m,) float, A
        Trace at ``rate_hz``, current upwards, quiet level at zero.
    spikes : int
        Interference spikes taken out.
    """

    begin_s: FloatArray
    on_ms: FloatArray
    peak_a: FloatArray
    charge_mc: FloatArray
    upright: FloatArray
    rate_hz: float
    noise_a: float
    spikes: int
    turned: bool

    @property
    def count(self) -> int:
        """How many pulses."""
        return int(self.begin_s.size)

    def mean_shape(self, which: NDArray[np.bool_]) -> FloatArray:
        """Median course of some pulses from their begin over the shortest on-time among them, A."""
        begins = np.round(self.begin_s[which] * self.rate_hz).astype(np.intp)
        length = round(float(self.on_ms[which].min()) / 1000 * self.rate_hz) if begins.size else 0
        rows = [self.upright[b : b + length] for b in begins if b + length <= self.upright.size]
        return np.median(np.array(rows), axis=0) if rows and length else np.empty(0)


def find_pulses(amps: SampleArray, rate_hz: float) -> Pulses:
    """Find the pulses of an injector current.

    Parameters
    ----------
    amps : (n,) float
        Any unit, polarity and offset; NaN where a sample is missing.
    rate_hz : float

    Returns
    -------
    Pulses
        Empty where nothing stands out of the noise.
    """
    block = max(1, int(rate_hz // WORKING_RATE_HZ))
    rate = rate_hz / block
    values = block_means(amps, block)
    known = np.isfinite(values)
    values = bridge_gaps(values) if known.any() else np.zeros(1)
    cleaned = ndimage.median_filter(values, size=SPIKE_SAMPLES, mode="nearest")
    noise = 1.4826 * float(np.median(np.abs(np.diff(values)))) / np.sqrt(2) + 1e-9 if values.size > 1 else 1e-9
    quiet = float(np.median(cleaned))
    up, down = float(np.percentile(cleaned, 99.5)) - quiet, quiet - float(np.percentile(cleaned, 0.5))
    turned = down > up
    upright = np.asarray((quiet - cleaned) if turned else (cleaned - quiet))
    top = max(up, down)
    none = np.empty(0)
    if top < 8 * noise or values.size < 50:
        return Pulses(begin_s=none, on_ms=none, peak_a=none, charge_mc=none, upright=upright, rate_hz=rate,
                      noise_a=noise, spikes=0, turned=turned)  # fmt: skip
    rises, falls = crossings(upright, arm=ARM_SHARE * top, fire=FIRE_SHARE * top)
    real = (falls - rises >= SHORTEST_S * rate) & (rises > 0) & (falls < upright.size)
    rises, falls = rises[real], falls[real]
    begins = np.array([_begin(upright, int(r), rate, max(3 * noise, 0.04 * top)) for r in rises], dtype=np.float64)
    pieces = [upright[int(b) : f] for b, f in zip(begins, falls, strict=True)]
    return Pulses(
        begin_s=begins / rate,
        on_ms=1e3 * (falls - begins) / rate,
        peak_a=np.array([np.percentile(p, 97) for p in pieces]),
        charge_mc=np.array([1e3 * p.sum() / rate for p in pieces]),
        upright=upright,
        rate_hz=rate,
        noise_a=noise,
        spikes=int(np.count_nonzero(np.abs(values - cleaned) > max(10 * noise, 0.1 * top))),
        turned=turned,
    )


def _begin(upright: FloatArray, at: int, rate: float, floor: float) -> int:
    """Where the current leaves the quiet level before it was found."""
    back = upright[max(0, at - round(BEFORE_S * rate)) : at]
    low = np.flatnonzero(back < floor)
    return at - back.size + int(low[-1]) + 1 if low.size else at


def needle_dip(shape: FloatArray, rate_hz: float, *, noise_a: float = 0.0) -> float:
    """How far the current falls short of a plain rise where the needle lifts.

    Parameters
    ----------
    shape : (n,) float, A
        Average pulse from its begin.
    rate_hz : float
    noise_a : float, A
        Standard deviation of the average pulse; what noise alone would swing is taken off.

    Returns
    -------
    float
        Share of the final current; 0 for a needle that stays.
    """
    if shape.size < 24:
        return 0.0
    seconds = np.asarray((np.arange(shape.size) + 0.5) / rate_hz, dtype=np.float64)
    final, tau = fit_rl(seconds, shape)
    width = max(3, round(NEEDLE_S * rate_hz))
    left = ndimage.uniform_filter1d(shape - final * -np.expm1(-seconds / tau), width)
    part = left[int(NEEDLE_FROM * shape.size) : int(NEEDLE_TO * shape.size)]
    swing = part.max() - part.min() - NOISE_SWING * noise_a / np.sqrt(width)
    return float(max(0.0, swing) / max(float(shape[-max(1, shape.size // 8) :].mean()), 1e-9))

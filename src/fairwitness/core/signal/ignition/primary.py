"""Ramps of a coil's primary current: where each begins and ends, how steep, how high, limited or not.

A coil is a resistance and an inductance: I(t) = V/R (1 - exp(-t R/L)). Switch-off is the sharp fall; it is the one
thing every ramp has, also where the next coil charges already, so ramps are found by their falls.
"""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.model.capture import SampleArray
from fairwitness.core.signal.conditioning import block_means, bridge_gaps
from fairwitness.core.signal.robust import sample_noise
from fairwitness.core.signal.runs import runs

FloatArray = NDArray[np.float64]

WORKING_RATE_HZ = 50_000.0
FALL_S = 100e-6
"""[M] a coil's current is gone this soon after switch-off."""
FALL_SHARE, LEAST_FALL, HALF_OF_USUAL = 0.30, 0.12, 0.5
"""[M] of the highest current, the least of it, and of the usual fall: what a switch-off falls by."""
SHORTEST_S = 0.3e-3
LONGEST_S = 15e-3
TURN_ON_S = 0.3e-3
SPIKE_SAMPLES = 3
QUIET_SIGMA = 8.0


@dataclass(frozen=True, slots=True, kw_only=True)
class _Ramp:
    """What is read of one ramp, and the sample of its switch-off; the same figures as arrays make ``Ramps``."""

    peak_a: float
    dwell_ms: float
    start_slope: float
    end_slope: float
    limited: float
    ringing_a: float
    i_final_a: float
    tau_ms: float
    off_at: int


NAMES = tuple(f.name for f in fields(_Ramp) if f.name != "off_at")


@dataclass(frozen=True, slots=True, kw_only=True)
class Ramps:
    """Ramps of one trace in time order.

    Parameters
    ----------
    off_s : (n,) float, s
        Moment of each switch-off after the first sample.
    peak_a : (n,) float, A
        Height of the fall at switch-off.
    dwell_ms : (n,) float
    start_slope, end_slope : (n,) float, A/ms
        Over the first and the last part of the ramp.
    limited : (n,) float
        1 where the top is flat: the driver or the coil limits the current.
    ringing_a : (n,) float, A
        Swing about the ramp right after turn-on, noise taken off.
    i_final_a, tau_ms : (n,) float
        V/R and L/R of the ramp, NaN where it is too short or limited to tell.
    spikes : int
        Interference spikes taken out.
    inverted : bool
        The clamp was on backwards.
    """

    off_s: FloatArray
    peak_a: FloatArray
    dwell_ms: FloatArray
    start_slope: FloatArray
    end_slope: FloatArray
    limited: FloatArray
    ringing_a: FloatArray
    i_final_a: FloatArray
    tau_ms: FloatArray
    noise_a: float
    spikes: int
    inverted: bool

    @property
    def count(self) -> int:
        """How many ramps."""
        return int(self.off_s.size)

    def chosen(self, which: NDArray[np.bool_]) -> Ramps:
        """Some of the ramps."""
        return Ramps(
            off_s=self.off_s[which],
            noise_a=self.noise_a,
            spikes=self.spikes,
            inverted=self.inverted,
            **{name: getattr(self, name)[which] for name in NAMES},
        )


def find_ramps(amps: SampleArray, rate_hz: float, *, floor_a: float = 0.0) -> Ramps:
    """Find and read the ramps of a coil current.

    Parameters
    ----------
    amps : (n,) float, A
        Any polarity and offset; NaN where a sample is missing.
    rate_hz : float
    floor_a : float
        Ramps smaller than this are not looked for.

    Returns
    -------
    Ramps
        Empty where nothing rises and falls like a coil.
    """
    block = max(1, int(rate_hz // WORKING_RATE_HZ))
    rate = rate_hz / block
    values = block_means(amps, block)
    if np.count_nonzero(np.isfinite(values)) < 50:
        return _none()
    values = bridge_gaps(values)
    cleaned = scipy.ndimage.median_filter(values, size=SPIKE_SAMPLES, mode="nearest")
    noise = sample_noise(values) + 1e-9
    step = max(1, round(FALL_S * rate))
    change = cleaned[step:] - cleaned[:-step]
    ranked = np.partition(change, (2, -3))
    inverted = bool(ranked[-3] > -ranked[2])  # a coil's current falls faster than it rises
    upright = -cleaned if inverted else cleaned
    low, quiet = np.percentile(upright, (3, 50))
    upright = upright - (quiet if quiet - low < QUIET_SIGMA * noise else low)  # on a busy feed nothing is ever quiet
    top = float(np.percentile(upright, 99.7))
    level = max(0.12 * top, 6 * noise, floor_a)
    if top < level:
        return _none(noise=noise, inverted=inverted)
    falls = _falls(upright, step, _fall_size(upright, step, top, level))
    spikes = int(np.count_nonzero(np.abs(values - cleaned) > max(8 * noise, 0.05 * top)))
    rows = [_read(upright, int(at), step, rate, noise, top) for at in falls]
    kept = [row for row in rows if row is not None]
    if not kept:
        return _none(noise=noise, inverted=inverted)
    return Ramps(
        off_s=np.array([ramp.off_at for ramp in kept]) / rate,
        noise_a=noise,
        spikes=spikes,
        inverted=inverted,
        **{name: np.array([getattr(ramp, name) for ramp in kept]) for name in NAMES},
    )


LOG_TAU_TOLERANCE = 1e-5
"""To which the logarithm of the time constant is searched."""


def fit_rl(seconds: FloatArray, amps: FloatArray) -> tuple[float, float]:
    """Final current V/R and time constant L/R of a rising current.

    For each time constant the final current follows in closed form; the constant is searched on a logarithmic grid and
    refined by Brent's bounded search.

    Parameters
    ----------
    seconds : (n,) float, s
        Since switch-on; n at least 4.
    amps : (n,) float, A

    Returns
    -------
    (final_a, tau_s) : float, float
        The longest constant of the grid stands for a ramp too straight to tell.
    """

    def misfit(tau: float) -> tuple[float, float]:
        shape = -np.expm1(-seconds / tau)
        final = float(shape @ amps) / max(float(shape @ shape), 1e-30)
        return float(((amps - final * shape) ** 2).sum()), final

    length = float(seconds[-1])
    grid = np.geomspace(0.03 * length, 30.0 * length, 40)
    errors = [misfit(float(t))[0] for t in grid]
    at = int(np.argmin(errors))
    low, high = np.log(grid[max(at - 1, 0)]), np.log(grid[min(at + 1, grid.size - 1)])
    best = scipy.optimize.minimize_scalar(
        lambda log_tau: misfit(float(np.exp(log_tau)))[0],
        bounds=(low, high), method="bounded", options={"xatol": LOG_TAU_TOLERANCE},
    )  # fmt: skip
    tau = float(np.exp(best.x))
    return misfit(tau)[1], tau


def _none(*, noise: float = 0.0, inverted: bool = False) -> Ramps:
    empty = {name: np.empty(0) for name in NAMES}
    return Ramps(off_s=np.empty(0), noise_a=noise, spikes=0, inverted=inverted, **empty)


def _fall_size(upright: FloatArray, step: int, top: float, level: float) -> float:
    """How far a current falls at least at switch-off: one coil that draws far more than the rest is no measure."""
    small = max(LEAST_FALL * top, level)
    found = _falls(upright, step, small)
    if not found.size:
        return max(FALL_SHARE * top, level)
    sizes = upright[found] - upright[np.minimum(found + step, upright.size - 1)]
    return max(min(FALL_SHARE * top, HALF_OF_USUAL * float(np.median(sizes))), small)


def _falls(upright: FloatArray, step: int, size: float) -> NDArray[np.intp]:
    """Last sample before each sharp fall."""
    drop = upright[:-step] - upright[step:]
    steep = drop >= size
    if not steep.any():
        return np.empty(0, dtype=np.intp)
    firsts, lasts = runs(np.flatnonzero(steep), gap=3 * step)
    return np.array([f + int(np.argmax(drop[f : e + 1])) for f, e in zip(firsts, lasts, strict=True)], dtype=np.intp)


def _read(upright: FloatArray, at: int, step: int, rate: float, noise: float, top: float) -> _Ramp | None:
    """The ramp that ends at a sharp fall; None for what is no ramp."""
    before = upright[max(0, at - step + 1) : at + 1]
    after = upright[at + step : at + 3 * step]
    if not before.size or not after.size:
        return None
    end = at - before.size + 1 + int(np.argmax(before))
    base = float(np.median(after))
    history = upright[max(0, end - round(LONGEST_S * rate)) : end + 1]
    low = np.flatnonzero(history < base + max(4 * noise, 0.03 * top))
    if not low.size:
        return None
    start = end - (history.size - 1 - int(low[-1]))
    ramp = upright[start : end + 1] - base
    if ramp.size < SHORTEST_S * rate:
        return None
    ms = np.asarray(1e3 * np.arange(ramp.size) / rate, dtype=np.float64)
    first = slice(0, max(4, int(0.3 * ramp.size)))
    last = slice(min(int(0.8 * ramp.size), ramp.size - 4), ramp.size)
    start_slope, end_slope = _slope(ms[first], ramp[first]), _slope(ms[last], ramp[last])
    peak = float(np.median(ramp[-max(1, round(40e-6 * rate)) :]))
    limited = float(end_slope < limit.RAMP_LIMITED_SLOPE_SHARE.value * start_slope)
    final, tau = (np.nan, np.nan)
    if not limited and ramp.size >= 12:
        final, tau_s = fit_rl(ms / 1e3, ramp)
        tau = 1e3 * tau_s
    early = ramp[: max(4, round(TURN_ON_S * rate))]
    bent = early - np.polyval(np.polyfit(np.arange(early.size), early, 2), np.arange(early.size))
    ringing = float(np.sqrt(max(float(np.mean(bent**2)) - noise**2, 0.0)))
    return _Ramp(
        peak_a=peak,
        dwell_ms=float(ms[-1]),
        start_slope=start_slope,
        end_slope=end_slope,
        limited=limited,
        ringing_a=ringing,
        i_final_a=final,
        tau_ms=tau,
        off_at=end,
    )


def _slope(x: FloatArray, y: FloatArray) -> float:
    apart = x - x.mean()
    return float((apart * y).sum() / max(float((apart**2).sum()), 1e-30))

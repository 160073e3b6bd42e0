"""Injector currents that run into each other: one clamp, several injectors open at once.

At speed on-times grow longer than the gap to the next injector, and no pulse stands alone. Each injector's share is
found by fitting the sum: every injection has the same course (rise by L/R, sharp fall), known places, and its own
height.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.signal.injector.current import Trace

FloatArray = NDArray[np.float64]

FITTED_CYCLES = 6
FITTED_RATE_HZ = 10_000.0
FALL_TAU_S = 160e-6
TAUS_S = (0.4e-3, 0.8e-3, 1.4e-3)
"""Where the search for the course begins."""
ON_APART = 0.12
"""The voltage's on-time and the current's differ by what the driver takes to switch."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Trajectory:
    """What all injections of a feed have in common, s."""

    on_s: float
    tau_s: float
    fall_s: float

    def at(self, since: FloatArray) -> FloatArray:
        """Share of the plateau at times after switch-on."""
        held = np.clip(since, 0.0, self.on_s)
        shape = -np.expm1(-held / self.tau_s) * np.exp(-np.clip(since - self.on_s, 0.0, None) / self.fall_s)
        return np.asarray(np.where(since > 0, shape, 0.0))


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Unmixed:
    """Heights of every injector in every cycle.

    Parameters
    ----------
    plateau_a : (cycles, injectors) float, A
    begin_s : (cycles, injectors) float, s
    on_ms : float
    residual : float
        Standard deviation of what is left over, as a share of the usual plateau.
    """

    plateau_a: FloatArray
    begin_s: FloatArray
    on_ms: float
    residual: float


def unmix(trace: Trace, ends_s: FloatArray, *, on_s: float) -> Unmixed:
    """Fit the common course, then the height of every injection.

    Parameters
    ----------
    trace : Trace
    ends_s : (cycles, injectors) float, s
        Expected switch-off of each, cycles in time order.
    on_s : float, s
        Of the sync's injector: the sum of even, overlapping pulses does not tell it.

    Returns
    -------
    Unmixed
    """
    cycle_s = float(np.median(np.diff(ends_s[:, 0])))
    some = np.unique(np.linspace(1, ends_s.shape[0] - 2, FITTED_CYCLES).astype(np.intp))
    course, shift = _course(trace, ends_s, some, cycle_s, on_s)
    heights = np.zeros(ends_s.shape)
    left = np.zeros(ends_s.shape[0])
    for k in range(ends_s.shape[0]):
        seconds, amps = _window(trace, ends_s[k], cycle_s)
        if seconds.size < 4 * ends_s.shape[1]:
            continue
        table = _columns(seconds, k, ends_s + shift, course)
        found = np.linalg.lstsq(table, amps, rcond=None)[0]
        heights[k] = found[1:]
        left[k] = float(np.std(amps - table @ found))
    reached = -np.expm1(-course.on_s / course.tau_s)
    usual = max(float(np.median(heights)), 1e-9)
    return Unmixed(
        plateau_a=np.clip(heights, 0.0, None) * reached,
        begin_s=ends_s + shift - course.on_s,
        on_ms=1e3 * course.on_s,
        residual=float(np.median(left)) / usual,
    )


def _window(trace: Trace, ends_s: FloatArray, cycle_s: float) -> tuple[FloatArray, FloatArray]:
    """One cycle that ends a little after its last switch-off, at the rate of the fit."""
    last = int((float(ends_s.max()) + 1e-3) * trace.rate_hz)
    first = max(0, last - int(cycle_s * trace.rate_hz))
    if last > trace.count:
        return np.empty(0), np.empty(0)
    upright, _ = trace.piece(first, last)
    coarse = max(1, int(trace.rate_hz // FITTED_RATE_HZ))
    smooth = scipy.ndimage.uniform_filter1d(upright, coarse)[::coarse]
    return np.asarray((first + coarse * np.arange(smooth.size)) / trace.rate_hz, dtype=np.float64), np.asarray(smooth)


def _columns(seconds: FloatArray, cycle: int, ends_s: FloatArray, course: Trajectory) -> FloatArray:
    """A constant and one course per injector, with the tails of the cycles before and after where the window cuts."""
    columns = [np.ones(seconds.size)]
    for j in range(ends_s.shape[1]):
        around = [ends_s[i, j] for i in (cycle - 1, cycle, cycle + 1) if 0 <= i < ends_s.shape[0]]
        columns.append(sum((course.at(seconds - end + course.on_s) for end in around), np.zeros(seconds.size)))
    return np.array(columns).T


def _course(
    trace: Trace, ends_s: FloatArray, some: NDArray[np.intp], cycle_s: float, on_s: float
) -> tuple[Trajectory, float]:
    """On-time, rise, fall and a common shift that explain some cycles best."""
    windows = [(k, *_window(trace, ends_s[k], cycle_s)) for k in some]
    windows = [w for w in windows if w[1].size]

    def left_over(course: Trajectory, shift: float) -> FloatArray:
        rest = []
        for k, seconds, amps in windows:
            table = _columns(seconds, int(k), ends_s + shift, course)
            rest.append(amps - table @ np.linalg.lstsq(table, amps, rcond=None)[0])
        return np.concatenate(rest)

    starts = [Trajectory(on_s=on_s, tau_s=tau, fall_s=FALL_TAU_S) for tau in TAUS_S]
    best = min(starts, key=lambda c: float((left_over(c, 0.0) ** 2).sum()))

    def of(x: FloatArray) -> tuple[Trajectory, float]:
        return Trajectory(on_s=float(x[0]), tau_s=float(x[1]), fall_s=float(x[2])), float(x[3])

    def residual(x: FloatArray) -> FloatArray:
        return left_over(*of(x))

    fitted = scipy.optimize.least_squares(
        residual,
        (best.on_s, best.tau_s, best.fall_s, 0.0),
        bounds=(((1 - ON_APART) * on_s, 5e-5, 2e-5, -1.5e-3), ((1 + ON_APART) * on_s, 6e-3, 1.5e-3, 1.5e-3)),
        x_scale=(1e-3, 1e-3, 1e-4, 1e-4),
        max_nfev=40,
    )
    return of(fitted.x)

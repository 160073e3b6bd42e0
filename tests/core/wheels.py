"""Crank traces with a known motion: a wheel, a speed over angle, a sensor."""

import numpy as np

from fairwitness.core.model.capture import TimeBase

RATE = 100_000.0


def tooth_angles(pattern, order_offsets):
    """Unwrapped angles of the teeth that are there; ``pattern`` is a string of x (tooth) and . (none)."""
    pitch = 360.0 / len(pattern)
    places = [i for i, mark in enumerate(pattern) if mark == "x"]
    return np.array([360.0 * turn + pitch * p for turn in range(order_offsets) for p in places])


def passing_times(angles, speed_deg_s):
    """When angles pass at a speed that depends on the angle (deg -> deg/s)."""
    fine = np.arange(angles[0] - 20.0, angles[-1] + 20.0, 0.25)
    times = np.concatenate(([0.0], np.cumsum(0.25 / speed_deg_s(fine[:-1]))))
    return np.interp(angles, fine, times) + 0.01


def sensed(times_s, *, square, rate_hz=RATE, gain=2.5, offset=0.0, noise=0.0, seed=1):
    """A sensor's trace: a bump and a dip per tooth, or a square pulse of a third of a tooth."""
    count = int((times_s[-1] + 0.02) * rate_hz)
    clock = np.arange(count) / rate_hz
    nearest = np.clip(np.searchsorted(times_s, clock), 1, times_s.size - 1)
    nearest -= (clock - times_s[nearest - 1]) < (times_s[nearest] - clock)
    pitch = float(np.median(np.diff(times_s)))
    away = (clock - times_s[nearest]) / pitch
    values = (np.abs(away) < 0.2).astype(float) * 2 - 1 if square else -away * np.exp(-0.5 * (away / 0.22) ** 2) * 7.0
    values = gain * values + offset + np.random.default_rng(seed).normal(0.0, noise, count)
    return values.astype(np.float32), TimeBase(samples=count, rate_hz=rate_hz)

"""The crank sensor's trace of a running engine: a hall sensor or a coil, on a wheel that may run out of true.

Numpy only, and nothing shared with the project's own simulator.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from tests.independent.running import Running, tooth_times


@dataclass(frozen=True)
class Sensor:
    """How the wheel is seen, and how early the coil of the first cylinder fires."""

    inductive: bool = False
    inverted: bool = False
    runout_deg: float = 0.0
    sync: bool = True
    advance_deg: float = 8.0
    rate_hz: float = 50_000.0
    noise_v: float = 0.02
    seconds: float = 4.0


def crank_capture(run: Running, by: Sensor) -> Capture:
    """A capture of the crank sensor, with the command of the first cylinder's coil beside it."""
    times, tops = tooth_times(run, by.seconds)
    pitch = 360.0 / len(run.teeth)
    places = np.array([i for i, mark in enumerate(run.teeth) if mark == "x"]) * pitch
    angle = np.tile(places, times.size // places.size + 1)[: times.size]
    gaps = np.gradient(times)
    per_s = pitch / np.minimum(gaps, 1.3 * np.median(gaps))
    times = times + by.runout_deg * np.sin(np.deg2rad(angle)) / per_s
    count = int(times[-1] * by.rate_hz)
    volts = np.zeros(count)
    for tooth, speed in zip(times, per_s, strict=True):
        half = 0.35 * pitch / speed
        if by.inductive:
            first, last = int((tooth - 4 * half) * by.rate_hz), int((tooth + 4 * half) * by.rate_hz)
            first, last = max(first, 0), min(last, count)
            x = (np.arange(first, last) / by.rate_hz - tooth) / half
            volts[first:last] -= 2.0 * x * np.exp(-(x**2) / 2)
        else:
            volts[int(tooth * by.rate_hz) : int((tooth + 0.5 * pitch / speed) * by.rate_hz)] = 5.0
    volts = (-volts if by.inductive else 5.0 - volts) if by.inverted else volts
    volts = volts + by.noise_v * np.random.default_rng(3).standard_normal(count)
    channels = [Channel(name="crank", role=Role.CRANK_SENSOR, unit="V", samples=volts.astype(np.float32))]
    if by.sync:
        channels.append(_command(run, by, tops, count))
    return Capture(
        name="run",
        time=TimeBase(samples=count, rate_hz=by.rate_hz),
        channels=tuple(channels),
        set_up=SetUp(test=CaptureTest.CRANK_SPEED, engine_state=EngineState.RUNNING, load="idle"),
    )


def _command(run: Running, by: Sensor, tops: np.ndarray, count: int) -> Channel:
    level = np.zeros(count)
    early = by.advance_deg / (6.0 * run.rpm)
    for top in tops:
        level[max(0, int((top - early - 3e-3) * by.rate_hz)) : max(0, int((top - early) * by.rate_hz))] = 5.0
    return Channel(
        name="coil 1", role=Role.COIL_CONTROL, unit="V", samples=level.astype(np.float32), cylinder=run.order[0],
        sync=True,
    )  # fmt: skip

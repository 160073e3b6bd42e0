"""Pressure in one cylinder while cranking: slider-crank volume, polytropic gas, valves that open and shut, a leak.

Numpy only, and nothing shared with the project's own simulator. The crank turns unevenly, as a starter lets it: slower
up each compression, faster down. The transducer may be in other units, behind a check valve, absolute, or slow.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase

ATMOSPHERE = 101.3e3
KPA, BAR, PSI = 1e3, 1e5, 6894.76


@dataclass(frozen=True)
class Cranked:
    """A cylinder of an engine that is cranked; angles in crank degrees after its TDC of compression."""

    cylinders: int = 4
    ratio: float = 10.0
    exponent: float = 1.28
    intake_closes: float = -130.0
    exhaust_opens: float = 140.0
    leak_per_s: float = 0.6
    """Share of the gas above the atmosphere lost a second: rings of a sound cylinder."""
    rpm: float = 210.0
    ripple: float = 0.15
    seconds: float = 5.0
    rate_hz: float = 10_000.0
    starts_deg: float = 200.0
    manifold: float = 98e3


@dataclass(frozen=True)
class Transducer:
    """How it is seen: ``written`` is the unit in the file, ``really`` the one the numbers are in, Pa each."""

    written: str = "bar"
    really: float = BAR
    gauge: bool = True
    zero_pa: float = 0.0
    noise_pa: float = 1.5e3
    check_valve: bool = False
    low_pass_hz: float = 2_000.0
    bits: int = 14
    reach_pa: float = 40e5


PLAIN = Transducer()


def volume(angle_deg: np.ndarray, ratio: float, rod: float = 3.4) -> np.ndarray:
    """Volume over the swept volume; the rod in cranks."""
    a = np.deg2rad(angle_deg)
    travel = 0.5 * (1 - np.cos(a) + rod - np.sqrt(rod**2 - np.sin(a) ** 2))
    return 1.0 / (ratio - 1) + travel


def cranking_pressure(how: Cranked, by: Transducer = PLAIN, *, cylinder: int = 1, seed: int = 0) -> Capture:
    """A capture of one cylinder; nothing else is recorded beside it."""
    rng = np.random.default_rng(seed)
    count = int(how.seconds * how.rate_hz)
    angle = np.zeros(count)
    angle[0] = how.starts_deg
    step = 6.0 * how.rpm / how.rate_hz
    for i in range(1, count):
        phase = np.deg2rad(angle[i - 1] * how.cylinders / 2)
        angle[i] = angle[i - 1] + step * (1 - how.ripple * np.sin(phase + 0.9))
    inside = (angle + 360.0) % 720.0 - 360.0
    pressure = np.full(count, ATMOSPHERE)
    shut = (inside > how.intake_closes) & (inside < how.exhaust_opens)
    v = volume(inside, how.ratio)
    for i in range(1, count):
        if shut[i] and shut[i - 1]:
            p = pressure[i - 1] * (v[i - 1] / v[i]) ** how.exponent
            pressure[i] = p - (p - ATMOSPHERE) * how.leak_per_s / how.rate_hz
        elif shut[i]:
            pressure[i] = how.manifold
        else:
            target = how.manifold if -360.0 < inside[i] <= how.intake_closes else ATMOSPHERE
            pressure[i] = target + (pressure[i - 1] - target) * np.exp(-1 / (how.rate_hz * 2.5e-3))
    return Capture(
        name=f"pressure {cylinder}",
        time=TimeBase(samples=count, rate_hz=how.rate_hz),
        channels=(_seen(pressure, how, by, rng, cylinder),),
        set_up=SetUp(
            test=CaptureTest.CYLINDER_PRESSURE, engine_state=EngineState.CRANKING, load="none", fuel_disabled=True
        ),
    )


def _seen(pressure: np.ndarray, how: Cranked, by: Transducer, rng: np.random.Generator, cylinder: int) -> Channel:
    seen = pressure - (ATMOSPHERE if by.gauge else 0.0) + by.zero_pa
    if by.check_valve:
        held = np.maximum.accumulate(seen)
        seen = held * np.exp(-np.arange(seen.size) / how.rate_hz / 60.0)
    width = max(1, round(how.rate_hz / (2 * by.low_pass_hz)))
    seen = np.convolve(seen, np.ones(width) / width, mode="same") + by.noise_pa * rng.standard_normal(seen.size)
    grain = 2 * by.reach_pa / 2**by.bits
    seen = np.round(seen / grain) * grain
    return Channel(
        name=f"cylinder {cylinder}", role=Role.CYLINDER_PRESSURE, unit=by.written,
        samples=(seen / by.really).astype(np.float32), cylinder=cylinder,
    )  # fmt: skip

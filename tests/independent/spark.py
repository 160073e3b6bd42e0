"""Sparks by circuit: a coil is charged and let go, a gap breaks down, an arc drains it, and what is left rings out.

Numpy only, and nothing shared with the project's own simulator. The secondary is its inductance and stray capacity, the
arc a voltage of its own, the pick-up a divider that may be upside down, weak, offset or driven into its stops.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase

COIL_H, STRAY_F = 22.0, 60e-12
TURNS = 90.0
BATTERY_V = 13.8
DAMPING_S = 2.2e-4


@dataclass(frozen=True)
class Spark:
    """How one cylinder sparks: breakdown in kV, arc in kV, energy in mJ; None for an arc that never forms."""

    breakdown_kv: float = 10.0
    arc_kv: float | None = 1.3
    energy_mj: float = 32.0
    dwell_ms: float = 3.2
    arc_rises: float = 0.25
    arc_rough: float = 0.02
    strikes: int = 1
    capacitive: bool = False
    """Discharged from a capacitor: two tenths of a millisecond, and no dwell to be seen."""


@dataclass(frozen=True)
class Pickup:
    """How the leads are seen."""

    gain: Mapping[int, float] = field(default_factory=dict)
    upside_down: tuple[int, ...] = ()
    stops_kv: tuple[float, float] = (-60.0, 60.0)
    offset_kv: float = 0.0
    hum_kv: float = 0.0
    noise_kv: float = 0.02
    bits: int = 12
    reach_kv: float = 50.0
    rate_hz: float = 200_000.0
    low_pass_hz: float = 400_000.0


@dataclass(frozen=True)
class Ignition:
    """An engine at idle with its sparks."""

    order: tuple[int, ...] = (1, 3, 4, 2)
    rpm: float = 780.0
    seconds: float = 2.5
    usual: Spark = Spark()
    odd: Mapping[int, Spark] = field(default_factory=dict)
    scatter: float = 0.08
    seed: int = 0


def secondary(how: Ignition, by: Pickup, *, load: str = "idle", one_clamp: bool = False) -> Capture:
    """A capture of every lead, or of one pick-up over all with a trigger on the first cylinder."""
    rng = np.random.default_rng(how.seed)
    fine = 1_000_000.0
    count = int(how.seconds * fine)
    cycle = 120.0 / how.rpm
    traces = {}
    for place, cylinder in enumerate(how.order):
        trace = np.zeros(count)
        own = how.odd.get(cylinder, how.usual)
        first = 0.02 + cycle * place / len(how.order)
        for n in range(int(how.seconds / cycle) + 1):
            at = first + n * cycle * (1 + 0.002 * rng.standard_normal())
            scattered = replace(own, breakdown_kv=own.breakdown_kv * (1 + how.scatter * rng.standard_normal()))
            _lay(trace, _one(scattered, rng, fine), int(at * fine))
        traces[cylinder] = trace
    channels = []
    if one_clamp:
        whole = sum(traces.values())
        channels.append(_channel("pick-up", 0, whole, by, rng, fine))
        trigger = np.zeros(count)
        for n in range(int(how.seconds / cycle) + 1):
            at = int((0.02 + n * cycle) * fine)
            trigger[at : at + 300] = 5.0
        channels.append(_sync(trigger, how.order[0], by, fine))
    else:
        channels += [_channel(f"lead {c}", c, traces[c], by, rng, fine) for c in sorted(traces)]
    samples = channels[0].samples.size
    return Capture(
        name="secondary",
        time=TimeBase(samples=samples, rate_hz=by.rate_hz),
        channels=tuple(channels),
        set_up=SetUp(test=CaptureTest.SECONDARY_VOLTAGE, engine_state=EngineState.RUNNING, load=load),
    )


def _one(spark: Spark, rng: np.random.Generator, rate: float) -> np.ndarray:
    """One spark from the turn-on to the last ringing; breakdown is negative, as a plug is usually fed."""
    parts = []
    t_on = np.arange(int(spark.dwell_ms * 1e-3 * rate)) / rate
    if not spark.capacitive:
        step = BATTERY_V * TURNS / 1e3
        parts.append(step * (np.exp(-t_on / 6e-3) + 0.9 * np.exp(-t_on / DAMPING_S) * np.cos(2 * np.pi * 7.5e3 * t_on)))
    for strike in range(spark.strikes):
        energy = spark.energy_mj * (1.0 if strike == 0 else 0.45)
        parts.append(_strike(replace(spark, energy_mj=energy), rng, rate))
        if strike + 1 < spark.strikes:
            t = np.arange(int(0.5e-3 * rate)) / rate
            parts.append(BATTERY_V * TURNS / 1e3 * np.exp(-t / 6e-3))
    return np.concatenate(parts)


def _strike(spark: Spark, rng: np.random.Generator, rate: float) -> np.ndarray:
    ring_hz = 1 / (2 * np.pi * np.sqrt(COIL_H * STRAY_F))
    most_kv = np.sqrt(2 * spark.energy_mj * 1e-3 / STRAY_F) / 1e3
    rise = np.arange(int(0.25 / ring_hz * rate)) / rate
    climb = -min(most_kv, 40.0) * np.sin(2 * np.pi * ring_hz * rise)
    reached = np.flatnonzero(-climb >= spark.breakdown_kv)
    t = np.arange(int(2.5e-3 * rate)) / rate
    if spark.arc_kv is None or not reached.size:  # nothing breaks down: the coil rings out
        top = min(most_kv, 40.0)
        return np.concatenate((climb, -top * np.exp(-t / 2.5e-4) * np.cos(2 * np.pi * ring_hz * t)))
    climb = climb[: reached[0] + 1]
    if spark.capacitive:
        short = t[: int(0.2e-3 * rate)]
        return np.concatenate((climb, -spark.arc_kv * np.exp(-short / 1.5e-4), 0.2 * np.exp(-t / 2e-4)))
    # the arc drains the coil: i falls as its voltage over the inductance
    current = np.sqrt(2 * spark.energy_mj * 1e-3 / COIL_H)
    lasts = current * COIL_H / (spark.arc_kv * 1e3)
    burning = np.arange(int(lasts * rate)) / rate
    slope = 1 + spark.arc_rises * (burning / max(lasts, 1e-9) - 0.5)
    slow = np.repeat(rng.standard_normal(burning.size // 40 + 1), 40)[: burning.size]
    arc = -spark.arc_kv * (slope + spark.arc_rough * slow)
    after = -spark.arc_kv * 1.1 * np.exp(-t / DAMPING_S) * np.cos(2 * np.pi * ring_hz * t)
    return np.concatenate((climb, arc, after))


def _lay(trace: np.ndarray, piece: np.ndarray, at: int) -> None:
    room = trace.size - at
    if room > 0:
        trace[at : at + min(room, piece.size)] += piece[:room]


def _channel(name: str, cylinder: int, trace: np.ndarray, by: Pickup, rng: np.random.Generator, fine: float) -> Channel:
    kept = _sampled(trace, by, fine)
    at = np.arange(kept.size) / by.rate_hz
    kept = kept * by.gain.get(cylinder, 1.0) * (-1.0 if cylinder in by.upside_down else 1.0)
    kept = kept + by.offset_kv + by.hum_kv * np.sin(2 * np.pi * 50 * at) + by.noise_kv * rng.standard_normal(kept.size)
    step = 2 * by.reach_kv / 2**by.bits
    kept = np.clip(np.round(kept / step) * step, *by.stops_kv)
    return Channel(
        name=name, role=Role.SECONDARY_VOLTAGE, unit="kV", samples=kept.astype(np.float32), cylinder=cylinder or None
    )


def _sampled(trace: np.ndarray, by: Pickup, fine: float) -> np.ndarray:
    """What the converter takes: the trace through the pick-up's own low pass, thinned to its rate."""
    width = max(1, round(fine / (2 * by.low_pass_hz)))
    smooth = np.convolve(trace, np.ones(width) / width, mode="same") if width > 1 else trace
    at = np.arange(int(trace.size / fine * by.rate_hz)) / by.rate_hz
    return np.interp(at, np.arange(trace.size) / fine, smooth)


def _sync(trace: np.ndarray, cylinder: int, by: Pickup, fine: float) -> Channel:
    at = np.arange(int(trace.size / fine * by.rate_hz)) / by.rate_hz
    level = np.interp(at, np.arange(trace.size) / fine, trace)
    return Channel(
        name="sync", role=Role.COIL_CONTROL, unit="V", samples=level.astype(np.float32), cylinder=cylinder, sync=True
    )

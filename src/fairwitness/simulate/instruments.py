"""What a clamp, a probe and a logger make of a crank: sampling, noise, zero errors, interference, sync pulses."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, Engine, FloatArray
from fairwitness.simulate.cranking import CrankRun

SPARK_ADVANCE_DEG = 8.0  # [M] before TDC while cranking
DWELL_S = 0.004  # [M]
STRIKE_GAP_S = 0.0015  # [M]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rig:
    """How the capture is taken. Defaults: clean, clamp and sync as they should be."""

    rate_hz: float = 5000.0
    current: bool = True
    voltage: bool = False
    sync_cylinder: int | None = 1
    sync_every_deg: float = CYCLE_DEG
    sync_advance_deg: float = SPARK_ADVANCE_DEG
    strikes: int = 1
    sync_lost_after_s: float | None = None
    clamp_sign: float = 1.0
    clamp_gain: float = 1.0
    clamp_zero_a: float = 0.0
    clamp_range_a: float | None = None
    noise_a: float = 0.0
    noise_v: float = 0.0
    spikes_per_s: float = 0.0
    missing_share: float = 0.0
    bits: int | None = None
    cut_s: tuple[float, float] | None = None
    fuel_disabled: bool | None = True


def record(run: CrankRun, engine: Engine, rig: Rig, *, rng: Generator, name: str = "cranking") -> Capture:
    """Sample a crank through a rig.

    Parameters
    ----------
    run : CrankRun
    engine : Engine
    rig : Rig
    rng : numpy Generator
    name : str

    Returns
    -------
    Capture
    """
    begin, end = rig.cut_s or (float(run.time_s[0]), float(run.time_s[-1]))
    count = int((end - begin) * rig.rate_hz)
    times = begin + np.arange(count) / rig.rate_hz
    channels = []
    if rig.current:
        amps = np.interp(times, run.time_s, run.current_a) + rng.normal(0.0, rig.noise_a, count)
        amps = amps + _spikes(count, rig, rng, size=150.0)
        amps = rig.clamp_sign * rig.clamp_gain * amps + rig.clamp_zero_a
        if rig.clamp_range_a is not None:
            amps = np.clip(amps, -rig.clamp_range_a, rig.clamp_range_a)
        amps = _digitised(amps, rig.bits, rig.clamp_range_a or 1000.0)
        channels.append(_channel("clamp", Role.STARTER_CURRENT, _gaps(amps, rig, rng)))
    if rig.voltage:
        volts = np.interp(times, run.time_s, run.battery_v) + rng.normal(0.0, rig.noise_v, count)
        volts = volts + _spikes(count, rig, rng, size=1.0)
        volts = _digitised(volts, rig.bits, 20.0)
        channels.append(_channel("battery", Role.BATTERY_VOLTAGE, _gaps(volts, rig, rng)))
    if rig.sync_cylinder is not None:
        pulses = sync_pulses(run, engine, rig, times) + rng.normal(0.0, 0.03, count)
        sync = _channel("sync", Role.COIL_CONTROL, _gaps(pulses, rig, rng))
        channels.append(replace(sync, cylinder=rig.sync_cylinder, sync=True))
    return Capture(
        name=name,
        time=TimeBase(samples=count, rate_hz=rig.rate_hz),
        channels=tuple(channels),
        set_up=SetUp(
            test=CaptureTest.RELATIVE_COMPRESSION,
            engine_state=EngineState.CRANKING,
            load="none",
            fuel_disabled=rig.fuel_disabled,
            ignition_disabled=False,
            temperature="cold",
        ),
    )


def sync_pulses(run: CrankRun, engine: Engine, rig: Rig, times: FloatArray) -> FloatArray:
    """Command of the marked cylinder's coil: 0 to 5 V, low again at the spark.

    Parameters
    ----------
    times : (n,) float, s

    Returns
    -------
    (n,) float, V
    """
    assert rig.sync_cylinder is not None
    first = engine.tdc_deg(rig.sync_cylinder) - rig.sync_advance_deg
    every = REVOLUTION_DEG if rig.sync_every_deg == REVOLUTION_DEG else CYCLE_DEG
    begin, end = float(run.angle_deg[0]), float(run.angle_deg[-1])
    turns = np.arange(np.ceil((begin - first) / every), np.floor((end - first) / every) + 1)
    moving = np.flatnonzero(np.diff(run.angle_deg) > 0)
    if moving.size == 0:
        return np.zeros(times.size)
    sparks = np.interp(first + every * turns, run.angle_deg[moving], run.time_s[moving])
    level = np.zeros(times.size)
    for spark in sparks:
        if rig.sync_lost_after_s is not None and spark > rig.sync_lost_after_s:
            break
        for strike in range(rig.strikes):
            off = spark + strike * (STRIKE_GAP_S + DWELL_S)
            on = off - DWELL_S
            a, b = np.searchsorted(times, (on, off))
            level[a:b] = 5.0
    return level


def _channel(name: str, role: Role, samples: FloatArray) -> Channel:
    unit = "A" if role is Role.STARTER_CURRENT else "V"
    return Channel(name=name, role=role, unit=unit, samples=samples.astype(np.float32))


def _gaps(samples: FloatArray, rig: Rig, rng: Generator) -> FloatArray:
    """Samples that a logger lost are not a number."""
    if not rig.missing_share:
        return samples
    return np.where(rng.random(samples.size) < rig.missing_share, np.nan, samples)


def _spikes(count: int, rig: Rig, rng: Generator, *, size: float) -> FloatArray:
    spikes = np.zeros(count)
    if rig.spikes_per_s <= 0:
        return spikes
    at = rng.integers(0, count, size=int(rig.spikes_per_s * count / rig.rate_hz))
    spikes[at] = rng.choice((-1.0, 1.0), at.size) * size * rng.uniform(0.5, 2.0, at.size)
    return spikes


def _digitised(samples: FloatArray, bits: int | None, reach: float) -> FloatArray:
    if bits is None:
        return samples
    step = 2.0 * reach / 2**bits
    return np.asarray(np.round(samples / step) * step)

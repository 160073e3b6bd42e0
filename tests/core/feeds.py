"""Injector currents and voltages made by hand for the tests: a resistance, an inductance and a driver."""

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase

RATE = 50_000.0
VOLTS, OHM, HENRY, FALL_S = 13.5, 14.5, 0.012, 160e-6


def trajectory(since, on_s, *, ohm=OHM, henry=HENRY):
    held = np.clip(since, 0.0, on_s)
    amps = VOLTS / ohm * -np.expm1(-held * ohm / henry) * np.exp(-np.clip(since - on_s, 0.0, None) / FALL_S)
    return np.where(since > 0, amps, 0.0)


def running(engine, *, rpm, on_s, odd=None, cycles=30, noise=0.02, seed=0, sync=1, missing=()):
    """One feed for all and the sync injector's voltage. ``odd``: resistance beside the usual one, infinite for open."""
    rng = np.random.default_rng(seed)
    cycle_s = 120.0 / rpm
    starts = np.concatenate(([0.0], np.cumsum(cycle_s * (1 + 0.01 * rng.normal(size=cycles)))))
    count = int(RATE * starts[-1])
    times = np.arange(count) / RATE
    amps, volts = rng.normal(0.0, noise, count), rng.normal(VOLTS, 0.05, count)
    for k in range(cycles):
        length = starts[k + 1] - starts[k]
        for i, cylinder in enumerate(engine.firing_order):
            end = starts[k] + 0.3 * length + length * engine.event_angles_deg[i] / 720.0
            if cylinder == sync:
                low, off, high = np.searchsorted(times, (end - on_s, end, end + 2e-4))
                volts[low:off], volts[off:high] = 0.6, 66.0
            ohm = OHM * (odd or {}).get(cylinder, 1.0)
            if np.isfinite(ohm) and (cylinder, k) not in missing:
                first, last = np.searchsorted(times, (end - on_s, end + 3e-3))
                amps[first:last] += trajectory(times[first:last] - end + on_s, on_s, ohm=ohm)
    return capture(
        Channel(name="feed", role=Role.INJECTOR_CURRENT, unit="A", samples=amps.astype(np.float32)),
        Channel(
            name="sync",
            role=Role.INJECTOR_VOLTAGE,
            unit="V",
            samples=volts.astype(np.float32),
            cylinder=sync,
            sync=True,
        ),
    )


def capture(*channels, test=CaptureTest.INJECTOR_CURRENT, rate=RATE):
    set_up = SetUp(test=test, engine_state=EngineState.RUNNING, load="idle")
    time = TimeBase(samples=channels[0].samples.size, rate_hz=rate)
    return Capture(name="inj", time=time, channels=channels, set_up=set_up)


def control_side(*, cycles=12, cycle_s=0.16, on_s=0.003, rest=13.8, low=0.5, kick=52.0, bump=1.4, noise=0.05, seed=0):
    """Voltage on the control side of one injector."""
    rng = np.random.default_rng(seed)
    count = int(RATE * cycle_s * cycles)
    times = np.arange(count) / RATE
    volts = np.full(count, rest)
    for k in range(cycles):
        begin = 0.03 + k * cycle_s
        on, off, end = np.searchsorted(times, (begin, begin + on_s, begin + on_s + 0.006))
        volts[on:off] = low
        since = times[off:end] - begin - on_s
        volts[off:end] += kick * np.where(since < 1.8e-4, 1.0, np.exp(-(since - 1.8e-4) / 3e-4)) if kick else 0.0
        volts[off:end] += bump * np.exp(-(((since - 9e-4) / 1.6e-4) ** 2)) if kick else 0.0
    return (volts + rng.normal(0.0, noise, count)).astype(np.float32)

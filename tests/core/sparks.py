"""Sparks written down by hand: a turn-on, a breakdown, a line, what rings after it; nothing of the simulator."""

from __future__ import annotations

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import Engine

RATE = 200_000.0


def spark(
    rate=RATE, *, firing=10.0, line=1.2, length_ms=1.4, rise=0.15, dwell_ms=3.0, rings=4, step=1.5
) -> tuple[np.ndarray, int]:
    """One spark, and the sample at which it breaks down."""
    lead, tail = int(rate * (dwell_ms + 1.0) / 1000), int(rate * 6e-3)
    kv = np.zeros(lead + tail)
    on = int(rate * 1e-3)
    charging = np.arange(lead - on) / rate
    kv[on:lead] = -step * (0.45 + 0.55 * np.exp(-charging / 2e-4) * np.cos(2 * np.pi * 9e3 * charging) ** 2)
    burning = int(rate * length_ms / 1000)
    if line:
        kv[lead : lead + burning] = line * (1 + rise * np.linspace(-0.5, 0.5, burning))
        if rings:
            after = np.arange(tail - burning) / rate
            kv[lead + burning :] = -0.8 * np.exp(-after / (rings * 1e-4)) * np.cos(2 * np.pi * 8e3 * after)
    else:
        after = np.arange(tail) / rate
        kv[lead:] = firing * np.exp(-after / 2e-4) * np.cos(2 * np.pi * 4e3 * after)
    kv[lead] = firing
    return kv, lead


def leads(
    engine: Engine,
    odd: dict[int, dict[str, float]] | None = None,
    *,
    cylinders: tuple[int, ...] | None = None,
    rpm=750.0,
    cycles=5,
    noise=0.01,
    gain: dict[int, float] | None = None,
    waste: float | None = None,
    seed=1,
    sync: int | None = None,
    load="idle",
) -> Capture:
    """A capture of the leads of some cylinders; ``odd`` changes the spark of a cylinder, ``None`` takes it away."""
    rng = np.random.default_rng(seed)
    cycle = 120.0 / rpm
    count = int(RATE * cycle * cycles)
    channels = []
    for c in cylinders or tuple(sorted(engine.firing_order)):
        own = (odd or {}).get(c, {})
        kv = rng.normal(0.0, noise, count)
        at = cycle * (engine.event_angles_deg[engine.position(c)] / 720.0 + np.arange(cycles))
        for k, moment in enumerate([*at, *(at + cycle / 2 if waste else [])]):
            if own is None or (isinstance(own, dict) and own.get("firing") == 0):
                continue
            wasted = waste is not None and k >= cycles
            about = {**own}
            if wasted:
                about["firing"] = waste
            about.setdefault("firing", 10.0)
            about["firing"] *= 1 + 0.05 * rng.normal()
            shape, broke = spark(**about)
            first = int((moment + 0.25 * cycle / engine.cylinders) * RATE) - broke
            begin, end = max(0, first), min(count, first + shape.size)
            if end > begin:
                kv[begin:end] += shape[begin - first : end - first]
        scale = (gain or {}).get(c, 1.0)
        channels.append(
            Channel(name=f"lead {c}", role=Role.SECONDARY_VOLTAGE, unit="kV", samples=(scale * kv).astype(np.float32),
                    cylinder=c)
        )  # fmt: skip
    if sync is not None:
        level = np.zeros(count, np.float32)
        for moment in cycle * (engine.event_angles_deg[engine.position(sync)] / 720.0 + np.arange(cycles)):
            off = int((moment + 0.25 * cycle / engine.cylinders) * RATE)
            level[max(0, off - int(3e-3 * RATE)) : off] = 5.0
        channels.append(Channel(name="sync", role=Role.COIL_CONTROL, unit="V", samples=level, cylinder=sync, sync=True))
    return Capture(
        name="secondary" if cylinders is None else f"secondary-{'-'.join(map(str, cylinders))}",
        time=TimeBase(samples=count, rate_hz=RATE),
        channels=tuple(channels),
        set_up=SetUp(test=CaptureTest.SECONDARY_VOLTAGE, engine_state=EngineState.RUNNING, load=load),
    )

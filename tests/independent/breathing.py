"""How an engine breathes, by lumped volumes: manifold, crankcase and a tailpipe with echoes, seen through a hose.

Numpy only, and nothing shared with the project's own simulator. Pistons draw and push volumes by a slider-crank; the
manifold is filled through a throttle, the crankcase emptied through its breather, the exhaust a delay line with an
echo. The hose rings at its own frequency, as hoses do.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase

ATMOSPHERE = 101.3e3
SWEPT = 4.5e-4


@dataclass(frozen=True)
class Lungs:
    """One cylinder: what its valves and rings do."""

    intake_opens: bool = True
    exhaust_opens: bool = True
    fills: float = 1.0
    """Share of the usual volume it draws."""
    intake_leak: float = 0.0
    """Volume blown back into the manifold around its compression, in swept volumes a second at full pressure."""
    blow_by: float = 0.03
    """The same past its rings into the crankcase."""
    fires: float = 1.0


@dataclass(frozen=True)
class Breathing:
    """An engine that is cranked, or runs where ``rpm`` says so."""

    order: tuple[int, ...] = (1, 3, 4, 2)
    odd: dict[int, Lungs] = field(default_factory=dict)
    rpm: float = 210.0
    seconds: float = 6.0
    rate_hz: float = 5_000.0
    ripple: float = 0.12
    plenum: float = 3.0
    """Volume of the manifold in swept volumes."""
    throttle: float = 25.0
    """How fast the manifold fills again, in volumes a second."""
    breather: float = 15.0
    pipe_s: float = 0.008
    echo: float = -0.3
    scatter: float = 0.03
    intake_opens_deg: float = 350.0
    intake_closes_deg: float = 590.0


@dataclass(frozen=True)
class Hose:
    """The hose and its sensor, and the instrument behind them."""

    rings_hz: float = 90.0
    damping: float = 0.35
    delay_s: float = 0.002
    gain: float = 1.0
    offset_pa: float = 0.0
    drift_pa: float = 0.0
    noise_pa: float = 4.0
    bits: int = 12
    reach_pa: float = 5e3
    blocks_slow_hz: float = 0.0
    """Frequency below which a sensor of the piezo kind lets go, 0 for none."""


def _angle(how: Breathing) -> np.ndarray:
    """Crank angle of every sample, degrees from TDC of the first of the order; slower up each compression."""
    count = int(how.seconds * how.rate_hz)
    even = 6.0 * how.rpm * np.arange(count) / how.rate_hz + 137.0
    place = np.deg2rad(even * len(how.order) / 2.0)
    return even + np.rad2deg(2.0 / len(how.order)) * how.ripple * np.cos(place)


def _drawn(inside: np.ndarray) -> np.ndarray:
    """Volume in swept volumes above the piston; 0 at the top."""
    a = np.deg2rad(inside)
    return 0.5 * (1 - np.cos(a) + 3.4 - np.sqrt(3.4**2 - np.sin(a) ** 2))


def _compressed(inside: np.ndarray) -> np.ndarray:
    """Pressure above the atmosphere around a compression, as a share of its height."""
    near = (inside + 360.0) % 720.0 - 360.0
    v = (0.11 + _drawn(near)) / 1.11
    return np.where(np.abs(near) < 150.0, (v**-1.28 - 1) / (0.1**-1.28 - 1), 0.0)


def pressure_of(how: Breathing, where: Role, rng: np.random.Generator) -> np.ndarray:
    """Pressure above the rest, Pa, where the hose begins."""
    angle = _angle(how)
    n, dt = len(how.order), 1.0 / how.rate_hz
    into = np.zeros(angle.size)  # volume flow into the manifold, the crankcase or the tailpipe, swept volumes a second
    cycle = np.floor(angle / 720.0).astype(int)
    for place, cylinder in enumerate(how.order):
        own = how.odd.get(cylinder, Lungs())
        inside = (angle - place * 720.0 / n) % 720.0  # 0 is TDC compression
        flow = np.gradient(_drawn(inside), dt)
        each = 1 + how.scatter * rng.standard_normal(cycle.max() + 2)[cycle + 1]
        if where is Role.INTAKE_PRESSURE:
            open_ = (inside > how.intake_opens_deg) & (inside < how.intake_closes_deg)
            # A valve that does not open draws nothing; a charge that was not let out bursts into the manifold instead.
            if own.intake_opens:
                into -= np.where(open_, flow, 0.0) * own.fills * each
                if not own.exhaust_opens:
                    into += 25.0 * np.exp(-(((inside - how.intake_opens_deg - 14.0) / 11.0) ** 2)) * each
            into += own.intake_leak * _compressed(inside) * each
        elif where is Role.CRANKCASE_PRESSURE:
            into += flow + 40.0 * own.blow_by * _compressed(inside) * each
        else:
            push = np.clip((inside - 135.0) / 70.0, 0.0, 1.0)
            blown = np.sin(np.pi * push) ** 2 * (own.fires * each - 0.25 * (1 - own.fires))
            into += np.where(own.exhaust_opens, 60.0 * blown, 0.0)
    if where is Role.EXHAUST_PRESSURE:
        return 6.0 * _echoed(into, how)
    leaks, volume = (how.throttle, how.plenum) if where is Role.INTAKE_PRESSURE else (how.breather, 5.0)
    pressure = np.zeros(angle.size)
    for i in range(1, angle.size):
        pressure[i] = pressure[i - 1] * (1 - leaks * dt) + 0.08 * ATMOSPHERE * into[i] * dt / volume
    return pressure


def _echoed(flow: np.ndarray, how: Breathing) -> np.ndarray:
    delay = max(1, round(how.pipe_s * how.rate_hz))
    out = np.concatenate((np.zeros(delay), flow))[: flow.size]
    for i in range(2 * delay, out.size):
        out[i] += how.echo * out[i - 2 * delay]
    width = max(1, round(0.004 * how.rate_hz))  # the muffler
    return np.convolve(out - out.mean(), np.ones(width) / width, mode="same")


def _through(pressure: np.ndarray, by: Hose, rate_hz: float, rng: np.random.Generator) -> np.ndarray:
    """What hose and sensor make of a pressure: a column of air on a spring, then an amplifier and a converter."""
    w, dt = 2 * np.pi * by.rings_hz, 1.0 / rate_hz
    seen, speed = np.zeros(pressure.size), 0.0
    for i in range(1, pressure.size):
        speed += dt * (w**2 * (pressure[i - 1] - seen[i - 1]) - 2 * by.damping * w * speed)
        seen[i] = seen[i - 1] + dt * speed
    seen = np.concatenate((np.zeros(round(by.delay_s * rate_hz)), seen))[: pressure.size]
    if by.blocks_slow_hz:
        slow = np.zeros(seen.size)
        for i in range(1, seen.size):
            slow[i] = slow[i - 1] + dt * 2 * np.pi * by.blocks_slow_hz * (seen[i] - slow[i - 1])
        seen = seen - slow
    seen = by.gain * seen + by.offset_pa + by.drift_pa * np.arange(seen.size) / seen.size
    seen += by.noise_pa * rng.standard_normal(seen.size)
    grain = 2 * by.reach_pa / 2**by.bits
    return np.round(seen / grain) * grain


TESTS = {
    Role.INTAKE_PRESSURE: CaptureTest.INTAKE_PULSE,
    Role.CRANKCASE_PRESSURE: CaptureTest.CRANKCASE_PULSE,
    Role.EXHAUST_PRESSURE: CaptureTest.EXHAUST_PULSE,
}


def breathing_capture(how: Breathing, where: Role, by: Hose = Hose(), *, seed: int = 0) -> Capture:
    """The hose on manifold, crankcase or tailpipe, with the command of the first cylinder's coil beside it."""
    rng = np.random.default_rng(seed)
    seen = _through(pressure_of(how, where, rng), by, how.rate_hz, rng)
    angle = _angle(how)
    level = np.zeros(angle.size)
    early = (angle + 8.0) % 720.0  # the command ends 8 degrees before the top
    level[early > 720.0 - 0.0035 * 6.0 * how.rpm] = 5.0
    running = where is Role.EXHAUST_PRESSURE
    return Capture(
        name=TESTS[where].value,
        time=TimeBase(samples=angle.size, rate_hz=how.rate_hz),
        channels=(
            Channel(name="hose", role=where, unit="Pa", samples=seen.astype(np.float32)),
            Channel(
                name="coil", role=Role.COIL_CONTROL, unit="V", samples=level.astype(np.float32),
                cylinder=how.order[0], sync=True,
            ),
        ),
        set_up=SetUp(
            test=TESTS[where],
            engine_state=EngineState.RUNNING if running else EngineState.CRANKING,
            load="idle" if running else "none",
            fuel_disabled=not running,
        ),
    )  # fmt: skip

"""A starter turning an engine, written on its own: gas in slider-crank cylinders against a series of motor and battery.

numpy only; nothing here is shared with the product's simulator. Constants are from memory and only need to be of the
size a workshop sees; no check hangs on their exact values.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, Role, SetUp, TimeBase

FloatArray = NDArray[np.float64]

STEP_S = 2e-4
EXPONENT = 1.28
ATMOSPHERE_PA = 100_000.0
CUBIC_M = 4.5e-4
"""Displacement of one cylinder."""
CRANK_TO_ROD = 0.28
INTAKE_CLOSES_DEG = -135.0
EXHAUST_OPENS_DEG = 140.0


@dataclass(frozen=True)
class Crank:
    """One crank of an engine with even firing intervals.

    ``order`` is the firing order, ``leak`` the share of the trapped gas lost by a cylinder, ``rest_s`` the stillness
    before and after, ``seconds`` the cranking between.
    """

    order: tuple[int, ...] = (1, 3, 4, 2)
    leak: tuple[tuple[int, float], ...] = ()
    seconds: float = 5.0
    rest_s: float = 0.4
    rpm: float = 210.0
    start_deg: float = 60.0
    ratio: float = 10.0
    seed: int = 1


@dataclass(frozen=True)
class Turned:
    """Time (s), crank angle of the first of the order (deg, unwrapped from its first compression) and current (A)."""

    time_s: FloatArray
    angle_deg: FloatArray
    current_a: FloatArray


def volume(angle_deg: FloatArray, ratio: float) -> FloatArray:
    """Gas volume of a cylinder (m3) by slider-crank geometry; 0 deg is top dead centre."""
    phi = np.radians(angle_deg)
    rod = 1.0 / CRANK_TO_ROD
    down = 1.0 + rod - np.cos(phi) - np.sqrt(rod**2 - np.sin(phi) ** 2)
    return np.asarray(CUBIC_M * (1.0 / (ratio - 1.0) + 0.5 * down))


def gas_torque(ratio: float, leak: float) -> FloatArray:
    """(7200,) torque of one cylinder by tenth of a degree over its cycle, Nm; it starts at top dead centre."""
    angle = (np.arange(7200) * 0.1 + 360.0) % 720.0 - 360.0
    gas = volume(angle, ratio)
    closed = (angle >= INTAKE_CLOSES_DEG) & (angle <= EXHAUST_OPENS_DEG)
    trapped = volume(np.array([INTAKE_CLOSES_DEG]), ratio)[0]
    left = 1.0 - leak / (1.0 + np.exp(-(angle + 45.0) / 12.0))
    pressure = np.where(closed, ATMOSPHERE_PA * left * (trapped / gas) ** EXPONENT - ATMOSPHERE_PA, 0.0)
    pressure = np.maximum(pressure, -0.4 * ATMOSPHERE_PA)
    return np.asarray(pressure * np.gradient(gas, np.radians(0.1)))


@lru_cache(maxsize=256)
def turn(how: Crank) -> Turned:
    """Integrate motor, inertia and gas from rest; the motor is sized so that the mean speed comes out near ``rpm``."""
    cylinders = len(how.order)
    leaks = dict(how.leak)
    spacing = 720.0 / cylinders
    total = np.zeros(7200)
    for place, cylinder in enumerate(how.order):
        total += np.roll(gas_torque(how.ratio, leaks.get(cylinder, 0.0)), round(place * spacing * 10))
    usual = how.rpm * np.pi / 30.0
    friction = 18.0 + 7.0 * cylinders
    inertia = 0.35 if cylinders < 4 else 0.10 + 0.035 * cylinders
    stall = 3.2 * friction + 60.0
    count = round(how.seconds / STEP_S)
    speed, angle = 0.5, how.start_deg
    angles, loads = np.empty(count), np.empty(count)
    free = usual / (1.0 - friction / stall)
    for step in range(count):
        drive = stall * (1.0 - speed / free)
        drag = friction if speed > 0.0 else 0.0
        speed = max(0.05, speed + STEP_S * (drive - drag + total[int(angle * 10) % 7200]) / inertia)
        angle += np.degrees(speed) * STEP_S
        angles[step], loads[step] = angle, drive
    still = np.zeros(round(how.rest_s / STEP_S))
    current = np.concatenate((still, 2.2 * np.maximum(loads, 0.0), still))
    rise = 1.0 - np.exp(-np.arange(count) * STEP_S / 0.015)
    current[still.size : still.size + count] *= rise
    angle_all = np.concatenate((still + how.start_deg, angles, still + angles[-1]))
    return Turned(time_s=np.arange(current.size) * STEP_S, angle_deg=angle_all, current_a=current)


@dataclass(frozen=True)
class Instrument:
    """How the crank was recorded: rate, converter, noise, scale and side of the clamp, and what the sync does."""

    rate_hz: float = 2000.0
    bits: int = 12
    range_a: float = 1000.0
    noise_a: float = 1.0
    scale: float = 1.0
    sync: str = "clean"
    sync_cylinder: int = 1


PLAIN = Instrument()


def recorded(how: Crank, by: Instrument = PLAIN) -> Capture:
    """The capture such an instrument gives of such a crank; the sync is a coil's current ramp of one cylinder."""
    turned = turn(how)
    rng = np.random.default_rng(how.seed)
    time = np.arange(0.0, turned.time_s[-1], 1.0 / by.rate_hz)
    current = np.interp(time, turned.time_s, turned.current_a) + rng.normal(0.0, by.noise_a, time.size)
    step = 2.0 * by.range_a / 2**by.bits
    current = np.clip(np.round(current / step) * step, -by.range_a, by.range_a) * by.scale
    channels = [Channel(name="clamp", unit="A", samples=current.astype(np.float32), role=Role.STARTER_CURRENT)]
    if by.sync != "none":
        channels.append(
            Channel(
                name="coil",
                unit="A",
                samples=sync_of(how, by, time, turned).astype(np.float32),
                role=Role.COIL_CURRENT,
                cylinder=by.sync_cylinder,
                sync=True,
            )
        )
    base = TimeBase(rate_hz=by.rate_hz, samples=time.size)
    set_up = SetUp(test=CaptureTest.RELATIVE_COMPRESSION)
    return Capture(name="crank", channels=tuple(channels), time=base, set_up=set_up)


def sync_of(how: Crank, by: Instrument, time: FloatArray, turned: Turned) -> FloatArray:
    """A coil's ramp of 3.5 ms that ends eight degrees before each compression of the synced cylinder."""
    rng = np.random.default_rng(how.seed + 77)
    own = how.order.index(by.sync_cylinder) * 720.0 / len(how.order) - 8.0
    moving = np.diff(turned.angle_deg, prepend=turned.angle_deg[0]) > 0
    cycles = np.arange(np.ceil((turned.angle_deg[0] - own) / 720.0), (turned.angle_deg[-1] - own) / 720.0)
    fires = np.interp(own + 720.0 * cycles, turned.angle_deg[moving], turned.time_s[moving])
    if by.sync == "half":
        fires = fires[: max(1, fires.size // 2)]
    ramp = np.zeros(time.size)
    for fire in fires:
        before = fire - time
        rising = (before > 0.0) & (before < 0.0035)
        ramp[rising] = 7.0 * (1.0 - before[rising] / 0.0035)
        if by.sync == "rings":
            after = time - fire
            ringing = (after >= 0.0) & (after < 0.004)
            ramp[ringing] += 1.2 * np.exp(-after[ringing] / 0.001) * np.cos(2 * np.pi * 3000.0 * after[ringing])
    return np.asarray(ramp + rng.normal(0.0, 0.03, time.size))


def one_after_another(first: Capture, then: Capture) -> Capture:
    """Two recordings in one file, as when the key was turned twice while the scope went on."""
    channels = tuple(
        replace(a, samples=np.concatenate((a.samples, b.samples)))
        for a, b in zip(first.channels, then.channels, strict=True)
    )
    time = TimeBase(rate_hz=first.time.rate_hz, samples=first.time.samples + then.time.samples)
    return Capture(name=first.name, channels=channels, time=time, set_up=first.set_up)


def with_a_consumer(capture: Capture, amps: float, *, on_s: float, off_s: float) -> Capture:
    """A glow plug, a pump or a fan on the same battery cable, switched on and off."""
    time = np.arange(capture.time.samples) / capture.time.rate_hz
    step = np.where((time >= on_s) & (time < off_s), amps, 0.0).astype(np.float32)
    clamp, *others = capture.channels
    return replace(capture, channels=(replace(clamp, samples=clamp.samples + step), *others))


def running_on(capture: Capture, *, seconds: float, idle_rpm: float = 900.0, seed: int = 3) -> Capture:
    """The engine catches: the starter is let go, the alternator charges, the synced coil goes on firing at idle."""
    rate = capture.time.rate_hz
    time = np.arange(0.0, seconds, 1.0 / rate)
    rng = np.random.default_rng(seed)
    others = capture.channels[1:]
    charge = -25.0 * (1.0 - np.exp(-time / 0.8)) + rng.normal(0.0, 1.0, time.size)
    since = (time + 0.04) % (120.0 / idle_rpm)
    ramp = np.where(since < 0.0035, 7.0 * since / 0.0035, 0.0) + rng.normal(0.0, 0.03, time.size)
    tails = (charge.astype(np.float32), *(ramp.astype(np.float32) for _ in others))
    channels = tuple(
        replace(c, samples=np.concatenate((c.samples, tail))) for c, tail in zip(capture.channels, tails, strict=True)
    )
    longer = TimeBase(rate_hz=rate, samples=capture.time.samples + time.size)
    return Capture(name=capture.name, channels=channels, time=longer, set_up=capture.set_up)

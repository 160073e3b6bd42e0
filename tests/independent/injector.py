"""Injector and coil currents by circuit: a winding on a supply, switched, with what its driver makes of it.

Numpy only, and nothing shared with the project's own simulator.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase

FINE_HZ = 200_000.0


@dataclass(frozen=True)
class Winding:
    """One load: ohm, henry, and when it lifts or holds."""

    ohm: float = 14.0
    henry: float = 0.014
    lifts_ms: float | None = 1.4
    """When the needle moves, which dents the rise; None for one that sticks."""
    dent: float = 0.06
    on_ms: float = 3.0
    dead: bool = False
    held: bool = False


@dataclass(frozen=True)
class Feed:
    """An engine's windings on their feeds, and how a clamp sees them."""

    order: tuple[int, ...] = (1, 3, 4, 2)
    volts: float = 13.8
    rpm: float = 780.0
    seconds: float = 2.5
    usual: Winding = Winding()
    odd: Mapping[int, Winding] = field(default_factory=dict)
    batch: int = 1
    """Cylinders that are fired at once; 1 for one after the other."""
    twice: bool = False
    """Each fires every revolution."""
    coils: bool = False
    """Ignition coils hang on the same feed."""
    rate_hz: float = 50_000.0
    noise_a: float = 0.012
    offset_a: float = 0.0
    drift_a: float = 0.0
    gain: float = 1.0
    bits: int = 12
    reach_a: float = 10.0
    hold_a: float | None = None
    """Peak and hold: the current is chopped down to this after its peak."""
    peak_a: float = 4.0
    limited_a: float | None = None
    """The driver holds a coil's current here once it is reached."""
    role: Role = Role.INJECTOR_CURRENT
    strikes: int = 1
    fall_s: float = 1.2e-4
    eddies: float = 0.0
    """Share of the current that eddy currents let rise at once."""
    seed: int = 0


def feed_current(how: Feed, *, sync: str = "injector", each: bool = False) -> Capture:
    """A capture of the shared feed, or of one clamp per cylinder, with a sync on the first of the order."""
    rng = np.random.default_rng(how.seed)
    count = int(how.seconds * FINE_HZ)
    cycle = 120.0 / how.rpm
    own = {c: np.zeros(count) for c in how.order}
    for n in range(int(how.seconds / cycle) + 1):
        begin = 0.013 + n * cycle * (1 + 0.001 * rng.standard_normal())
        for place, c in enumerate(how.order):
            group = place // how.batch * how.batch
            winding = how.odd.get(c, how.usual)
            times = [begin + cycle * group / len(how.order)]
            if how.twice:
                times.append(times[0] + cycle / 2)
            for t in times:
                for strike in range(how.strikes):
                    later = strike * (winding.on_ms * 1e-3 + 1.2e-3)
                    _lay(own[c], _pulse(winding, how), int((t + later) * FINE_HZ))
    extra = np.zeros(count)
    if how.coils:
        for n in range(int(how.seconds / cycle) + 1):
            for place in range(len(how.order)):
                t = np.arange(int(3e-3 * FINE_HZ)) / FINE_HZ
                ramp = how.volts / 0.6 * (1 - np.exp(-t * 0.6 / 3.5e-3))
                _lay(extra, ramp, int((0.013 + cycle * (n + (place + 0.55) / len(how.order))) * FINE_HZ))
    traces = [(f"clamp {c}", c, own[c]) for c in sorted(own)] if each else [("feed", 0, sum(own.values()) + extra)]
    channels = [_clamp(name, c, trace, how, rng) for name, c, trace in traces]
    test = CaptureTest.COIL_CURRENT if how.role is Role.COIL_CURRENT else CaptureTest.INJECTOR_CURRENT
    if sync != "none":
        channels.append(_sync(how, cycle, sync, count))
    return Capture(
        name="injectors",
        time=TimeBase(samples=channels[0].samples.size, rate_hz=how.rate_hz),
        channels=tuple(channels),
        set_up=SetUp(test=test, engine_state=EngineState.RUNNING, load="idle"),
    )


def _pulse(w: Winding, how: Feed) -> np.ndarray:
    """Current of one injection: rise, the needle's dent, what the driver holds, and how it falls."""
    if w.dead:
        return np.zeros(1)
    t = np.arange(int(w.on_ms * 1e-3 * FINE_HZ)) / FINE_HZ
    slow, fast = (1 - np.exp(-t * w.ohm / henry) for henry in (w.henry, w.henry / 8))
    current = how.volts / w.ohm * ((1 - how.eddies) * slow + how.eddies * fast)
    if w.lifts_ms is not None:
        current *= 1 - w.dent * np.exp(-(((t - w.lifts_ms * 1e-3) / 1.6e-4) ** 2))
    if how.hold_a is not None:
        reached = np.flatnonzero(current >= how.peak_a)
        if reached.size:
            after = t[reached[0] :] - t[reached[0]]
            held = how.hold_a * (1 + 0.08 * np.sign(np.sin(2 * np.pi * 4_000.0 * after)))
            current[reached[0] :] = np.maximum(held, how.peak_a * np.exp(-after / 2.5e-4))
    if how.limited_a is not None:
        current = np.minimum(current, how.limited_a)
    fall = current[-1] * np.exp(-np.arange(int(0.6e-3 * FINE_HZ)) / FINE_HZ / how.fall_s)
    return np.concatenate((current, fall))


def _lay(trace: np.ndarray, piece: np.ndarray, at: int) -> None:
    room = trace.size - at
    if room > 0:
        trace[at : at + min(room, piece.size)] += piece[:room]


def _clamp(name: str, cylinder: int, trace: np.ndarray, how: Feed, rng: np.random.Generator) -> Channel:
    at = np.arange(int(trace.size / FINE_HZ * how.rate_hz)) / how.rate_hz
    seen = how.gain * np.interp(at, np.arange(trace.size) / FINE_HZ, trace)
    seen = seen + how.offset_a + how.drift_a * at / at[-1] + how.noise_a * rng.standard_normal(at.size)
    step = 2 * how.reach_a / 2**how.bits
    seen = np.round(seen / step) * step
    return Channel(name=name, role=how.role, unit="A", samples=seen.astype(np.float32), cylinder=cylinder or None)


def _sync(how: Feed, cycle: float, kind: str, count: int) -> Channel:
    """The driver's side of the first injector, or the command of the first coil, half a turn on."""
    first = how.order[0]
    at = np.arange(int(how.seconds * how.rate_hz)) / how.rate_hz
    level = np.full(at.size, how.volts if kind == "injector" else 0.0)
    for n in range(int(how.seconds / cycle) + 1):
        begin = 0.013 + n * cycle
        if kind == "injector":
            for k in range(2 if how.twice else 1):
                on = begin + k * cycle / 2
                level[(at >= on) & (at < on + how.usual.on_ms * 1e-3)] = 0.4
                kick = (at >= on + how.usual.on_ms * 1e-3) & (at < on + how.usual.on_ms * 1e-3 + 2e-4)
                level[kick] = 60.0
        else:
            spark = begin + (how.usual.on_ms * 1e-3 if how.role is Role.COIL_CURRENT else cycle * 0.42)
            level[(at >= spark - 3e-3) & (at < spark)] = 5.0
    role = Role.INJECTOR_VOLTAGE if kind == "injector" else Role.COIL_CONTROL
    return Channel(name="sync", role=role, unit="V", samples=level.astype(np.float32), cylinder=first, sync=True)

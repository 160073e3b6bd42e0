"""A long log of injector current while the engine warms: copper gains resistance, and an open shows when hot."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.copper import copper_resistance
from fairwitness.core.model.engine import CYCLE_DEG
from fairwitness.simulate.health import Health
from fairwitness.simulate.injection import current_of
from fairwitness.simulate.vehicle import Vehicle

COLD_C, WARMS_K, WARMS_S = 20.0, 70.0, 420.0
ON_S = 0.0034
SUPPLY_V, SUPPLY_NOISE_V = 13.9, 0.05
NOISE_A = 0.02
SWITCHED_V, KICKED_V, KICK_S = 0.6, 62.0, 0.2e-3
SYNC_NOISE_V = 0.1


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatSoak:
    """What happens in the log.

    Parameters
    ----------
    seconds, rate_hz : float
    opens : int or None
        Cylinder whose injector opens for good.
    opens_at_s : float
        From its first injection after this moment on.
    drifts : float
        Extra resistance of the same injector at the end of the log, as a share: a contact that warms.
    sync : int
        Cylinder whose injector voltage is recorded beside.
    """

    seconds: float = 1200.0
    rate_hz: float = 20_000.0
    opens: int | None = None
    opens_at_s: float = 0.0
    drifts: float = 0.0
    sync: int = 1


def warm_up(vehicle: Vehicle, soak: HeatSoak, *, seed: int = 0) -> tuple[Capture, float | None]:
    """Record the feeds, the supply and one injector's voltage while the engine idles warm.

    Parameters
    ----------
    vehicle : Vehicle
    soak : HeatSoak
    seed : int

    Returns
    -------
    (capture, opened_s) : Capture, float or None
        And the moment of the first injection that is missing.
    """
    rng = np.random.default_rng((20_26, 7, seed))
    engine, build, rate = vehicle.engine, vehicle.injection, soak.rate_hz
    count = int(soak.seconds * rate)
    feeds = vehicle.injector_feeds
    currents = {feed: rng.normal(0.0, NOISE_A, count).astype(np.float32) for feed in feeds}
    supply = rng.normal(SUPPLY_V, SUPPLY_NOISE_V, count).astype(np.float32)
    sync = rng.normal(SUPPLY_V, SYNC_NOISE_V, count).astype(np.float32)
    cycle_s = 120.0 / vehicle.running.idle_rpm
    lengths = cycle_s * (1 + 0.01 * rng.normal(size=int(soak.seconds / cycle_s) + 2))
    starts = np.concatenate(([0.02], 0.02 + np.cumsum(lengths)))
    window = ON_S + 8 * build.decay_s
    opened = None
    for start, length in zip(starts, lengths, strict=False):
        ohm = copper_resistance(1.0, COLD_C + WARMS_K * -np.expm1(-start / WARMS_S), at_c=COLD_C)
        for i, cylinder in enumerate(engine.firing_order):
            at = start + length * float(engine.event_angles_deg[i]) / CYCLE_DEG
            first, last = int(at * rate) + 1, int((at + window) * rate)
            if last >= count:
                continue
            if cylinder == soak.sync:
                off = int((at + ON_S) * rate)
                sync[first:off] = SWITCHED_V
                sync[off : off + int(KICK_S * rate)] = KICKED_V
            if cylinder == soak.opens and at >= soak.opens_at_s > 0:
                opened = at if opened is None else opened
                continue
            extra = 1 + (soak.drifts * start / soak.seconds if cylinder == soak.opens else 0.0)
            since = np.arange(first, last) / rate - at
            feed = next(f for f in feeds if cylinder in f)
            health = replace(Health(), injector_ohm=ohm * extra)
            currents[feed][first:last] += current_of(build, health, SUPPLY_V, since, ON_S).astype(np.float32)
    channels = (
        *(
            Channel(name=f"feed {i}", role=Role.INJECTOR_CURRENT, unit="A", samples=amps, feeds=feed)
            for i, (feed, amps) in enumerate(currents.items(), start=1)
        ),
        Channel(name="supply", role=Role.BATTERY_VOLTAGE, unit="V", samples=supply),
        Channel(name="sync", role=Role.INJECTOR_VOLTAGE, unit="V", samples=sync, cylinder=soak.sync, sync=True),
    )
    set_up = SetUp(test=CaptureTest.INJECTOR_CURRENT, engine_state=EngineState.RUNNING, load="idle")
    time = TimeBase(samples=count, rate_hz=rate)
    return Capture(name="heat_soak", time=time, channels=channels, set_up=set_up), opened

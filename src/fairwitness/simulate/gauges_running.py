"""Readings of a turning engine without a scope: speed tables, power balance, misfire counts, port temperatures."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.random import Generator

from fairwitness.core.model.case import Observation
from fairwitness.simulate.health import Health
from fairwitness.simulate.running import Withheld, run_engine
from fairwitness.simulate.trajectory import crank_over
from fairwitness.simulate.under_test import VehicleUnderTest, seen_by

COUNTED_REVOLUTIONS = 400


def cranking_speed(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Speed at each compression as the control unit tables it: faster is weaker."""
    trajectory = crank_over(tested.vehicle, seconds=9.0, hot=tested.hot, rng=rng)
    table = {}
    for cylinder in tested.order:
        tdc = trajectory.cylinders[cylinder].tdc_deg
        begin, end = trajectory.time_at(tdc - 60.0), trajectory.time_at(tdc + 10.0)
        rpm = 70.0 / 6.0 / (end - begin)
        table[str(cylinder)] = round(float(np.nanmedian(rpm[np.isfinite(rpm)][2:])), 1)
    return [seen_by("cranking_speed", cylinder_rpm=table, seconds=9)]


def power_balance(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Each cylinder cut in turn: the drop before idle control answers."""
    running = replace(tested.vehicle.running, idle_control=False)
    drops = []
    for cylinder in tested.order:
        seed = int(rng.integers(2**31))
        held = replace(tested.vehicle, running=running)
        before = run_engine(held, seconds=0.8, hot=tested.hot, rng=np.random.default_rng(seed))
        after = run_engine(
            held, seconds=0.8, hot=tested.hot, rng=np.random.default_rng(seed), cut=Withheld((cylinder,), from_s=0.0)
        )
        drops.append(
            {
                "cylinder": cylinder,
                "rpm_before": round(float(before.run.speed_rpm[-200:].mean())),
                "rpm_after": round(float(after.run.speed_rpm[-200:].mean())),
            }
        )
    return [seen_by("power_balance", load="idle", idle_control="fixed", drops=drops)]


def misfire_counts(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """Counts over 400 revolutions at idle, from the crank's own slowing down."""
    seconds = COUNTED_REVOLUTIONS / (tested.vehicle.running.idle_rpm / 60)
    trajectory = tested.idle(rng, seconds=min(seconds, 32.0))
    usual = float(np.median(np.concatenate([trajectory.cylinders[c].heat for c in tested.order])))
    counts = {}
    for cylinder in tested.order:
        missed = float(np.mean(trajectory.cylinders[cylinder].heat <= 0.3 * usual))
        counts[str(cylinder)] = round(missed * COUNTED_REVOLUTIONS / 2) + int(rng.integers(0, 3))
    if tested.hands.smear:
        counts = _booked_late(counts, tested)
    return [seen_by("misfire_counts", counts=counts, revolutions=COUNTED_REVOLUTIONS)]


def roughness(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """A table of how unevenly each cylinder works, in a unit of the maker's own: what it loses beside the usual one."""
    trajectory = tested.idle(rng, seconds=6.0)
    heats = {c: float(np.mean(trajectory.cylinders[c].heat)) for c in tested.order}
    usual = float(np.median(list(heats.values()))) or 1.0
    table = {str(c): round(2.0 + 20.0 * (1 - heats[c] / usual) + 0.3 * float(rng.normal()), 1) for c in tested.order}
    return [seen_by("roughness", values=table, bad="high", name="roughness")]


def _booked_late(counts: dict[str, int], tested: VehicleUnderTest) -> dict[str, int]:
    """Counts where a control unit books a part of them on the cylinder that fires next."""
    order, smear = tested.vehicle.engine.firing_order, tested.hands.smear
    before = dict(zip(order, (order[-1], *order[:-1]), strict=True))
    return {
        c: round((1 - smear) * own + smear * counts[str(before[int(c)])]) for c, own in counts.items()
    }  # fmt: skip


PORT_RISE_K, PORT_TAU_S, AIR_C = 190.0, 75.0, 14.0
NEXT_DOOR = 0.07
"""[M] share of a port's warmth that comes from each neighbour through manifold and head."""
LEAN_RUNS_HOT = 0.35
"""[M] a lean charge burns late, and its gas leaves hotter; too lean, and it does not burn at all."""


def exhaust_temperature(tested: VehicleUnderTest, rng: Generator) -> list[Observation]:
    """A thermometer aimed at each port about a minute after a cold start."""
    trajectory = tested.idle(rng, seconds=4.0)
    heats = {c: float(np.mean(trajectory.cylinders[c].heat)) for c in tested.order}
    usual = float(np.median(list(heats.values()))) or 1.0
    own = {c: _port_warmth(heats[c] / usual, tested.parts[c]) for c in tested.order}
    seconds = float(rng.integers(45, 100))
    ports = {}
    for c in tested.order:
        beside = [own[n] for n in (c - 1, c + 1) if n in own]
        warmth = own[c] + NEXT_DOOR * sum(n - own[c] for n in beside)
        luck = 1 + 0.08 * tested.hands.scatter * float(rng.normal())
        rise = PORT_RISE_K * max(warmth, 0.0) * (1 - np.exp(-seconds / PORT_TAU_S)) * luck
        ports[str(c)] = round(AIR_C + float(rise) + 3.0 * abs(float(rng.normal())), 0)
    return [seen_by("exhaust_temperature", unit="C", ports=ports, air=AIR_C, seconds=seconds)]


def _port_warmth(burnt: float, health: Health) -> float:
    lean = max(1 - health.flow, health.extra_air)
    return burnt * (1 + LEAN_RUNS_HOT * min(lean, 0.6))

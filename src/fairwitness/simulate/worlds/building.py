"""A vehicle built into a world: what each answer does to its parts."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from numpy.random import Generator

from fairwitness.core.model.engine import Engine, InjectorDrive
from fairwitness.simulate.vehicle import Vehicle
from fairwitness.simulate.worlds.choices import World
from fairwitness.simulate.worlds.parts import GasColumn

Changed = Callable[[Vehicle, Generator], Vehicle]


def in_world(vehicle: Vehicle, world: World, *, rng: Generator) -> Vehicle:
    """The vehicle as it would be in a world; numbers that a world leaves open are drawn.

    Parameters
    ----------
    vehicle : Vehicle
    world : World
    rng : numpy Generator

    Returns
    -------
    Vehicle
    """
    for (question, answer), own in zip(world.answers, rng.spawn(len(world.answers)), strict=True):
        change = BUILDS.get((question, answer))
        if change is not None:
            vehicle = change(vehicle, own)
    return replace(vehicle, world=world)


def _cooling(v: Vehicle, rng: Generator) -> Vehicle:
    turning = replace(
        v.turning,
        heat_lost=float(rng.uniform(0.04, 0.12)),
        blowdown_deg=float(rng.uniform(26, 45)),
        burn_deg=float(rng.uniform(60, 80)),
        burn_start_deg=float(rng.uniform(-8, 2)),
    )
    return replace(v, turning=turning)


def _series(v: Vehicle, rng: Generator) -> Vehicle:
    usual = v.turning.friction_nm / v.turning.starter_nm_per_a
    return replace(v, turning=replace(v.turning, flux_half_a=usual * float(rng.uniform(0.8, 1.6))))


def _overrunning(v: Vehicle, rng: Generator) -> Vehicle:
    usual = v.turning.friction_nm / v.turning.starter_nm_per_a
    return replace(v, turning=replace(v.turning, idling_a=usual * float(rng.uniform(0.5, 0.9))))


def _polarising(v: Vehicle, rng: Generator) -> Vehicle:
    ohm = v.turning.battery_ohm * float(rng.uniform(0.4, 1.0))
    return replace(v, turning=replace(v.turning, polarising_ohm=ohm, polarising_s=float(rng.uniform(0.4, 1.5))))


def _uneven(v: Vehicle, rng: Generator) -> Vehicle:
    turning = replace(
        v.turning,
        friction_ripple=float(rng.uniform(0.03, 0.10)),
        friction_ripple_turns=int(rng.integers(1, 3)),
        friction_ripple_deg=float(rng.uniform(0, 360)),
    )
    return replace(v, turning=turning)


def _straggling(v: Vehicle, rng: Generator) -> Vehicle:
    running = replace(
        v.running,
        stragglers=float(rng.uniform(0.01, 0.05)),
        rebound=float(rng.uniform(0.0, 0.5)),
        uneven=tuple(1 + 0.035 * float(x) for x in rng.normal(size=v.engine.cylinders).clip(-2, 2)),
    )
    return replace(v, running=running)


def _eccentric(v: Vehicle, rng: Generator) -> Vehicle:
    sensors = replace(v.sensors, runout_deg=float(rng.uniform(0.05, 0.25)), runout_at_deg=float(rng.uniform(0, 360)))
    return replace(v, sensors=sensors)


def _twisting(v: Vehicle, rng: Generator) -> Vehicle:
    sensors = replace(v.sensors, twist_deg=float(rng.uniform(0.02, 0.08)), twist_hz=float(rng.uniform(140, 320)))
    return replace(v, sensors=sensors)


def _paths(v: Vehicle, longest_s: float, rng: Generator) -> tuple[float, ...]:
    return tuple(float(x) for x in rng.uniform(0, longest_s, v.engine.cylinders))


def _echoing(v: Vehicle, rng: Generator) -> Vehicle:
    exhaust = GasColumn(
        echo=-float(rng.uniform(0.2, 0.5)), echo_s=float(rng.uniform(0.008, 0.022)), paths_s=_paths(v, 0.0015, rng)
    )
    return replace(v, acoustics=replace(v.acoustics, exhaust=exhaust))


def _ringing_exhaust(v: Vehicle, rng: Generator) -> Vehicle:
    exhaust = GasColumn(ring_hz=float(rng.uniform(25, 70)), ring_gain=float(rng.uniform(0.5, 1.5)), ring_q=2.5)
    return replace(v, acoustics=replace(v.acoustics, exhaust=exhaust))


def _plenum(v: Vehicle, rng: Generator) -> Vehicle:
    intake = GasColumn(
        ring_hz=float(rng.uniform(30, 90)),
        ring_gain=float(rng.uniform(0.4, 1.2)),
        ring_q=2.5,
        paths_s=_paths(v, 0.0008, rng),
    )
    acoustics = replace(v.acoustics, intake=intake, leak_takes_pull=float(rng.uniform(0.3, 0.8)))
    return replace(v, acoustics=acoustics)


def _long_hose(v: Vehicle, rng: Generator) -> Vehicle:
    leads = replace(
        v.leads, pulse_lag_s=float(rng.uniform(0.002, 0.006)), pulse_delay_s=float(rng.uniform(0.001, 0.004))
    )
    return replace(v, leads=leads)


def _piezo(v: Vehicle, rng: Generator) -> Vehicle:
    return replace(v, leads=replace(v.leads, pulse_high_pass_hz=float(rng.uniform(1.0, 6.0))))


def _drooping(v: Vehicle, rng: Generator) -> Vehicle:
    return replace(v, leads=replace(v.leads, small_clamp_high_pass_hz=float(rng.uniform(0.5, 5.0))))


def _slow_clamp(v: Vehicle, rng: Generator) -> Vehicle:
    leads = replace(
        v.leads,
        small_clamp_low_pass_hz=float(rng.uniform(1_500, 6_000)),
        large_clamp_low_pass_hz=float(rng.uniform(80, 400)),
    )
    return replace(v, leads=leads)


def _ringing_transducer(v: Vehicle, rng: Generator) -> Vehicle:
    leads = replace(
        v.leads,
        transducer_hz=float(rng.uniform(150, 500)),
        transducer_damping=float(rng.uniform(0.2, 0.6)),
        transducer_drift_bar_s=float(rng.uniform(-0.02, 0.02)),
    )
    return replace(v, leads=leads)


def _restless(v: Vehicle, rng: Generator) -> Vehicle:
    gain = float(rng.uniform(0.5, 2.0)) * (-1.0 if rng.random() < 0.5 else 1.0)
    leads = replace(v.leads, pick_up_high_pass_hz=float(rng.uniform(10, 60)), pick_up_gain=gain)
    ignition = replace(
        v.ignition,
        scatter=float(rng.uniform(0.09, 0.16)),
        strikes=int(rng.integers(1, 4)),
        ring_decay_s=float(rng.uniform(0.00015, 0.0006)),
    )
    return replace(v, leads=leads, ignition=ignition)


def _saturating(v: Vehicle, rng: Generator) -> Vehicle:
    build = v.ignition
    return replace(v, ignition=replace(build, saturates_a=float(rng.uniform(4.5, 6.5)), turn_on_a=0.0))


def _eddies(v: Vehicle, rng: Generator) -> Vehicle:
    build = replace(
        v.injection,
        eddy_share=float(rng.uniform(0.2, 0.4)),
        dip=float(rng.uniform(0.02, 0.045)),
        decay_s=float(rng.uniform(0.0002, 0.0005)),
        kick_v=float(rng.uniform(38, 90)),
    )
    return replace(v, injection=build)


def _plain_unit(v: Vehicle, rng: Generator) -> Vehicle:
    paired = v.injection.drive is InjectorDrive.SATURATED and v.engine.cylinders % 2 == 0  # sprayed on shut valves
    twice = bool(rng.random() < 0.5) and paired
    running = replace(v.running, idle_control=bool(rng.random() < 0.5))
    return replace(v, protective=False, running=running, injection=replace(v.injection, twice=twice))


def _short(v: Vehicle, rng: Generator) -> Vehicle:
    return replace(v, habit=replace(v.habit, cycles=float(rng.uniform(3, 6))))


def _coarse(v: Vehicle, rng: Generator) -> Vehicle:
    return replace(v, habit=replace(v.habit, bits=8, rate_share=float(rng.uniform(0.25, 0.5))))


def _singly(v: Vehicle, rng: Generator) -> Vehicle:
    return replace(v, habit=replace(v.habit, singly=True))


def _anywhere(v: Vehicle, rng: Generator) -> Vehicle:
    return replace(v, habit=replace(v.habit, sync_cylinder=int(rng.choice(v.engine.firing_order))))


def _entered_wrongly(v: Vehicle, rng: Generator) -> Vehicle:
    return replace(v, entered=_wrong(v.engine, rng))


def _wrong(engine: Engine, rng: Generator) -> Engine:
    ohms = engine.injector_ohms
    if ohms is not None:
        ohms = round(ohms * float(rng.choice((0.8, 1.25))), 1)
    wheel = engine.crank_wheel
    if wheel is not None and wheel.tdc1_deg_after_gap is not None:
        off = float(rng.choice((-1, 1))) * float(rng.uniform(4, 12))
        wheel = replace(wheel, tdc1_deg_after_gap=round((wheel.tdc1_deg_after_gap + off) % 360, 1))
    return replace(engine, injector_ohms=ohms, crank_wheel=wheel)


def _rough(v: Vehicle, rng: Generator) -> Vehicle:
    hands = replace(
        v.hands,
        scatter=float(rng.uniform(1.5, 3.5)),
        sound_leak=float(rng.uniform(6, 18)),
        wet_plugs=True,
        slip=float(rng.uniform(0.02, 0.08)),
        smear=float(rng.uniform(0.0, 0.4)),
    )
    return replace(v, hands=hands)


BUILDS: Mapping[tuple[str, str], Changed] = {
    ("gas", "cooling"): _cooling,
    ("starter", "series"): _series,
    ("starter", "overrunning"): _overrunning,
    ("battery", "polarising"): _polarising,
    ("friction", "uneven"): _uneven,
    ("combustion", "straggling"): _straggling,
    ("wheel", "eccentric"): _eccentric,
    ("wheel", "twisting"): _twisting,
    ("exhaust", "echoing"): _echoing,
    ("exhaust", "ringing"): _ringing_exhaust,
    ("intake", "plenum"): _plenum,
    ("hose", "long"): _long_hose,
    ("hose", "piezo"): _piezo,
    ("clamp", "drooping"): _drooping,
    ("clamp", "slow"): _slow_clamp,
    ("transducer", "ringing"): _ringing_transducer,
    ("spark", "restless"): _restless,
    ("coil", "saturating"): _saturating,
    ("injector", "eddies"): _eddies,
    ("unit", "plain"): _plain_unit,
    ("habit", "short"): _short,
    ("habit", "coarse"): _coarse,
    ("habit", "singly"): _singly,
    ("habit", "anywhere"): _anywhere,
    ("entries", "off"): _entered_wrongly,
    ("hands", "rough"): _rough,
}
"""Every unusual answer but the severity of faults, which is drawn with them."""

"""The signature table holds on the simulated signals, read by small measurements that share nothing with the core's."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

import numpy as np
import pytest

from fairwitness.core.reason.knowledge.faults import CATALOGUE
from fairwitness.core.reason.knowledge.signatures import COLUMNS, SIGNATURES
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.gauges import observe
from fairwitness.simulate.health import EFFECTS, WHOLE_ENGINE, Fault
from fairwitness.simulate.running import run_engine
from fairwitness.simulate.trajectory import Trajectory, crank_over
from fairwitness.simulate.vehicle import Vehicle
from tests.simulate import signals as read

ENGINE = ENGINES["drover-2.0"]
ILL, PEERS = 2, (1, 4)
CRANKCASE_PA, INTAKE_PA = 150.0, 300.0
"""Pulses that stand out in a workshop."""
REACHES: dict[str, Callable[[float], bool]] = {
    "=": lambda r: 0.75 < r < 1.3,
    "-": lambda r: r < 0.95,
    "--": lambda r: r < 0.6,
    "<": lambda r: 0.8 < r < 1.0,
    "0": lambda r: r < 0.45,
    "+": lambda r: r > 1.02,
    "++": lambda r: r > 1.8,
    "~": lambda r: True,
    "+-": lambda r: True,
}


def vehicle(fault: str, *, severity: float = 1.0, protective: bool = False) -> Vehicle:
    at: tuple[int, ...] = (ILL,)
    if fault == "head_gasket_leak":
        at = (ILL, 3)
    elif fault in WHOLE_ENGINE:
        at = ()
    faults = (Fault(fault, at, severity),) if fault != "no_fault" else ()
    made = build(ENGINE, faults, rng=np.random.default_rng(4))
    return Vehicle(**{name: getattr(made, name) for name in made.__slots__} | {"protective": protective})


@lru_cache(maxsize=4)
def courses(fault: str, severity: float = 1.0, protective: bool = False) -> tuple[Trajectory, Trajectory, Trajectory]:
    """Cranking, eight seconds of idle, and one second of it for fast signals."""
    ill = vehicle(fault, severity=severity, protective=protective)
    inverted = crank_over(ill, seconds=6.0, rng=np.random.default_rng(1))
    run = run_engine(ill, seconds=8.0, rng=np.random.default_rng(2))
    return inverted, run, run_engine(ill, seconds=4.0, rng=np.random.default_rng(3))


def ratio(value: Callable[[int], float], fault: str, sound: Callable[[int], float], even: bool) -> float:
    """Ill over its peers; a fault of the whole engine over the sound vehicle."""
    if fault in WHOLE_ENGINE and not even:
        return value(ILL) / sound(ILL)
    return value(ILL) / float(np.mean([value(peer) for peer in PEERS]))


def port_rises(vehicle: Vehicle) -> dict[int, float]:
    """How far each exhaust port rose above the air after a cold start; mean of a few starts, K."""
    starts = [
        observe(vehicle, "exhaust_temperature", hot=False, rng=np.random.default_rng(seed))[0].data for seed in range(6)
    ]
    rises = [{int(c): port - start["air"] for c, port in start["ports"].items()} for start in starts]
    middle = [max(rise.values()) for rise in rises]
    return {c: float(np.mean([rise[c] / top for rise, top in zip(rises, middle, strict=True)])) for c in rises[0]}


def measured(fault: str, column: str) -> float:
    """The fault's share of what a sound cylinder shows."""
    even = SIGNATURES[fault][column] == ("=",)
    inverted, run, fast = courses(fault)
    sound_turned, sound_run, sound_fast = courses("no_fault")

    def share(trajectory: Trajectory, sound: Trajectory, value: Callable[[Trajectory, int], float]) -> float:
        return ratio(lambda c: value(trajectory, c), fault, lambda c: value(sound, c), even)

    if column == "RC":
        peers = float(np.mean([read.compression(inverted, peer) for peer in PEERS]))
        return read.compression(inverted, ILL) / peers  # relative: what is common to all does not show
    if column == "CON":
        return share(run, sound_run, read.speed_gain)
    if column in ("FV", "SV", "SD"):
        return share(
            fast, sound_fast, lambda trajectory, c: read.secondary(trajectory, c)[("FV", "SV", "SD").index(column)]
        )
    if column == "SL":
        sound = sound_fast if fault in WHOLE_ENGINE else fast
        return 1 + read.spark_end(fast, ILL)[0] - float(np.mean([read.spark_end(sound, peer)[0] for peer in PEERS]))
    if column == "RG":
        return share(fast, sound_fast, lambda trajectory, c: read.spark_end(trajectory, c)[1])
    if column == "CC":
        return share(fast, sound_fast, read.coil_early)
    if column == "CMD":
        return share(fast, sound_fast, lambda trajectory, c: float(np.ptp(read.command_levels(trajectory, c))))
    if column == "DL":
        drops = observe(inverted.vehicle, "delivery", hot=True, rng=np.random.default_rng(5))[0].data["drops_kpa"]
        return ratio(lambda c: drops[str(c)], fault, lambda c: drops[str(c)], even)
    if column == "XT":
        ill, sound = (port_rises(trajectory.vehicle) for trajectory in (inverted, sound_turned))
        return ratio(lambda c: ill[c], fault, lambda c: sound[c], even)
    if column == "PD":
        return share(fast, sound_fast, read.needle)
    if column in ("IC", "IV"):
        return share(fast, sound_fast, lambda trajectory, c: read.injector(trajectory, c)[column == "IV"])
    if column == "EX":
        return share(run, sound_run, lambda trajectory, c: read.pulse(trajectory, c, "exhaust", 130, 200))
    if column == "CK":
        ill, sound = (read.pulse(trajectory, ILL, "crankcase", -60, 20) for trajectory in (inverted, sound_turned))
        return 1 + (ill - sound) / CRANKCASE_PA
    if column == "IN" and SIGNATURES[fault]["IN"] == ("0",):
        return read.pulse(inverted, ILL, "intake", -330, -170) / read.pulse(sound_turned, ILL, "intake", -330, -170)
    if column == "IN":
        return 1 + (read.intake_burst(inverted, ILL) - read.intake_burst(sound_turned, ILL)) / INTAKE_PA
    return share(inverted, sound_turned, read.peak_pressure)


@pytest.mark.parametrize("fault", [*sorted(EFFECTS), "no_fault"])
def test_the_signature_table_holds_on_the_signals(fault):
    wrong = {}
    for column in COLUMNS:
        symbols = SIGNATURES[fault][column]
        if not symbols:
            continue
        value = measured(fault, column)
        if not any(REACHES[symbol](value) for symbol in symbols):
            wrong[column] = (symbols, round(value, 2))
    assert not wrong


def test_every_fault_of_the_catalogue_can_be_simulated():
    assert set(EFFECTS) == {f.id for f in CATALOGUE}


@pytest.mark.parametrize(
    ("fault", "test"),
    [
        ("ring_or_piston_leak", read.compression),
        ("exhaust_valve_leak", read.compression),
        ("intake_valve_leak", read.peak_pressure),
    ],
)
def test_a_worse_leak_seals_less(fault, test):
    mild, bad, complete = (test(courses(fault, severity)[0], ILL) for severity in (0.2, 0.6, 1.0))
    assert mild > bad > complete


def test_an_open_injector_leaves_the_monitors_bias_and_no_kick():
    fast = courses("injector_open_circuit")[2]
    volts = read.injector_trace(fast, ILL)
    assert np.median(volts) == pytest.approx(fast.vehicle.injection.bias_v)
    assert volts.max() < 5.0


def test_a_stuck_injector_draws_its_current_without_the_dip():
    fast = courses("injector_stuck_closed")[2]
    assert read.pintle_dip(fast, 1) > 0.005
    assert read.pintle_dip(fast, ILL) == pytest.approx(0.0, abs=1e-6)


def test_an_open_command_wire_shows_the_pulse_at_the_unit_only():
    fast = courses("coil_control_open")[2]
    assert read.command_levels(fast, ILL) == (0.0, 0.0)
    assert read.command_levels(fast, ILL, at_unit=True) == (0.0, 5.0)


def test_a_failed_driver_stands_high_with_the_coil_unplugged_too():
    low, _ = read.command_levels(courses("coil_driver_failed", 0.3)[2], ILL)
    assert 2.0 < low < 4.0


def test_shorted_turns_rise_steeply_and_do_not_ring():
    fast = courses("coil_secondary_shorted")[2]
    assert read.coil_early(fast, ILL) > 2 * read.coil_early(fast, 1)
    assert read.secondary_ringing(fast, ILL) < 0.2 * read.secondary_ringing(fast, 1)


def test_a_dead_cylinder_pulls_at_the_tailpipe():
    _, run, _ = courses("injector_open_circuit")
    sound = read.pulse(run, 1, "exhaust", 130, 200)
    assert read.pulse(run, ILL, "exhaust", 130, 200) < -0.3 * sound < 0


def test_the_control_unit_withholds_fuel_where_it_sees_no_primary_current():
    _, _, shut = courses("coil_primary_open", 1.0, True)
    _, _, fed = courses("coil_primary_open", 1.0, False)
    assert read.injector(shut, ILL)[0] == 0.0
    assert read.injector(fed, ILL)[0] == pytest.approx(read.injector(fed, 1)[0], rel=0.2)
    assert read.injector(shut, 1)[0] > 0.005


def test_a_bank_with_late_valves_moves_its_cam_mark():
    late = build(ENGINE, (Fault("valve_timing_shifted", (), 0.5),), rng=np.random.default_rng(4))
    sound = build(ENGINE, (), rng=np.random.default_rng(4))
    angle = [read.cam_edge(run_engine(v, seconds=1.0, rng=np.random.default_rng(1))) for v in (late, sound)]
    assert (angle[0] - angle[1]) % 720 == pytest.approx(33.0, abs=1.0)

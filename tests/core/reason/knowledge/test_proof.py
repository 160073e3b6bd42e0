"""What must have been seen before a part is called."""

import pytest

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.procedures.registry import OBSERVATION_TESTS
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.proof import unmet

FOUR = even_engine((1, 3, 4, 2))


def readings(*observations):
    return [
        OBSERVATION_TESTS[test].measure(Observation(test=test, data={"cylinder": 2, **data}), i, FOUR)
        for i, (test, data) in enumerate(observations)
    ]


def ids(fault, *observations):
    return {p.id for p in unmet(FAULTS[fault].proof, (2,), readings(*observations))}


def test_nothing_seen_means_all_is_missing():
    assert ids("coil_driver_failed") == {"feed_loaded", "earth_loaded", "own_pin", "load_off", "wire", "good_peer"}
    assert ids("coil_output_dead") == {"why_died", "coil_proven"}
    assert ids("plug_gap_wide") == {"plug_seen"}


@pytest.mark.parametrize(
    ("test", "data", "met"),
    [
        ("voltage", {"item": "coil_feed", "volts": 12.3}, "feed_loaded"),
        ("load_lamp", {"circuit": "feed", "lamp": "bright"}, "feed_loaded"),
        ("voltage", {"item": "coil_earth", "volts": 0.05}, "earth_loaded"),
        ("resistance", {"item": "control_wire", "ohms": 0.4}, "wire"),
        ("voltage", {"item": "coil_control_low", "volts": 2.5, "measured_at": "control_unit"}, "own_pin"),
        ("voltage", {"item": "coil_control_low", "volts": 2.5, "unplugged": True}, "load_off"),
    ],
)
def test_each_reading_meets_its_own_condition_of_the_control_unit(test, data, met):
    assert met not in ids("coil_driver_failed", (test, data))


def test_a_bad_feed_excludes_nothing():
    assert "feed_loaded" in ids("coil_driver_failed", ("voltage", {"item": "coil_feed", "volts": 7.0}))


def test_a_coil_wants_its_proof_and_the_reason_why_it_died():
    moved = ("swap", {"part": "coil", "from": 2, "to": 1, "moved": True})
    assert ids("coil_output_dead", moved) == {"why_died"}
    assert not ids("coil_output_dead", moved, ("visual", {"item": "plug", "seen": "worn"}))


def test_an_engine_wants_to_know_where_the_pressure_goes():
    assert ids("ring_or_piston_leak") == {"where"}
    assert ids("ring_or_piston_leak", ("leak_down", {"percent": 60})) == {"where"}
    assert not ids("ring_or_piston_leak", ("leak_down", {"percent": 60, "heard_at": ["oil_filler"]}))


def test_an_injector_is_cleared_of_its_wiring_by_resistance_and_lamp_or_a_swap():
    ohms = ("resistance", {"item": "injector", "open": True})
    assert ids("injector_open_circuit", ohms) == {"wiring_cleared"}
    assert not ids("injector_open_circuit", ohms, ("load_lamp", {"circuit": "injector", "lamp": "flashing"}))
    assert not ids("injector_open_circuit", ("swap", {"part": "injector", "from": 2, "to": 1, "moved": True}))


def test_a_leak_is_not_proven_by_valves_that_move_when_they_should():
    assert all(f.proof for f in FAULTS.values() if f.cause is Cause.MECHANICAL)
    assert FAULTS["ring_or_piston_leak"].proof[0].by == ("leak_down",)
    assert "cam_timing" in FAULTS["valve_timing_shifted"].proof[0].by

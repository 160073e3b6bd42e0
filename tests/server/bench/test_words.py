"""What the bench says of itself: the few words that are read from two metres, and what is wrong with the vehicle."""

from types import SimpleNamespace

import numpy as np
import pytest

from fairwitness.instruments.bay import EngineMotion
from fairwitness.server.bench import words
from fairwitness.server.bench.session import BenchSession
from fairwitness.server.bench.stage import InBay, Stage
from fairwitness.server.bench.words import big_words, describe, fault_words
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault

CRANKING, RUNNING = SimpleNamespace(cranking=True), SimpleNamespace(cranking=False)


def bench(**about):
    usual = {
        "bay": SimpleNamespace(fuel_disabled=False), "stage": Stage.IDLE, "card": None,
        "problem": "", "scope": object(), "watching": None,
    }  # fmt: skip
    return SimpleNamespace(**{**usual, **about})


@pytest.mark.parametrize(
    ("about", "motion", "told"),
    [
        ({"bay": None}, EngineMotion.OFF, "No vehicle in the bay"),
        ({}, EngineMotion.OFF, "Ready"),
        ({"scope": None}, EngineMotion.OFF, "Connect the scope"),
        ({"bay": SimpleNamespace(fuel_disabled=True)}, EngineMotion.OFF, "Fuel disabled"),
        ({"stage": Stage.SET_UP}, EngineMotion.OFF, "Set up"),
        ({"stage": Stage.RECORDING, "card": CRANKING}, EngineMotion.CRANKING, "Cranking"),
        ({"stage": Stage.RECORDING, "card": RUNNING}, EngineMotion.RUNNING, "Engine running, recording"),
        ({"stage": Stage.CAPTURED, "card": CRANKING}, EngineMotion.OFF, "Captured"),
        ({"stage": Stage.WATCHING, "card": RUNNING}, EngineMotion.RUNNING, "Watching"),
        ({"stage": Stage.CAPTURED, "watching": SimpleNamespace(losses=(1,))}, EngineMotion.RUNNING, "Caught it"),
        ({"stage": Stage.CAPTURED, "watching": SimpleNamespace(losses=())}, EngineMotion.RUNNING, "Not seen"),
        ({"stage": Stage.KEPT, "card": CRANKING}, EngineMotion.OFF, "Kept in the case"),
        ({"stage": Stage.BROKEN_OFF, "scope": None}, EngineMotion.OFF, "Scope lost"),
        ({"scope": None, "problem": "The scope is silent."}, EngineMotion.RUNNING, "Scope lost"),
        ({}, EngineMotion.RUNNING, "Engine running"),
    ],
)
def test_there_is_one_thing_to_read_from_afar(about, motion, told):
    assert big_words(bench(**about), motion) == told


def in_bay(*faults):
    vehicle = build(ENGINES["drover-2.0"], faults, rng=np.random.default_rng(1))
    return SimpleNamespace(in_bay=InBay(vehicle=vehicle, case_id=1, hidden=False))


def test_what_is_wrong_is_named_with_its_cylinders():
    assert fault_words(in_bay()) == "nothing wrong"
    assert fault_words(in_bay(Fault("coil_primary_open", (2,)))) == "coil primary open on cylinder 2"
    both = fault_words(in_bay(Fault("head_gasket_leak", (2, 3)), Fault("plug_gap_wide", (1,))))
    assert both == "head gasket leak on cylinder 2, 3; plug gap wide on cylinder 1"
    assert fault_words(SimpleNamespace(in_bay=None)) == ""


def test_an_empty_bench_is_described_without_a_vehicle():
    told = describe(BenchSession(pace=1.0))
    assert told["vehicle"] is None
    assert told["battery_v"] is None
    assert (told["scope"], told["stage"], told["engine"]) == ("off", "idle", "off")
    assert told["balance"] == {"running": False, "cylinder": None, "phase": "done", "drops": ()}


def test_a_hidden_fault_stays_hidden_until_it_is_given_up():
    session = BenchSession(pace=25.0)
    vehicle = build(ENGINES["drover-2.0"], (Fault("coil_primary_open", (2,)),), rng=np.random.default_rng(1))
    session.put_in_bay(InBay(vehicle=vehicle, case_id=7, hidden=True), seed=1)
    try:
        assert describe(session)["vehicle"]["fault"] == ""
        session.revealed = fault_words(session)
        assert describe(session, title="Minibus 3")["vehicle"]["fault"] == "coil primary open on cylinder 2"
    finally:
        session.clear()


def test_a_diesel_is_offered_no_coils_at_the_bench():
    diesel = next(e for e in ENGINES.values() if e.fuel.value == "diesel")
    offered = {t["test"] for t in words.tests_for(diesel)}
    assert "relative_compression" in offered
    assert not offered & {"coil_current", "coil_control", "secondary_voltage"}

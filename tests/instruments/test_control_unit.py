"""What the control unit's stand-in answers, byte by byte, to services of SAE J1979."""

import pytest

from fairwitness.instruments import j1979
from fairwitness.instruments.bay import EngineMotion
from fairwitness.simulate.health import Fault

REFUSED = 0x7F


def live(unit, number):
    return unit.answer(bytes((j1979.LIVE, number)))


def value(unit, number):
    answer = live(unit, number)
    assert answer[:2] == bytes((j1979.LIVE + j1979.ANSWER, number))
    return j1979.decode_value(j1979.PIDS[number], answer[2:])


@pytest.mark.parametrize("number", [0x00, 0x20, 0x40])
def test_it_says_which_values_it_has(unit, number):
    mask = int.from_bytes(live(unit, number)[2:6], "big")
    named = {number + 32 - bit for bit in range(32) if mask >> bit & 1}
    assert {n for n in j1979.PIDS if number < n <= number + 32} <= named


def test_every_value_it_names_it_gives(unit):
    for number in j1979.PIDS:
        assert live(unit, number)[0] == j1979.LIVE + j1979.ANSWER


def test_an_engine_at_rest_has_no_speed_and_a_rested_battery(unit):
    assert value(unit, 0x0C) == 0.0
    assert value(unit, 0x42) == pytest.approx(12.6, abs=0.5)


def test_a_running_one_has_a_speed_and_a_manifold_below_the_atmosphere(unit, bay, clock):
    bay.run(load="idle")
    clock.pass_s(5.0)
    assert 500 < value(unit, 0x0C) < 1200
    assert 20 < value(unit, 0x0B) < 90


@pytest.mark.parametrize(
    "request_",
    [bytes((0x09, 0x02)), bytes((j1979.LIVE, 0x5C)), bytes((j1979.MONITORS, 0x01)), bytes((j1979.LIVE,))],
    ids=["no such service", "no such value", "no such monitor", "too short"],
)
def test_what_it_does_not_know_it_refuses_by_the_book(unit, request_):
    answer = unit.answer(request_)
    assert answer[0] == REFUSED
    assert answer[1] == request_[0]


def test_a_circuit_it_watches_stores_a_code_and_clearing_takes_it_away(unit, bay):
    assert "P0203" in unit.codes()
    stored = j1979.decode_codes(unit.answer(bytes((j1979.STORED,))))
    assert stored == unit.codes()
    assert unit.answer(bytes((j1979.CLEAR,))) == bytes((j1979.CLEAR + j1979.ANSWER,))
    assert unit.codes() == ()
    assert bay.codes_cleared


def test_it_comes_back_when_the_engine_runs_again(unit, bay, clock):
    unit.answer(bytes((j1979.CLEAR,)))
    bay.run(load="idle")
    clock.pass_s(5.0)
    assert "P0203" in unit.codes()


def test_nothing_is_pending_that_is_stored(unit):
    assert j1979.decode_codes(unit.answer(bytes((j1979.PENDING,)))) == ()


@pytest.mark.parametrize(
    ("fault", "code"),
    [
        ("injector_shorted", "P0202"),
        ("coil_primary_open", "P0352"),
        ("coil_feed_lost", "P0352"),
        ("plug_gap_wide", None),
    ],
)
def test_codes_name_the_circuit_where_there_is_one(unit, bay, fault, code):
    object.__setattr__(bay.vehicle, "faults", (Fault(fault, (2,)),))
    assert unit.codes() == ((code,) if code else ())


def cut(unit, cylinder, order):
    item = (j1979.CUT_FIRST_ITEM + cylinder).to_bytes(2, "big")
    return unit.answer(bytes((j1979.CUT, *item, order)))


def test_a_cylinder_is_cut_only_while_the_engine_runs(unit, bay, clock):
    assert cut(unit, 2, j1979.CUT_NOW)[0] == REFUSED
    bay.run(load="idle")
    clock.pass_s(5.0)
    assert bay.motion is EngineMotion.RUNNING
    assert cut(unit, 2, j1979.CUT_NOW)[0] == j1979.CUT + j1979.ANSWER
    assert bay.cut == (2,)
    cut(unit, 2, 0)
    assert bay.cut == ()


def test_no_cylinder_beyond_the_engines_own_is_cut(unit, bay, clock):
    bay.run(load="idle")
    clock.pass_s(5.0)
    assert cut(unit, 9, j1979.CUT_NOW)[0] == REFUSED
    assert bay.cut == ()


def test_misfire_counts_are_told_per_cylinder_and_for_no_other(unit, bay, clock):
    bay.run(load="idle")
    clock.pass_s(30.0)

    def monitor(cylinder):
        return unit.answer(bytes((j1979.MONITORS, j1979.MISFIRE_FIRST_MONITOR + cylinder - 1)))

    assert monitor(3)[0] == j1979.MONITORS + j1979.ANSWER
    assert monitor(5)[0] == REFUSED

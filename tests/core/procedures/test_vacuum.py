"""Vacuum: the limits of the trade, and the trap of a check valve."""

from dataclasses import replace

import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Fuel, Ignition, Injection, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.vacuum import measure

FOUR = even_engine((1, 3, 4, 2))


def read(engine=FOUR, **data):
    return measure(Observation(test="vacuum", data=data), 0, engine)


@pytest.mark.parametrize(
    ("data", "outcome"),
    [
        ({"kpa_below_atmosphere": 65}, "usual"),
        ({"inhg": 20}, "usual"),
        ({"kpa_below_atmosphere": 30}, "low"),
        ({"inhg": 5}, "low"),
    ],
)
def test_vacuum_is_judged_at_idle(data, outcome):
    reported = read(**data, engine_state="running")
    assert reported.categorical[0].outcome == outcome
    assert (reported.findings[0].state is State.NORMAL) is (outcome == "usual")


def test_a_port_behind_a_check_valve_tells_nothing():
    reported = read(kpa_below_atmosphere=65, check_valve=True)
    assert not reported.usable
    assert "check valve" in render(reported.reasons[0].statement)


def test_while_cranking_it_is_kept_and_not_weighed():
    reported = read(kpa_below_atmosphere=6, engine_state="cranking")
    assert reported.usable
    assert not reported.categorical


def test_a_diesel_and_an_empty_reading_are_refused():
    diesel = even_engine(
        (1, 3, 4, 2), fuel=Fuel.DIESEL, ignition=Ignition.COMPRESSION_IGNITION, injection=Injection.COMMON_RAIL
    )
    assert not read(diesel, kpa_below_atmosphere=10).usable
    assert not read().usable


@pytest.mark.parametrize(
    ("kpa", "metres", "outcome"),
    [(45.0, {}, "low"), (45.0, {"altitude_m": 1500}, "usual"), (20.0, {"altitude_m": 1500}, "low")],
)
def test_up_high_there_is_less_air_to_hold_back(kpa, metres, outcome):
    """A kilometre up the air weighs some 11 kPa less (ICAO standard atmosphere, Doc 7488)."""
    [seen] = read(kpa_below_atmosphere=kpa, **metres).categorical
    assert seen.outcome == outcome


def test_an_engine_whose_valves_meter_the_air_has_no_vacuum_to_judge():
    assert not read(replace(FOUR, extra={"unthrottled": True}), kpa_below_atmosphere=5.0).usable

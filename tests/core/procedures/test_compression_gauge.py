"""Compression by a gauge: units, peers, oil, and an engine low everywhere."""

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.compression_gauge import measure

FOUR = even_engine((1, 3, 4, 2))
SOUND = {"1": 12.4, "2": 12.1, "3": 12.6, "4": 12.3}


def read(**data):
    return measure(Observation(test="compression_gauge", data=data), 0, FOUR)


def states(reported):
    return {f.cylinder: f.state for f in reported.findings}


@pytest.mark.parametrize(("unit", "factor"), [("bar", 1.0), ("kPa", 100.0), ("psi", 14.5038)])
def test_units_are_read_alike(unit, factor):
    reported = read(unit=unit, dry={c: v * factor for c, v in (SOUND | {"3": 7.0}).items()})
    assert states(reported) == {1: State.NORMAL, 3: State.LOW, 4: State.NORMAL, 2: State.NORMAL}
    assert next(f for f in reported.findings if f.cylinder == 3).value == pytest.approx(7.0, abs=0.01)


@pytest.mark.parametrize(("wet", "outcome"), [(10.5, "rises"), (7.3, "stays")])
def test_oil_tells_rings_from_valves(wet, outcome):
    reported = read(unit="bar", dry=SOUND | {"3": 7.0}, wet={"3": wet})
    assert {s.outcome for s in reported.categorical if s.kind == "gauge_wet"} == {outcome}


def test_a_dead_hole_is_absent():
    assert states(read(unit="bar", dry=SOUND | {"2": 0.5}))[2] is State.ABSENT


def test_an_engine_low_everywhere_is_not_passed_as_even():
    reported = read(unit="bar", dry={c: 0.5 * v for c, v in SOUND.items()})
    assert set(states(reported).values()) == {State.LOW}
    assert [s.outcome for s in reported.categorical if s.kind == "pressure_best"] == ["low"]
    low = Observation(test="compression_gauge", data={"unit": "bar", "dry": {c: 0.5 * v for c, v in SOUND.items()}})
    verdict = diagnose(Case(name="x", engine=FOUR, observations=(low,))).verdict
    assert verdict.status.value != "no_fault_found"


@pytest.mark.parametrize(
    "data", [{}, {"unit": "cubits", "dry": SOUND}, {"unit": "bar", "dry": {"9": 12.0}},
             {"unit": "bar", "dry": dict.fromkeys(SOUND, 0.0)}],
)  # fmt: skip
def test_what_says_nothing_is_refused_with_a_reason(data):
    reported = read(**data)
    assert not reported.usable
    assert render(reported.reasons[0].statement)

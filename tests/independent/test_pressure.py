"""Pressure of a cylinder of other engines and through odd hoses: asked for unit or hose, nobody healthy accused."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.procedures.compression_gauge import measure as by_gauge
from fairwitness.core.procedures.pressure_units import PA, beyond_engines, unit_meant
from fairwitness.core.reason.verdict import Status
from tests.independent.entries import DOUBTFUL, PRESSURES
from tests.independent.pressure import PLAIN, Cranked, cranking_pressure
from tests.independent.recordings import ORDERS
from tests.independent.test_spark import odd_ones


def judged(how, by=PLAIN, other=None):
    engine = even_engine(ORDERS[how.cylinders])
    captures = [cranking_pressure(how, by, cylinder=1)]
    if other is not None:
        captures.append(cranking_pressure(other, by, cylinder=2, seed=1))
    return diagnose(Case(name="x", engine=engine, captures=tuple(captures)))


@pytest.mark.parametrize("entry", PRESSURES)
def test_nobody_healthy_is_accused_and_nothing_is_refused(entry):
    found = judged(*PRESSURES[entry])
    assert odd_ones(found) == set()
    assert found.verdict.status is Status.NO_FAULT_FOUND
    assert found.captures[0].usable


@pytest.mark.parametrize("entry", DOUBTFUL)
def test_what_no_engine_makes_is_asked_for_and_not_judged(entry):
    by, words = DOUBTFUL[entry]
    found = judged(Cranked(), by)
    assert not found.captures[0].usable
    assert words in " ".join(render(r) for r in found.captures[0].reasons)
    assert not found.verdict.accuses


def test_a_leak_leans_and_is_found_beside_a_sound_one():
    found = judged(Cranked(leak_per_s=25.0), other=Cranked())
    assert odd_ones(found) == {1}
    assert found.verdict.cylinders == (1,)


def test_a_leak_so_large_that_little_is_left_is_no_question_of_units():
    found = judged(Cranked(leak_per_s=60.0), other=Cranked())
    assert 1 in odd_ones(found)


@pytest.mark.parametrize(
    ("unit", "value", "usable"),
    [("bar", 1.8, False), ("bar", 180.0, False), ("bar", 12.0, True), ("kPa", 1200.0, True), ("kPa", 175.0, False),
     ("psi", 175.0, True), ("psi", 12.0, False)],
)  # fmt: skip
def test_a_gauge_that_reads_impossibly_alike_is_asked_for_its_unit(unit, value, usable):
    engine = even_engine((1, 3, 4, 2))
    data = {"test": "compression_gauge", "unit": unit, "dry": {str(c): value * (1 + 0.01 * c) for c in (1, 2, 3, 4)}}
    assert by_gauge(Observation(test="compression_gauge", data=data), 0, engine).usable is usable


def test_one_that_leaks_to_nothing_beside_sound_ones_is_judged():
    engine = even_engine((1, 3, 4, 2))
    data = {"test": "compression_gauge", "unit": "bar", "dry": {"1": 12.0, "2": 11.8, "3": 0.5, "4": 12.1}}
    found = by_gauge(Observation(test="compression_gauge", data=data), 0, engine)
    assert found.usable
    assert [f.cylinder for f in found.findings if f.state.value == "absent"] == [3]


@given(st.floats(8.0, 25.0), st.sampled_from(["bar", "psi", "kPa"]), st.sampled_from(["bar", "psi", "kPa"]))
def test_a_unit_that_was_mixed_up_is_named(bar, really, written):
    """The conversions are those of the SI brochure and of ISO 80000-4: 1 bar is 100 kPa, 1 psi 6 894.757 Pa."""
    number = bar * PA["bar"] / PA[really]
    meant = unit_meant(number * PA[written], written)
    if beyond_engines(number * PA[written], written) is not None:
        assert meant in ("psi", "kPa")
    if really == written:
        assert meant == ""


def test_a_cylinder_that_draws_nothing_pulls_a_vacuum_and_is_not_asked_for_its_unit():
    starved = replace(Cranked(), manifold=25e3, ratio=8.0)
    found = judged(starved, other=Cranked())
    assert found.captures[0].usable

"""Every calculator computes its example, refuses what cannot be, and says where it comes from."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.calculators import CALCULATORS, calculated
from fairwitness.core.calculators.pressures import held_pressure
from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render

EACH = pytest.mark.parametrize("calculator", CALCULATORS.values(), ids=list(CALCULATORS))


@EACH
def test_the_example_gives_every_result_it_promises(calculator):
    found = calculated(calculator, calculator.example)
    assert set(found) == {quantity.key for quantity in calculator.found}
    assert all(math.isfinite(value) for value in found.values())


@EACH
def test_words_formula_and_source_are_said(calculator):
    assert render(calculator.title)
    assert render(calculator.needed)
    assert calculator.formula
    assert len(calculator.source) > 5
    assert all(render(quantity.words) for quantity in (*calculator.given, *calculator.found))


@EACH
def test_what_is_missing_or_cannot_be_is_named(calculator):
    first = calculator.given[0]
    for wrong in (None, math.nan, first.high + 1):
        with pytest.raises(ObservationError) as refused:
            calculated(calculator, {**calculator.example, first.key: wrong})
        assert refused.value.where == first.key


@given(st.data())
def test_any_allowed_numbers_give_numbers_or_a_refusal(data):
    for calculator in CALCULATORS.values():
        numbers = {q.key: data.draw(st.floats(max(q.low, -1e6), min(q.high, 1e6))) for q in calculator.given}
        try:
            found = calculated(calculator, numbers)
        except ObservationError as refused:
            assert refused.what
        else:
            assert all(math.isfinite(value) for value in found.values())


@given(st.floats(0.3, 14.0), st.floats(0.3, 3.0), st.floats(0.05, 3.0))
def test_a_hole_gives_a_reading_and_the_reading_gives_the_hole_back(supply, orifice, hole):
    held = held_pressure(supply, orifice, hole)
    if 0.02 < held < supply - 1e-3:
        given_ = {"supply_bar": supply, "reading_bar": held, "orifice_mm": orifice}
        assert calculated(CALCULATORS["leak_down_hole"], given_)["hole_mm"] == pytest.approx(hole, rel=1e-3)

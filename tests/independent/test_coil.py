"""Coil currents of another physics: dwell adapted, limited or struck again is healthy; the sick one is found."""

from dataclasses import replace

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.verdict import Status
from tests.independent.entries import ALL_COILS, EACH, SHARED, SICK_COILS, SIX, coils
from tests.independent.injector import feed_current
from tests.independent.test_spark import odd_ones


def judged(how, **kind):
    return diagnose(Case(name="x", engine=even_engine(how.order), captures=(feed_current(how, **kind),)))


@pytest.mark.parametrize("entry", ALL_COILS)
def test_nobody_healthy_is_accused_and_nothing_is_refused(entry):
    how, kind = ALL_COILS[entry]
    found = judged(how, **kind)
    assert odd_ones(found) == set()
    assert found.verdict.status is Status.NO_FAULT_FOUND
    assert found.captures[0].usable


@pytest.mark.parametrize("how", [coils(), coils(order=SIX)], ids=["four", "six"])
@pytest.mark.parametrize("kind", [EACH, SHARED], ids=["a clamp on each", "one clamp"])
@pytest.mark.parametrize("fault", SICK_COILS)
def test_the_sick_one_is_the_only_one_that_stands_out(fault, kind, how):
    found = judged(replace(how, odd={3: SICK_COILS[fault]}), **kind)
    assert odd_ones(found) == {3}
    assert found.verdict.cylinders == (3,)


def test_a_driver_that_holds_the_current_does_not_hide_resistance():
    found = judged(coils(limited_a=7.0, odd={3: SICK_COILS["resistance"]}), **EACH)
    assert odd_ones(found) == {3}
    assert any("does not reach the current" in render(s.text) for s in found.statement.seen)

"""Injector currents of another physics: the healthy are not accused, whatever hangs on the feed; the sick is found."""

from dataclasses import replace

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.verdict import Status
from tests.independent.entries import INJECTORS, SICK_INJECTORS, SIX
from tests.independent.injector import Feed, Winding, feed_current
from tests.independent.test_spark import odd_ones


def judged(how, *, drive=None, **kind):
    engine = even_engine(how.order)
    engine = replace(engine, injector_drive=drive) if drive else engine
    return diagnose(Case(name="x", engine=engine, captures=(feed_current(how, **kind),)))


@pytest.mark.parametrize("entry", INJECTORS)
def test_nobody_healthy_is_accused_and_nothing_is_refused(entry):
    how, kind = INJECTORS[entry]
    found = judged(how, **kind)
    assert odd_ones(found) == set()
    assert found.verdict.status is Status.NO_FAULT_FOUND
    assert found.captures[0].usable


@pytest.mark.parametrize("how", [Feed(batch=4, twice=True), Feed(batch=2, twice=True), Feed(twice=True)])
@pytest.mark.parametrize("odd", [{}, {3: Winding(dead=True)}], ids=["healthy", "one dead"])
def test_injectors_fired_together_are_asked_for_one_by_one_and_nobody_is_accused(how, odd):
    found = judged(replace(how, odd=odd))
    assert not found.captures[0].usable
    assert "fire at once" in " ".join(render(r) for r in found.captures[0].reasons)
    assert not found.verdict.accuses


@pytest.mark.parametrize("how", [Feed(), Feed(order=SIX), Feed(coils=True)], ids=["four", "six", "coils on the feed"])
@pytest.mark.parametrize("fault", SICK_INJECTORS)
def test_the_sick_one_is_the_only_one_that_stands_out(fault, how):
    found = judged(replace(how, odd={3: SICK_INJECTORS[fault]}))
    assert odd_ones(found) == {3}


def test_coils_on_the_feed_are_told():
    assert "Something else draws" in " ".join(render(r) for r in judged(Feed(coils=True)).captures[0].reasons)


@pytest.mark.parametrize("fault", SICK_INJECTORS)
def test_whether_and_which_are_separate_answers(fault):
    """A coil's command says where the cycle begins, not where in it an injector fires: somebody is ill, who is open."""
    found = judged(Feed(odd={3: SICK_INJECTORS[fault]}), sync="coil")
    assert found.verdict.status is not Status.NO_FAULT_FOUND
    assert found.verdict.cylinders == ()


EDDIES = Feed(eddies=0.35, fall_s=4e-4)
SHORT_CIRCUIT = Winding(ohm=3.0, henry=0.001, lifts_ms=None)


@pytest.mark.parametrize("offset_a", [0.0, 0.05, -0.05])
def test_a_rise_as_sharp_as_a_fall_is_not_taken_for_one(offset_a):
    found = judged(replace(EDDIES, offset_a=offset_a))
    assert odd_ones(found) == set()
    assert found.captures[0].usable


@pytest.mark.parametrize("order", [(1, 3, 2), (1, 3, 4, 2), (1, 2, 4, 5, 3)])
@pytest.mark.parametrize("how", [Feed(), EDDIES, Feed(seconds=0.75)], ids=["usual", "eddies", "few cycles"])
def test_a_short_circuit_is_the_odd_one_and_not_its_peers(how, order):
    found = judged(replace(how, order=order, odd={3: SHORT_CIRCUIT}))
    assert odd_ones(found) == {3}

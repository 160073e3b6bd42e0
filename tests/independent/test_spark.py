"""Sparks of another physics under odd instruments: the healthy are not accused, the sick one is found."""

import pytest

from fairwitness.core.diagnose import Diagnosis, diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.accusations import deviates
from fairwitness.core.reason.verdict import Status
from tests.independent.entries import SICK_SPARKS, SIX, SPARKS
from tests.independent.spark import Ignition, Pickup, Spark, secondary


def judged(how: Ignition, by: Pickup, *, one_clamp: bool = False) -> Diagnosis:
    capture = secondary(how, by, one_clamp=one_clamp)
    return diagnose(Case(name="x", engine=even_engine(how.order), captures=(capture,)))


def odd_ones(found: Diagnosis) -> set[int]:
    return {f.cylinder for m in found.measured for f in m.findings if f.cylinder is not None and deviates(f)}


@pytest.mark.parametrize("entry", SPARKS)
def test_nobody_healthy_is_accused_and_nothing_is_refused(entry):
    found = judged(*SPARKS[entry])
    assert odd_ones(found) == set()
    assert found.verdict.status is Status.NO_FAULT_FOUND
    assert found.captures[0].usable


def test_one_pick_up_over_all_leads_reads_alike():
    assert odd_ones(judged(Ignition(), Pickup(), one_clamp=True)) == set()


@pytest.mark.parametrize("order", [(1, 3, 4, 2), SIX], ids=["four", "six"])
@pytest.mark.parametrize("upside_down", [(), (2, 3)], ids=["usual", "two upside down"])
@pytest.mark.parametrize("fault", SICK_SPARKS)
def test_the_sick_one_is_the_only_one_that_stands_out(fault, upside_down, order):
    found = judged(Ignition(order=order, odd={3: SICK_SPARKS[fault]}), Pickup(upside_down=upside_down))
    assert odd_ones(found) == {3}
    assert found.verdict.cylinders == (3,)


@pytest.mark.parametrize("fault", ["no arc", "shorted plug", "resistance in the lead"])
def test_what_the_line_shows_is_found_though_the_breakdown_is_cut_off(fault):
    found = judged(Ignition(odd={3: SICK_SPARKS[fault]}), Pickup(stops_kv=(-5.0, 5.0)))
    assert odd_ones(found) == {3}


def test_a_breakdown_that_was_not_seen_clears_nobody():
    found = judged(Ignition(odd={3: SICK_SPARKS["gap of twice its width"]}), Pickup(stops_kv=(-5.0, 5.0)))
    assert any("cut" in render(r) for c in found.captures for r in c.reasons)
    assert any("ignition" in render(s.text) for s in found.statement.not_seen)


def test_an_unfuelled_cylinder_needs_little_more_and_is_not_a_worn_plug():
    found = judged(Ignition(odd={3: Spark(breakdown_kv=11.5, arc_kv=1.35)}), Pickup())
    assert found.verdict.faults == ()
    assert odd_ones(found) == set()

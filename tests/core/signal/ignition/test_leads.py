"""Whose sparks they are: named leads, one pick-up over all, cross talk, firing order, waste sparks."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import Ignition, even_engine
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.ignition.leads import Leads, read_leads
from tests.core.sparks import leads

FOUR = even_engine((1, 3, 4, 2))
PAIRED = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)))
CYCLE_S = 120 / 750


def read(engine=FOUR, *arguments, **options) -> Leads:
    found = read_leads(leads(engine, *arguments, **options), engine)
    assert isinstance(found, Leads)
    return found


def test_every_lead_gives_its_own_sparks():
    found = read()
    assert {c: s.count for c, s in found.sparks.items()} == dict.fromkeys((1, 2, 3, 4), 5)
    assert found.cycle_s == pytest.approx(CYCLE_S, rel=0.01)
    assert found.seconds == pytest.approx(5 * CYCLE_S, rel=0.01)
    assert render(found.source) == "pick-ups on all leads"


def test_heights_are_those_that_were_written_down():
    found = read(FOUR, {3: {"firing": 18.0}})
    heights = {c: float(np.median(s.firing_kv)) for c, s in found.sparks.items()}
    assert heights[3] == pytest.approx(18.0, rel=0.08)
    assert all(heights[c] == pytest.approx(10.0, rel=0.08) for c in (1, 2, 4))


def test_a_lead_that_never_sparks_is_listened_to_and_has_none():
    found = read(FOUR, {2: {"firing": 0}})
    assert found.sparks[2].count == 0
    assert 0 < found.level[2] < 0.5


def test_a_lead_of_the_other_coil_end_is_read_the_same():
    found = read(FOUR, gain={4: -1.0})
    assert float(np.median(found.sparks[4].firing_kv)) == pytest.approx(10.0, rel=0.08)


def test_some_of_the_leads_say_which_they_are():
    found = read(FOUR, cylinders=(1, 4))
    assert set(found.sparks) == {1, 4}
    assert render(found.source) == "pick-up on 2 of the leads"


def test_leads_that_spark_in_another_order_are_named():
    swapped = even_engine((1, 2, 4, 3))
    found = read_leads(leads(swapped), FOUR)
    assert isinstance(found, Leads)
    assert any("spark in another order" in render(r.statement) for r in found.reasons)
    assert not any("another order" in render(r.statement) for r in read().reasons)


def test_waste_sparks_are_left_out_and_it_is_said():
    found = read(PAIRED, waste=4.0)
    assert all(float(np.median(s.firing_kv)) == pytest.approx(10.0, rel=0.1) for s in found.sparks.values())
    assert found.cycle_s == pytest.approx(CYCLE_S, rel=0.02)
    assert "told apart by their height" in render(found.reasons[0].statement)


def test_waste_sparks_as_tall_as_the_others_cannot_be_told_apart():
    found = read(PAIRED, waste=10.0)
    assert "could not be told apart" in render(found.reasons[0].statement)


def test_no_spark_anywhere_is_said_as_a_question_of_the_set_up():
    refusal = read_leads(leads(FOUR, {c: {"firing": 0} for c in (1, 2, 3, 4)}), FOUR)
    assert isinstance(refusal, Reason)
    assert refusal.blocking
    assert "are the pick-ups on" in render(refusal.statement)

"""What each outcome of a test would mean, on two or three hypotheses that can be reckoned by head."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.planning.implications import implications
from fairwitness.core.reason.planning.prediction import claims_of, predict

FOUR = even_engine((1, 3, 4, 2))
RINGS = Hypothesis("ring_or_piston_leak", Cause.MECHANICAL, (3,), 0.5)
VALVE = Hypothesis("exhaust_valve_leak", Cause.MECHANICAL, (3,), 0.5)
COIL = Hypothesis("coil_output_dead", Cause.IGNITION, (3,), 0.5)
NONE = Hypothesis("no_fault", Cause.NONE, (), 0.5)


def meant(test, *hypotheses, chances=None, scope=FOUR.firing_order):
    offer = OFFERS[test]
    known = np.array(chances or [1 / len(hypotheses)] * len(hypotheses))
    return implications(offer, predict(offer, claims_of(hypotheses), scope), hypotheses, known)


def test_each_outcome_names_the_cause_that_would_lead():
    told = {i.outcome: render(i.then) for i in meant("relative_compression", RINGS, COIL)}
    assert told["alike"].startswith("ignition")
    assert all(words.startswith("mechanical") for outcome, words in told.items() if outcome != "alike")


def test_an_outcome_says_where_it_would_be_seen_unless_it_is_even():
    by_name = {i.outcome: i for i in meant("relative_compression", RINGS, NONE)}
    assert by_name["alike"].cylinders == ()
    assert by_name["low"].cylinders == (3,)
    assert render(by_name["low"].words) == "low at 3"


def test_the_likeliest_comes_first_and_chances_are_no_more_than_one():
    for chances in ([0.9, 0.1], [0.1, 0.9]):
        told = meant("relative_compression", RINGS, NONE, chances=chances)
        assert [i.chance for i in told] == sorted((i.chance for i in told), reverse=True)
        assert sum(i.chance for i in told) <= 1.001
        assert (told[0].outcome == "alike") is (chances[1] > 0.5)


def test_a_test_by_hand_names_its_own_outcomes():
    told = {i.outcome: render(i.then) for i in meant("leak_down", RINGS, VALVE, scope=(3,))}
    assert "ring" in told["oil_filler"]
    assert "exhaust valve" in told["exhaust"]


def test_a_fault_is_named_only_where_one_stands_out():
    alone = next(i for i in meant("leak_down", RINGS, NONE, scope=(3,)) if i.outcome == "oil_filler")
    assert render(alone.then).count("%") == 2
    both = next(i for i in meant("relative_compression", RINGS, VALVE) if i.outcome == "low")
    assert "mechanical" in render(both.then)


@pytest.mark.parametrize("test", ["relative_compression", "crank_speed", "leak_down", "injector_current"])
def test_outcomes_that_are_told_can_be_imagined(test):
    told = meant(test, RINGS, VALVE, COIL, NONE, scope=(3,) if OFFERS[test].per_cylinder else FOUR.firing_order)
    assert told
    assert all(i.outcome and "?" not in i.outcome for i in told)

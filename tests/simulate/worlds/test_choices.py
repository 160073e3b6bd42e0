"""Worlds are drawn, named and left out as they should be."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import SimulationError
from fairwitness.simulate.worlds.building import BUILDS
from fairwitness.simulate.worlds.choices import CHOICES, HELD_OUT, KNOWN_WORLD, World, draw_world, known_of, world_of


@given(st.integers(0, 2**32 - 1), st.sampled_from(sorted(HELD_OUT)))
def test_what_is_left_out_is_never_drawn_and_what_is_given_always(seed, name):
    alternatives = HELD_OUT[name]
    without = draw_world(np.random.default_rng(seed), without=alternatives)
    always = draw_world(np.random.default_rng(seed), always=alternatives)
    assert not without.has(alternatives)
    assert all(always[question] == answer for question, answer in alternatives)


@given(st.integers(0, 2**32 - 1))
def test_leaving_one_answer_out_leaves_the_other_questions_as_they_were(seed):
    plain = draw_world(np.random.default_rng(seed))
    without = draw_world(np.random.default_rng(seed), without=(("hose", "long"), ("hose", "piezo")))
    assert without["hose"] == "fast"
    assert all(plain[q] == without[q] for q in CHOICES if q != "hose")


def test_every_answer_is_drawn_and_about_as_often_as_it_should():
    rng = np.random.default_rng(5)
    drawn = [draw_world(rng) for _ in range(1500)]
    for question, answers in CHOICES.items():
        usual = np.mean([w[question] == known_of(question) for w in drawn])
        assert usual == pytest.approx(0.5, abs=0.05)
        assert {w[question] for w in drawn} == set(answers)


def test_a_world_survives_being_written_down():
    world = draw_world(np.random.default_rng(8))
    assert world_of(world.document()) == world
    assert world_of({}) == KNOWN_WORLD
    assert world_of({q: known_of(q) for q in CHOICES}) == KNOWN_WORLD


@pytest.mark.parametrize("answers", [(("weather", "rain"),), (("hose", "rubber"),)])
def test_a_world_that_is_not_there_is_refused(answers):
    with pytest.raises(SimulationError):
        World(answers)


def test_every_unusual_answer_is_built_but_severity_which_is_drawn():
    unusual = {(q, a) for q, answers in CHOICES.items() for a in answers if a != known_of(q)}
    assert unusual - set(BUILDS) == {("severity", "whole")}
    assert set(BUILDS) <= unusual


def test_at_least_six_combinations_are_left_out_and_they_touch_most_questions():
    assert len(HELD_OUT) >= 6
    assert {q for pairs in HELD_OUT.values() for q, _ in pairs} >= set(CHOICES) - {"exhaust", "severity"}

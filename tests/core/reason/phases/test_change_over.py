"""Looking again with a part changed over: what moved is measured, and the arithmetic is checked by hand."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.phases.change_over import Went, as_evidence
from tests.core.reason.phases.states import case_of, seen, swapped

FOUR = even_engine((1, 3, 4, 2))


def looked(before, after, *, part="coil", between=(3, 1), sigma=0.05):
    taken = [seen(FOUR, before, sigma=sigma), seen(FOUR, after, phase=1, sigma=sigma)]
    return conclude(case_of(FOUR, [swapped(part, *between)], taken), tuple(taken))


@pytest.mark.parametrize(
    ("after", "went", "words"),
    [
        ({1: 0.0}, Went.MOVED, "The coil of cylinder 3 is at fault"),
        ({3: 0.0}, Went.STAYED, "The coil is cleared"),
        ({}, Went.GONE, "no cylinder is off any more"),
        ({1: 0.25, 3: 0.0}, Went.OPEN, "Take the same test once more"),
    ],
)
def test_where_the_trouble_went_is_measured(after, went, words):
    (found,) = looked({3: 0.0}, after).changed_over
    assert found.went is went
    assert words in render(found.words)
    assert (found.suspect, found.other) == (3, 1)


def test_the_suspect_is_who_was_off_whichever_was_named_first():
    (found,) = looked({3: 0.0}, {1: 0.0}, between=(1, 3)).changed_over
    assert (found.suspect, found.other, found.went) == (3, 1, Went.MOVED)


def test_what_moved_proves_the_part_and_what_stayed_clears_it():
    none, moved, stayed = (
        conclude(case_of(FOUR, [], [seen(FOUR, {3: 0.0})]), (seen(FOUR, {3: 0.0}),)),
        looked({3: 0.0}, {1: 0.0}),
        looked({3: 0.0}, {3: 0.0}),
    )

    def coil(diagnosis):
        chances = zip(diagnosis.posterior.hypotheses, diagnosis.posterior.probabilities, strict=True)
        return sum(p for h, p in chances if h.fault.startswith("coil_") and h.cylinders == (3,))

    assert coil(moved) > 2 * coil(none) > 4 * coil(stayed)
    assert moved.verdict.cylinders == (3,), "the capture with the part elsewhere accuses nobody else"


def test_unsure_measurements_tell_nothing():
    (found,) = looked({3: 0.0}, {1: 0.0}, sigma=0.9).changed_over
    assert found.went is Went.OPEN
    assert as_evidence(found) is None


def test_a_change_over_asks_for_the_test_that_showed_the_difference():
    taken = (seen(FOUR, {3: 0.0}),)
    (found,) = conclude(case_of(FOUR, [swapped("coil", 3, 1)], taken), taken).changed_over
    assert "take crank speed again" in render(found.words)


def test_a_change_over_before_any_test_says_that_nothing_can_be_told():
    taken = (seen(FOUR, {}),)
    (found,) = conclude(case_of(FOUR, [swapped("coil", 3, 1)], taken), taken).changed_over
    assert "cannot be told" in render(found.words)


@given(st.floats(0.05, 0.3), st.floats(-0.3, 0.3))
def test_the_chance_is_that_of_two_bell_curves(sigma, stray):
    """By hand: the difference of the two cylinders, its spread, and the odds of moved against stayed."""
    after = {1: 0.0 + max(stray, 0.0)}
    (found,) = looked({3: 0.0}, after, sigma=sigma).changed_over
    difference = 1.0 - after[1]
    spread = math.sqrt(4 * sigma**2 + 0.2**2)

    def height(middle):
        bell = math.exp(-0.5 * ((difference - middle) / spread) ** 2) / (spread * math.sqrt(2 * math.pi))
        return 0.98 * bell + 0.02 / 4

    moved, stayed, gone = height(1.0), height(-1.0), 0.1 * height(0.0)
    assert found.tests == ("crank_speed",)
    assert found.chance == pytest.approx(max(moved, stayed, gone) / (moved + stayed + gone), rel=1e-6)

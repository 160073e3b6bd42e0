"""Angles on a circle, against what a person sees on a clock face and against complex numbers."""

import cmath
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.model.angles import from_nearest, gathered, mean_angle, signed

ANGLE = st.floats(-5_000.0, 5_000.0)
PERIOD = st.sampled_from([1.0, 180.0, 360.0, 720.0])


@pytest.mark.parametrize(
    ("angle", "period", "place"),
    [(0.0, 720.0, 0.0), (350.0, 360.0, -10.0), (-350.0, 360.0, 10.0), (360.0, 720.0, -360.0), (0.75, 1.0, -0.25)],
)
def test_a_place_is_told_as_the_shorter_way_from_zero(angle, period, place):
    assert signed(angle, period) == pytest.approx(place)


@given(ANGLE, PERIOD)
def test_it_is_the_same_place_and_never_more_than_half_way_round(angle, period):
    place = float(signed(angle, period))
    assert -period / 2 <= place <= period / 2
    assert math.isclose(math.remainder(place - angle, period), 0.0, abs_tol=1e-6)


def test_an_array_keeps_its_shape():
    assert signed(np.array([[0.0, 361.0], [719.0, -1.0]])).tolist() == [[0.0, -359.0], [-1.0, -1.0]]


def test_each_angle_goes_to_the_mark_nearest_to_it_across_the_seam():
    marks = np.array([5.0, 180.0])
    assert from_nearest(np.array([355.0, 170.0, 10.0]), marks, 360.0) == pytest.approx([-10.0, -10.0, 5.0])


@given(st.lists(ANGLE, min_size=1, max_size=8), st.lists(ANGLE, min_size=1, max_size=5))
def test_no_other_mark_is_nearer(angles, marks):
    apart = from_nearest(np.array(angles), np.array(marks), 720.0)
    for angle, seen in zip(angles, apart, strict=True):
        assert abs(seen) <= min(abs(float(signed(angle - mark, 720.0))) for mark in marks) + 1e-9


def test_the_mean_of_ten_to_and_ten_past_is_the_full_hour():
    assert mean_angle(np.array([350.0, 10.0]), 360.0) == pytest.approx(0.0, abs=1e-9)
    assert mean_angle(np.array([0.9, 0.1]), 1.0) == pytest.approx(0.0, abs=1e-9)


@given(st.lists(st.floats(-60.0, 60.0), min_size=1, max_size=12), st.floats(-720.0, 720.0))
def test_it_is_the_direction_of_the_sum_of_unit_vectors(spread, centre):
    angles = np.array(spread) + centre
    total = sum(cmath.exp(2j * math.pi * a / 720.0) for a in angles)
    expected = cmath.phase(total) * 720.0 / (2 * math.pi)
    assert float(signed(mean_angle(angles) - expected)) == pytest.approx(0.0, abs=1e-6)


def test_how_closely_they_stand_together():
    assert gathered(np.full(5, 77.0)) == pytest.approx(1.0)
    assert gathered(np.arange(0.0, 720.0, 90.0)) == pytest.approx(0.0, abs=1e-9)
    assert gathered(np.array([0.0, 180.0])) == pytest.approx(math.cos(math.radians(45.0)))

"""Shapes of torque, against the work that mechanics books say they do and against each other."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.signal.crank.torque_shapes import (
    BURN_STARTS_DEG,
    Firing,
    breath_torque,
    burn_torque,
    inertia_torque,
    push_torque,
    shapes_of,
)

ANGLE = np.arange(-180.0, 540.0, 0.25)
STEP = np.deg2rad(0.25)
FOUR = (0.0, 180.0, 360.0, 540.0)


@pytest.mark.parametrize("start", BURN_STARTS_DEG)
def test_combustion_does_a_work_of_one_and_only_after_it_begins(start):
    torque = burn_torque(ANGLE, start, 65.0)
    assert torque.sum() * STEP == pytest.approx(1.0, abs=0.01)
    assert np.abs(torque[start > ANGLE]).max() == 0.0
    assert np.abs(torque[ANGLE > 170.0]).max() == 0.0


def test_a_later_burn_pushes_later():
    centres = [float((ANGLE * burn_torque(ANGLE, s, 65.0)).sum() * STEP) for s in BURN_STARTS_DEG]
    assert centres == sorted(centres)


def test_compression_takes_before_top_dead_centre_what_it_gives_after():
    torque = push_torque(ANGLE)
    before, after = torque[ANGLE < 0].sum() * STEP, torque[ANGLE > 0].sum() * STEP
    assert before == pytest.approx(-1.0, abs=0.01)
    assert after == pytest.approx(1.0, abs=0.01)
    assert push_torque(np.array([0.0]))[0] == pytest.approx(0.0, abs=1e-6)


def test_the_pistons_mass_takes_and_gives_twice_a_revolution_and_keeps_nothing():
    torque = inertia_torque(ANGLE)
    assert torque.sum() * STEP == pytest.approx(0.0, abs=0.01)
    assert np.abs(torque).max() == pytest.approx(2 / 3, abs=0.05)
    once_on = inertia_torque(ANGLE + 360.0)
    np.testing.assert_allclose(once_on, torque, atol=1e-9)


@given(st.sampled_from([60, 96, 120]), st.sampled_from(BURN_STARTS_DEG))
def test_over_a_cycle_each_combustion_gains_one_and_the_rest_nothing(steps, start):
    shapes = shapes_of(Firing(steps, FOUR), start, 65.0)
    assert shapes.burn.shape == (steps, 4)
    np.testing.assert_allclose(shapes.burn.sum(axis=0), 1.0, atol=0.02)
    assert shapes.push.sum() == pytest.approx(0.0, abs=0.02)
    assert shapes.inertia.sum() == pytest.approx(0.0, abs=0.02)


def test_every_cylinder_has_the_same_shape_at_its_own_place():
    shapes = shapes_of(Firing(120, FOUR), 0.0, 65.0)
    for place in range(1, 4):
        np.testing.assert_allclose(np.roll(shapes.burn[:, 0], 30 * place), shapes.burn[:, place], atol=1e-9)


def test_what_all_cylinders_do_alike_comes_as_often_as_they_fire():
    push = shapes_of(Firing(120, FOUR), 0.0, 65.0).push
    spectrum = np.abs(np.fft.rfft(push))
    others = np.delete(spectrum, np.arange(0, spectrum.size, 4))
    assert others.max() < 1e-9 * spectrum.max() + 1e-12


def test_breathing_costs_the_pumping_loop():
    # Heywood, Internal Combustion Engine Fundamentals, ch. 5.2 [P]: a throttled cycle loses the pressure difference
    # times the swept volume, here as 1.
    angle = np.arange(-180.0, 540.0, 0.25)
    torque = breath_torque(angle)
    assert np.sum(torque) * np.deg2rad(0.25) == pytest.approx(-1.0, rel=1e-3)
    assert np.sum(torque[angle < 180.0]) == pytest.approx(0.0, abs=0.05)  # what compression costs, expansion gives back
    assert not torque[(angle >= 180.0) & (angle < 360.0)].any()  # the exhaust stroke meets the atmosphere

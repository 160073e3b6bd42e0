"""Filters do what their names say, against closed forms."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.simulate.worlds.dynamics import echoed, high_pass, low_pass, resonant, rings

RATE = 10_000.0
TIMES = np.arange(20_000) / RATE


def gain(filtered, hz):
    """Size of a sine after a filter, once it settled."""
    tail = slice(10_000, None)
    return filtered[tail].std() / np.sin(2 * np.pi * hz * TIMES)[tail].std()


@given(st.floats(5, 500), st.floats(5, 500))
def test_first_order_filters_have_their_textbook_gain(corner, hz):
    sine = np.sin(2 * np.pi * hz * TIMES)
    assert gain(low_pass(sine, RATE, corner), hz) == pytest.approx(1 / np.hypot(1, hz / corner), abs=0.03)
    assert gain(high_pass(sine, RATE, corner), hz) == pytest.approx(1 / np.hypot(1, corner / hz), abs=0.03)


@pytest.mark.parametrize("filtered", [low_pass, high_pass])
@pytest.mark.parametrize("corner", [0.0, 9_000.0])
def test_nothing_happens_without_a_corner_or_beyond_the_rate(filtered, corner):
    samples = np.random.default_rng(1).normal(size=100)
    assert filtered(samples, RATE, corner) is samples


@pytest.mark.parametrize("damping", [0.2, 0.5])
def test_a_second_order_system_overshoots_as_it_should(damping):
    step = np.where(TIMES > 0.1, 1.0, 0.0)
    overshoot = rings(step, RATE, 200.0, damping).max() - 1
    assert overshoot == pytest.approx(np.exp(-np.pi * damping / np.sqrt(1 - damping**2)), abs=0.02)


def test_an_echo_comes_back_again_and_again():
    click = np.zeros(1000)
    click[100] = 1.0
    heard = echoed(click, RATE, -0.5, 0.01)
    assert heard[[100, 200, 300, 400]] == pytest.approx([1.0, -0.5, 0.25, -0.125])
    assert np.count_nonzero(np.abs(heard) > 1e-12) == 9


def test_a_cavity_is_loud_at_its_own_frequency_alone():
    own, other = (np.sin(2 * np.pi * hz * TIMES) for hz in (50.0, 400.0))
    assert gain(resonant(own, RATE, 50.0, 1.0, 3.0), 50.0) == pytest.approx(2.0, abs=0.05)
    assert gain(resonant(other, RATE, 50.0, 1.0, 3.0), 400.0) == pytest.approx(1.0, abs=0.06)

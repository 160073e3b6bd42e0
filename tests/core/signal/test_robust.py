"""Robust centre, spread and noise: on normal samples as the usual ones, with a few far off hardly moved."""

import numpy as np
import pytest

from fairwitness.core.signal.robust import NORMAL_FACTOR, robust_centre, robust_sigma, sample_noise

RNG = np.random.default_rng(8)


def test_the_factor_is_that_of_the_normal_distribution():
    from scipy.stats import norm

    assert pytest.approx(1 / norm.ppf(0.75), abs=1e-4) == NORMAL_FACTOR


def test_on_normal_samples_it_is_the_standard_deviation():
    values = RNG.normal(3.0, 0.5, 20_000)
    centre, sigma = robust_centre(values)
    assert float(centre) == pytest.approx(3.0, abs=0.02)
    assert float(sigma) == pytest.approx(0.5, rel=0.03)
    assert robust_sigma(values) == pytest.approx(float(sigma))


def test_a_tenth_of_wild_samples_hardly_moves_it():
    values = RNG.normal(0.0, 1.0, 2_000)
    values[::10] = 1e6
    centre, sigma = robust_centre(values)
    assert abs(float(centre)) < 0.25
    assert float(sigma) < 1.4


def test_columns_are_judged_by_themselves_and_missing_samples_left_out():
    table = np.array([[1.0, 10.0], [2.0, np.nan], [3.0, 30.0]])
    centre, sigma = robust_centre(table)
    assert centre.tolist() == [2.0, 20.0]
    assert sigma == pytest.approx([NORMAL_FACTOR, 10.0 * NORMAL_FACTOR])


def test_rows_too():
    centre, _ = robust_centre(np.array([[1.0, 2.0, 9.0], [4.0, 5.0, 6.0]]), axis=1)
    assert centre.tolist() == [2.0, 5.0]


@pytest.mark.parametrize("order", [1, 2])
def test_noise_of_samples_is_found_under_what_moves_slowly(order):
    slow = 50.0 * np.sin(np.linspace(0.0, 3.0, 8_000))
    assert sample_noise(slow + RNG.normal(0.0, 0.2, slow.size), order) == pytest.approx(0.2, rel=0.05)


def test_a_straight_slope_is_no_noise_to_the_second_difference():
    ramp = 4.0 * np.arange(500.0)
    assert sample_noise(ramp, order=2) == pytest.approx(0.0, abs=1e-9)
    assert sample_noise(ramp, order=1) > 1.0

"""Angles that go round against circular statistics of a general library.

Sources: Mardia and Jupp, Directional Statistics (2000), ch. 2, for mean direction and its invariance under rotation
[P]; SciPy's circmean for the figures; von Mises samples by NumPy.
"""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import circmean

from fairwitness.core.model.angles import from_nearest, mean_angle, signed
from fairwitness.core.procedures.cam_timing.measure import _clusters
from fairwitness.core.signal.injector.assignment import _circular_middle

PERIODS = (1.0, 360.0, 720.0)


def directions(kappa, centre, period, count=200, seed=0):
    return centre + np.random.default_rng(seed).vonmises(0.0, kappa, count) * period / (2 * np.pi)


@pytest.mark.parametrize("period", PERIODS)
@given(centre=st.floats(-2.0, 2.0), kappa=st.floats(0.5, 50.0), seed=st.integers(0, 99))
def test_the_mean_direction_is_the_library_s(period, centre, kappa, seed):
    angles = directions(kappa, centre * period, period, seed=seed)
    off = mean_angle(angles, period) - circmean(angles, high=period)
    assert signed(off, period) == pytest.approx(0.0, abs=1e-6 * period)


@given(turned=st.floats(0.0, 1.0), seed=st.integers(0, 99))
def test_a_median_on_the_circle_turns_with_the_circle_and_lies_by_the_mean(turned, seed):
    places = directions(8.0, 0.3, 1.0, seed=seed)
    middle = _circular_middle(places)
    assert signed(_circular_middle(places + turned) - middle - turned, 1.0) == pytest.approx(0.0, abs=1e-6)
    assert abs(signed(middle - circmean(places, high=1.0), 1.0)) < 0.03


@pytest.mark.parametrize("places", [(1.0, 120.0, 240.0), (0.0, 90.0, 200.0, 290.0)])
def test_groups_across_the_seam_have_the_library_s_means(places):
    groups = [directions(4000.0, place, 360.0, count=40, seed=i) for i, place in enumerate(places)]
    found = _clusters(np.concatenate(groups) % 360.0)
    wanted = np.array([circmean(g, high=360.0) for g in groups])
    assert np.abs(from_nearest(found, wanted, 360.0)).max() < 0.5
    assert found.size == len(places)

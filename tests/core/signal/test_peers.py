import numpy as np
import pytest

from fairwitness.core.signal.peers import healthy_level
from fairwitness.core.signal.robust import robust_centre


def test_one_wild_value_moves_neither_centre_nor_spread():
    centre, sigma = robust_centre(np.array([[1.0], [1.1], [0.9], [1.0], [50.0]]))
    assert centre[0] == pytest.approx(1.0)
    assert sigma[0] == pytest.approx(0.148, abs=0.01)


@pytest.mark.parametrize(
    ("heights", "level"),
    [
        ([1.0, 1.0, 0.05, 1.0], 1.0),
        ([1.0, 1.0, 0.05, 1.3], 1.0),
        ([0.6, 1.0, 0.6, 1.02, 0.6, 0.98], 1.0),
        ([1.0, 0.6], 1.0),
        ([2.0], 2.0),
    ],
)
def test_the_sound_level_is_that_of_the_strong_ones(heights, level):
    assert healthy_level(np.array(heights)) == pytest.approx(level, rel=0.03)

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.server.captures.pyramid import PYRAMID_FIRST, levels_in, levels_of, pyramid


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 2**32 - 1), st.integers(32_768, 40_000))
def test_the_pyramid_holds_the_extremes_of_each_group(seed, size):
    rng = np.random.default_rng(seed)
    values = rng.normal(size=size).astype(np.float32)
    values[rng.random(size) < 0.02] = np.nan
    low, high = pyramid(values)[0]
    assert PYRAMID_FIRST == 64
    groups = values[: size // 64 * 64].reshape(-1, 64)
    np.testing.assert_array_equal(low, np.nanmin(groups, axis=1))
    np.testing.assert_array_equal(high, np.nanmax(groups, axis=1))


def test_a_reader_expects_as_many_levels_as_are_written():
    for size in (100, 32_767, 32_768, 300_000, 3_000_000):
        assert levels_in(size) == len(levels_of(np.zeros(size, np.float32))) - 1

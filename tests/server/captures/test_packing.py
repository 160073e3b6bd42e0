import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from fairwitness.server.captures.packing import CODES_MAX, coded, pack, pack_coded, unpack


@given(hnp.arrays(np.float32, st.integers(0, 500)))
def test_packing_loses_nothing(values):
    assert unpack(pack(values), np.float32, values.size).tobytes() == values.tobytes()


@given(hnp.arrays(np.float32, st.integers(1, 500)))
def test_whatever_is_coded_comes_back_bit_for_bit(values):
    found = coded(values)
    if found is not None:
        assert found.values[found.codes].tobytes() == values.tobytes()
        again = unpack(pack_coded(found.codes, found.values), np.float32, values.size)
        assert again.tobytes() == values.tobytes()


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 2**32 - 1), st.sampled_from((8, 12, 14)), st.floats(-50, 50), st.integers(2, 7))
def test_a_converter_is_found_whatever_its_range_offset_and_printed_digits(seed, bits, offset, digits):
    rng = np.random.default_rng(seed)
    step = 40 / 2**bits
    trace = 8 * np.sin(np.arange(60_000) / 900) + rng.normal(size=60_000)
    values = (np.round(np.round(trace / step) * step + offset, digits) + 0.0).astype(np.float32)
    found = coded(values)
    if step > 3 * 10.0**-digits:
        assert found is not None
    if found is not None:
        assert found.values[found.codes].tobytes() == values.tobytes()


def test_the_table_rises_so_that_extremes_of_places_are_extremes_of_values():
    values = np.float32(0.5) * np.random.default_rng(1).integers(-300, 300, 5000).astype(np.float32)
    found = coded(values)
    assert found is not None
    used = np.unique(found.codes)
    assert (np.diff(found.values[used]) > 0).all()


@pytest.mark.parametrize(
    "values",
    [
        pytest.param(np.random.default_rng(2).normal(size=70_000), id="no grid"),
        pytest.param(np.array([0.0, -0.0, 1.0, 2.0]), id="two zeros share a place"),
        pytest.param(np.array([0.0, 1.0, np.nan]), id="missing"),
        pytest.param(np.array([0.0, 1.0, np.inf]), id="infinite"),
        pytest.param(np.arange(CODES_MAX + 1.0), id="more values than places"),
        pytest.param(np.array([]), id="nothing"),
        pytest.param(np.array([7.76e-43, 0.0]), id="finer than single precision divides"),
    ],
)
def test_samples_off_any_grid_are_left_alone(values):
    assert coded(values.astype(np.float32)) is None


def test_a_value_seen_late_still_enters_the_table():
    values = np.tile(np.float32([0, 1, 2, 3]), 100_000)
    values[399_990] = 77.0
    found = coded(values)
    assert found is not None
    assert found.values[found.codes].tobytes() == values.tobytes()


def test_a_converters_samples_take_a_fraction_of_their_floats():
    rng = np.random.default_rng(3)
    values = (np.round(rng.normal(size=32_768) * 10) * np.float32(0.01) + 0.0).astype(np.float32)
    found = coded(values)
    assert found is not None
    assert len(pack_coded(found.codes, found.values)) < 0.3 * values.nbytes < len(pack(values)) * 2

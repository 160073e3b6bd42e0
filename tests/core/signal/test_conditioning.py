import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.signal.conditioning import (
    block_extremes,
    block_means,
    bridge_gaps,
    crossings,
    low_pass,
    remove_spikes,
)


def test_block_means_leave_missing_samples_out():
    values = np.array([1, 3, np.nan, 5, np.nan, np.nan], dtype=np.float32)
    assert block_means(values, 2).tolist()[:2] == [2.0, 5.0]
    assert np.isnan(block_means(values, 2)[2])


def test_block_extremes():
    low, high = block_extremes(np.array([4.0, -1.0, 7.0, np.nan]), 2)
    assert low.tolist() == [-1.0, 7.0]
    assert high.tolist() == [4.0, 7.0]


def test_gaps_are_bridged_by_straight_lines():
    assert bridge_gaps(np.array([0.0, np.nan, np.nan, 3.0])).tolist() == [0, 1, 2, 3]


def test_a_spike_goes_and_a_hump_stays():
    pulse = 50 * np.sin(np.linspace(0, 6 * np.pi, 600))
    spiked = pulse.copy()
    spiked[[100, 333]] += 400
    cleaned, count = remove_spikes(spiked, sigma=8.0)
    assert count == 2
    assert np.abs(cleaned - pulse).max() < 2.0
    assert remove_spikes(pulse, sigma=8.0)[1] == 0


def test_edges_need_the_trace_to_fall_before_they_fire_again():
    trace = np.array([0, 5, 3, 5, 0, 5, 0], dtype=float)
    rises, falls = crossings(trace, arm=1.0, fire=4.0)
    assert rises.tolist() == [1, 5]
    assert falls.tolist() == [4, 6]


def test_an_open_end_counts_to_the_end():
    rises, falls = crossings(np.array([0.0, 5.0, 5.0]), arm=1.0, fire=4.0)
    assert (rises.tolist(), falls.tolist()) == ([1], [3])


def edges_by_walking(trace, arm, fire):
    """The definition, one sample at a time."""
    found, armed, start = [], True, None
    for i, v in enumerate(trace):
        if armed and v >= fire:
            start, armed = i, False
        elif not armed and not v >= arm:
            found.append((start, i))
            armed = True
    return [*found, (start, len(trace))] if not armed else found


@given(st.lists(st.sampled_from([0.0, 2.0, 5.0, float("nan")]), max_size=40))
def test_edges_agree_with_the_definition(trace):
    rises, falls = crossings(np.array(trace), arm=1.0, fire=4.0)
    assert list(zip(rises.tolist(), falls.tolist(), strict=True)) == edges_by_walking(trace, 1.0, 4.0)


@pytest.mark.parametrize("dtype", [np.float32, np.float64])
def test_inputs_are_not_changed(dtype):
    values = np.array([1.0, 9.0, 1.0, np.nan] * 10, dtype=dtype)
    before = values.copy()
    block_means(values, 4)
    block_extremes(values, 4)
    np.testing.assert_array_equal(values, before)


def test_a_low_pass_keeps_what_is_slow_in_its_place_and_takes_what_is_fast():
    rate = 10_000.0
    times = np.arange(20_000) / rate
    slow, fast = np.sin(2 * np.pi * 5 * times), np.sin(2 * np.pi * 2000 * times)
    smooth = low_pass((slow + fast).astype(np.float32), rate, 100.0)
    assert np.abs(smooth - slow)[500:-500].max() < 0.01
    np.testing.assert_array_equal(low_pass(slow, rate, 6_000.0), slow)


def test_a_low_pass_bridges_what_is_missing():
    values = np.sin(np.arange(2000) / 100)
    values[700:720] = np.nan
    assert np.isfinite(low_pass(values, 1000.0, 50.0)).all()

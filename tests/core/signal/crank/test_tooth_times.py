import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.model.capture import TimeBase
from fairwitness.core.signal.crank.tooth_times import tooth_times
from tests.core.wheels import passing_times, sensed, tooth_angles

SIXTY = "x" * 58 + ".."


def steady(angle):
    return np.full(np.shape(angle), 4800.0)


@pytest.fixture(scope="module")
def passed():
    return passing_times(tooth_angles(SIXTY, 12), steady)


@settings(max_examples=25, deadline=None)
@given(
    square=st.booleans(),
    inverted=st.booleans(),
    gain=st.sampled_from([0.05, 1.0, 40.0]),
    offset=st.sampled_from([0.0, -3.0, 12.0]),
)
def test_teeth_are_timed_whatever_polarity_gain_and_offset(passed, square, inverted, gain, offset):
    trace, time = sensed(passed, square=square, gain=-gain if inverted else gain, offset=offset, noise=0.02 * gain)
    found = tooth_times(trace, time)
    assert found is not None
    assert found.square is square
    assert abs(found.times_s.size - passed.size) <= 1
    shared = min(found.times_s.size, passed.size)
    steps, expected = np.diff(found.times_s[:shared]), np.diff(passed[:shared])
    assert np.max(np.abs(steps - expected)) < 0.02 * np.median(expected)


def test_a_gap_is_one_long_step_on_the_right_flank(passed):
    trace, time = sensed(passed, square=False)
    steps = np.diff(tooth_times(trace, time).times_s)
    long = steps[steps > 1.3 * np.median(steps)]
    assert long.size == pytest.approx(11, abs=1)
    np.testing.assert_allclose(long / np.median(steps), 3.0, atol=0.05)  # not two of two


def test_noise_on_the_flank_makes_no_second_tooth(passed):
    trace, time = sensed(passed, square=True, noise=0.35)
    assert abs(tooth_times(trace, time).times_s.size - passed.size) <= 1


def test_stamps_are_followed(passed):
    trace, time = sensed(passed, square=True)
    stamps = np.arange(time.samples) / time.rate_hz
    stamps = stamps + 0.2 * stamps**2
    found = tooth_times(trace, TimeBase.from_stamps(stamps))
    plain = tooth_times(trace, time)
    np.testing.assert_allclose(found.times_s, plain.times_s + 0.2 * plain.times_s**2, atol=2e-6)


@pytest.mark.parametrize("trace", [np.zeros(5000), np.full(5000, np.nan), np.arange(50.0), np.arange(5000.0)])
def test_what_has_no_teeth_has_none(trace):
    assert tooth_times(trace.astype(np.float32), TimeBase(samples=trace.size, rate_hz=1000.0)) is None


def test_noise_that_passes_its_levels_more_often_than_any_wheel_is_none():
    noise = np.random.default_rng(1).normal(size=200_000).astype(np.float32)
    assert tooth_times(noise, TimeBase(samples=noise.size, rate_hz=500_000.0)) is None


def test_the_fastest_wheel_there_is_is_one():
    rate_hz, teeth_hz = 1_000_000.0, 60_000.0  # 360 lines at 10,000 rpm
    trace = np.sin(2 * np.pi * teeth_hz / rate_hz * np.arange(100_000)).astype(np.float32)
    found = tooth_times(trace, TimeBase(samples=trace.size, rate_hz=rate_hz))
    assert found.times_s.size == pytest.approx(6_000, abs=2)

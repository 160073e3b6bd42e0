"""Coil ramps, read back from circuits whose values are known."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.signal.ignition.primary import find_ramps, fit_rl

RATE = 50_000.0


def ramp_trace(*, volts=13.0, ohm=0.7, henry=3e-3, dwell_ms=3.0, count=5, gap_s=0.04, noise=0.05, limit=None, seed=1):
    rng = np.random.default_rng(seed)
    amps = np.zeros(int(RATE * gap_s * count))
    since = np.arange(int(RATE * dwell_ms / 1000)) / RATE
    own = volts / ohm * -np.expm1(-since * ohm / henry)
    own = np.minimum(own, limit) if limit else own
    for k in range(count):
        first = int((k + 0.4) * gap_s * RATE)
        amps[first : first + own.size] = own
    return amps + rng.normal(0, noise, amps.size), own


def test_ramps_are_found_and_read():
    amps, own = ramp_trace()
    found = find_ramps(amps, RATE)
    assert found.count == 5
    np.testing.assert_allclose(found.peak_a, own[-1], rtol=0.03)
    np.testing.assert_allclose(found.dwell_ms, 3.0, atol=0.12)
    assert np.median(found.start_slope) == pytest.approx(13.0 / 3.0, rel=0.12)  # V/L in A/ms
    assert not found.limited.any()


def test_a_flat_top_is_a_limiter():
    assert find_ramps(ramp_trace(dwell_ms=5.0, limit=8.0)[0], RATE).limited.all()


def test_a_clamp_on_backwards_reads_the_same():
    amps, _ = ramp_trace()
    there, back = find_ramps(amps, RATE), find_ramps(-amps + 3.0, RATE)
    assert back.inverted
    np.testing.assert_allclose(back.peak_a, there.peak_a, rtol=0.02)


def test_interference_is_filtered_and_counted():
    amps, own = ramp_trace()
    amps[np.arange(137, amps.size, 911)] += 6.0
    found = find_ramps(amps, RATE)
    assert found.count == 5
    assert found.spikes > 3
    np.testing.assert_allclose(found.peak_a, own[-1], rtol=0.05)


def test_overlapping_ramps_on_one_feed_are_told_by_their_falls():
    one, _ = ramp_trace(dwell_ms=5.0, gap_s=0.009, count=10, noise=0.02)
    other = np.roll(one, int(0.0045 * RATE))
    found = find_ramps(one + other, RATE)
    assert found.count >= 18
    assert np.median(found.peak_a) == pytest.approx(13 / 0.7 * (1 - np.exp(-5 * 0.7 / 3)), rel=0.1)


def test_nothing_is_found_in_noise():
    assert find_ramps(np.random.default_rng(1).normal(0, 0.1, 20_000), RATE, floor_a=1.0).count == 0


@settings(max_examples=40, deadline=None)
@given(final=st.floats(2.0, 40.0), tau_ms=st.floats(0.4, 8.0))
def test_circuit_values_come_back_from_a_clean_ramp(final, tau_ms):
    seconds = np.arange(200) / RATE
    found = fit_rl(seconds, final * -np.expm1(-seconds / (tau_ms / 1000)))
    assert found[0] == pytest.approx(final, rel=0.01)
    assert found[1] == pytest.approx(tau_ms / 1000, rel=0.01)

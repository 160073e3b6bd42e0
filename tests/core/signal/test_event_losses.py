"""A long watch sees the event that did not come, and no other."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.signal.event_losses import event_losses

RATE_HZ = 5_000.0


def train(times, seconds, *, height=1.0, noise=0.01, width_s=0.003, seed=0):
    at = np.arange(int(seconds * RATE_HZ)) / RATE_HZ
    trace = np.zeros(at.size)
    for t in times:
        trace[(at >= t) & (at < t + width_s)] = height
    return trace + noise * np.random.default_rng(seed).standard_normal(at.size)


@given(
    every=st.floats(0.015, 0.2),
    lost=st.integers(3, 20),
    height=st.sampled_from([-2.0, 0.4, 7.0]),
    swing=st.floats(-0.3, 0.3),
)
@settings(max_examples=60)
def test_the_missing_one_is_found_at_its_time_and_no_other(every, lost, height, swing):
    gaps = every * np.linspace(1.0, 1.0 + swing, 30)  # the speed drifts by up to a third meanwhile
    times = 0.05 + np.cumsum(gaps)
    kept = np.delete(times, lost)
    found = event_losses(train(kept, times[-1] + 0.5 * every, height=height), RATE_HZ)
    assert found.size == 1
    assert found[0] == pytest.approx(times[lost], abs=0.25 * every)
    assert event_losses(train(times, times[-1] + 0.5 * every, height=height), RATE_HZ).size == 0


def test_uneven_firing_is_not_lost():
    gaps = np.tile([0.030, 0.050], 20)  # 90 and 150 degrees in turn
    times = 0.05 + np.cumsum(gaps)
    assert event_losses(train(times, times[-1] + 0.02), RATE_HZ).size == 0
    assert event_losses(train(np.delete(times, 12), times[-1] + 0.02), RATE_HZ).size == 1


def test_several_strikes_are_one_event():
    first = 0.05 + 0.08 * np.arange(25)
    times = np.sort(np.concatenate([first, first + 0.006, first + 0.012]))
    assert event_losses(train(times, first[-1] + 0.05), RATE_HZ).size == 0
    without = [t for t in times if not 0.8 < t < 0.87]
    assert event_losses(train(without, first[-1] + 0.05), RATE_HZ).size == 1


def test_what_falls_silent_for_good_is_lost_once():
    times = 0.05 + 0.05 * np.arange(20)
    found = event_losses(train(times, 3.0), RATE_HZ)
    assert found == pytest.approx([1.05], abs=0.02)


def test_noise_and_silence_have_no_events_to_lose():
    noise = np.random.default_rng(1).standard_normal(20_000)
    assert event_losses(noise, RATE_HZ).size == 0
    assert event_losses(np.zeros(20_000), RATE_HZ).size == 0
    assert event_losses(train([0.5, 0.6], 2.0), RATE_HZ).size == 0

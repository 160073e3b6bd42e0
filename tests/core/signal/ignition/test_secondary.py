"""Every figure of a spark, read back from sparks whose figures are known."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.signal.ignition.secondary import find_sparks
from tests.core.sparks import RATE, spark


def trace(*, count=4, gap_s=0.15, noise=0.01, sign=1.0, offset=0.0, seed=1, **about):
    rng = np.random.default_rng(seed)
    kv = rng.normal(0.0, noise, int(RATE * gap_s * count))
    for k in range(count):
        shape, broke = spark(**about)
        first = int((k + 0.4) * gap_s * RATE) - broke
        kv[first : first + shape.size] += shape
    return (sign * kv + offset).astype(np.float32)


@pytest.mark.parametrize("sign", [1.0, -1.0])
@pytest.mark.parametrize("offset", [0.0, 2.0])
def test_figures_of_a_plain_spark(sign, offset):
    found = find_sparks(trace(sign=sign, offset=offset), RATE)
    assert found.count == 4
    assert found.inverted is (sign < 0)
    np.testing.assert_allclose(found.firing_kv, 10.0, atol=0.1)
    np.testing.assert_allclose(found.line_kv, 1.2, rtol=0.03)
    np.testing.assert_allclose(found.duration_ms, 1.4, atol=0.06)
    np.testing.assert_allclose(found.dwell_ms, 3.0, atol=0.05)
    assert (found.rings >= 3).all()
    np.testing.assert_allclose(np.diff(found.at_s), 0.15, atol=1e-4)


def test_a_rising_line_is_a_rise():
    flat, steep = find_sparks(trace(rise=0.0), RATE), find_sparks(trace(rise=0.6), RATE)
    assert abs(np.median(flat.rise)) < 0.05
    assert np.median(steep.rise) == pytest.approx(0.6, abs=0.1)


def test_no_ringing_is_seen_as_none():
    assert np.median(find_sparks(trace(rings=0), RATE).ringing) < 0.05


def test_a_breakdown_without_a_line_burns_nothing():
    found = find_sparks(trace(firing=30.0, line=0.0), RATE)
    assert found.count == 4
    assert (found.line_kv == 0).all()
    assert (found.duration_ms == 0).all()


def test_a_low_breakdown_is_not_taken_for_its_turn_on():
    found = find_sparks(trace(firing=2.2, line=0.5, length_ms=2.0, step=1.6), RATE)
    assert found.count == 4
    assert not found.inverted
    np.testing.assert_allclose(found.firing_kv, 2.2, atol=0.2)


def test_restrikes_are_counted_and_a_stray_sample_is_none():
    calm = trace()
    assert (find_sparks(calm, RATE).restrikes == 0).all()
    blown, stray = calm.copy(), calm.copy()
    for k in range(4):
        at = int((k + 0.4) * 0.15 * RATE)
        stray[at + int(0.7e-3 * RATE)] += 6.0
        for ms in (0.5, 0.9):
            blown[at + int(ms * 1e-3 * RATE) :][:4] += 6.0
    np.testing.assert_array_equal(find_sparks(blown, RATE).restrikes, 2)
    assert (find_sparks(stray, RATE).restrikes == 0).all()


def test_noise_alone_holds_no_sparks():
    assert find_sparks(np.random.default_rng(3).normal(0, 0.05, 100_000).astype(np.float32), RATE).count == 0


@settings(max_examples=25, deadline=None)
@given(
    firing=st.floats(4.0, 30.0), line=st.floats(0.6, 3.0), length=st.floats(0.7, 2.4), sign=st.sampled_from([1.0, -1.0])
)
def test_whatever_the_spark_its_height_and_length_come_back(firing, line, length, sign):
    found = find_sparks(trace(firing=firing, line=min(line, 0.4 * firing), length_ms=length, sign=sign), RATE)
    assert found.count == 4
    assert np.median(found.firing_kv) == pytest.approx(firing, rel=0.03, abs=0.1)
    assert np.median(found.duration_ms) == pytest.approx(length, abs=0.12)


@settings(max_examples=30, deadline=None)
@given(st.binary(min_size=0, max_size=4000))
def test_no_trace_whatever_ends_it(raw):
    values = np.frombuffer(raw[: len(raw) // 4 * 4], dtype=np.float32)
    with np.errstate(all="ignore"):
        found = find_sparks(np.where(np.abs(values) < 1e6, values, np.nan).astype(np.float32), RATE)
    assert found.count >= 0


@pytest.mark.parametrize("rate_hz", [500.0, 1000.0, 1500.0, 3000.0])
def test_sparks_sampled_more_coarsely_than_a_dwell_have_none_rather_than_an_error(rate_hz):
    coarse = trace()[:: int(RATE / rate_hz)]
    found = find_sparks(coarse, rate_hz)
    assert found.count >= 0
    assert not np.any(found.dwell_ms < 0)

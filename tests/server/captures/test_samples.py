import numpy as np
import pytest
from django.utils import timezone

from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures import samples
from fairwitness.server.captures.services import keep_capture
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))


@pytest.fixture
def stored(case, technician):
    capture = cranking(FOUR, missing_share=0.001, rate_hz=20_000.0)
    return capture, keep_capture(case, capture, by=technician, at=timezone.now())


def test_what_is_stored_comes_back_bit_for_bit(stored):
    capture, row = stored
    again = samples.read(row)
    assert again.sha256 == capture.sha256
    assert again.set_up == capture.set_up


@pytest.mark.parametrize(("begin", "end"), [(0, 100), (65_500, 65_600), (100_000, 119_999), (0, 10**9), (50, 50)])
def test_any_window_is_the_slice(stored, begin, end):
    capture, row = stored
    channel = row.channels.get(position=0)
    end = min(end, capture.time.samples)
    np.testing.assert_array_equal(samples.read_span(channel, 0, begin, end), capture.channels[0].samples[begin:end])


@pytest.mark.parametrize("points", [50, 500, 3000])
def test_an_envelope_misses_no_extreme(stored, points):
    capture, row = stored
    total = capture.time.samples
    rows, step = samples.envelopes(row, 0, total, points)
    assert step > 1
    for values, channel in zip(rows, capture.channels, strict=True):
        assert values.size <= 2 * points + 2
        assert np.nanmax(values[1::2]) == pytest.approx(np.nanmax(channel.samples))
        covered = channel.samples[: values.size // 2 * step]
        assert np.nanmin(values[0::2]) == pytest.approx(np.nanmin(covered))


def test_a_short_window_is_the_samples_themselves(stored):
    capture, row = stored
    rows, step = samples.envelopes(row, 1000, 1400, 2000)
    assert step == 1
    for values, channel in zip(rows, capture.channels, strict=True):
        np.testing.assert_array_equal(values, channel.samples[1000:1400])

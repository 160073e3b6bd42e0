import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.errors import CaptureError
from fairwitness.core.model.capture import Capture, Channel, Role, TimeBase
from fairwitness.core.model.engine import even_engine
from fairwitness.core.signal.cycle_folding import averaged, cycle_view, fold, oddness, read_between, snap

FOUR = even_engine((1, 3, 4, 2))
RATE, PERIOD_S = 10_000.0, 0.16


def marked(signal, *, cylinder=3, seconds=3.0, sync=True):
    """A signal of (time in the cycle as a share) with a command pulse that ends where each cycle begins."""
    count = int(seconds * RATE)
    times = np.arange(count) / RATE
    phase = (times - 0.05) / PERIOD_S
    command = np.where((phase % 1.0) > 0.98, 5.0, 0.0)
    channels = [
        Channel(name="trace", role=Role.CYLINDER_PRESSURE, unit="bar", samples=signal(phase).astype(np.float32))
    ]
    if sync:
        channels.append(
            Channel(
                name="sync",
                role=Role.COIL_CONTROL,
                unit="V",
                samples=command.astype(np.float32),
                cylinder=cylinder,
                sync=True,
            )
        )
    return Capture(name="x", time=TimeBase(samples=count, rate_hz=RATE), channels=tuple(channels))


def test_cycles_begin_at_the_sync_and_windows_follow_the_firing_order():
    view = cycle_view(marked(lambda p: p % 1.0), FOUR)
    assert np.diff(view.cycles.starts_s) == pytest.approx(PERIOD_S, abs=2e-4)
    assert [w.cylinder for w in view.windows] == [3, 4, 2, 1]
    assert view.windows[0].from_deg == view.from_deg == pytest.approx(-27.0)
    assert view.windows[-1].to_deg == pytest.approx(view.from_deg + 720)
    assert view.certain


def test_a_wave_of_the_cycle_folds_into_equal_rows_at_its_place():
    capture = marked(lambda p: np.sin(2 * np.pi * p))
    view = cycle_view(capture, FOUR)
    folded = fold(capture.channels[0].samples, capture.time, view, 360)
    assert folded.shape == (view.cycles.count, 720)
    middles = 0.5 * (folded[1:-1, 0::2] + folded[1:-1, 1::2])
    share = view.from_deg / 720 + (np.arange(360) + 0.5) / 360
    np.testing.assert_allclose(middles, np.tile(np.sin(2 * np.pi * share), (middles.shape[0], 1)), atol=0.03)


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 29_999), st.sampled_from([36, 360, 1440]))
def test_no_peak_is_lost_between_columns(at, bins):
    capture = marked(lambda p: np.zeros(p.size))
    capture.channels[0].samples[at] = 9.0
    view = cycle_view(capture, FOUR)
    folded = fold(capture.channels[0].samples, capture.time, view, bins)
    moment = at / RATE
    lead = view.from_deg / 720 * PERIOD_S
    inside = view.cycles.starts_s[0] + lead + 1e-3 < moment < view.cycles.ends_s[-1] + lead - 1e-3
    if inside:
        assert np.nanmax(folded) == 9.0


def test_columns_narrower_than_samples_are_read_between_them():
    capture = marked(lambda p: p)
    view = cycle_view(capture, FOUR)
    folded = fold(capture.channels[0].samples, capture.time, view, 4096)
    steps = np.diff(0.5 * (folded[3, 0::2] + folded[3, 1::2]))
    assert (steps >= -1e-4).all()


def test_the_averaged_cycle_is_the_median_with_its_spread():
    rng = np.random.default_rng(1)
    capture = marked(lambda p: np.sin(2 * np.pi * p) + 0.1 * rng.normal(size=p.size))
    view = cycle_view(capture, FOUR)
    folded = fold(capture.channels[0].samples, capture.time, view, 180)
    centre, low, high = averaged(folded)
    assert (low <= centre).all()
    assert (centre <= high).all()
    share = view.from_deg / 720 + (np.arange(180) + 0.5) / 180
    assert np.abs(centre - np.sin(2 * np.pi * share)).max() < 0.12


def test_the_odd_cycle_comes_first():
    capture = marked(lambda p: np.sin(2 * np.pi * p) * np.where(np.floor(p) == 7, 0.2, 1.0))
    view = cycle_view(capture, FOUR)
    scores = oddness(fold(capture.channels[0].samples, capture.time, view, 180))
    odd = int(np.argmax(scores))
    assert view.cycles.starts_s[odd] == pytest.approx(0.05 + 7 * PERIOD_S, abs=2e-3)
    assert scores[odd] > 5


def test_without_a_mark_there_are_no_cycles_and_it_says_so():
    bare = Capture(
        name="x",
        time=TimeBase(samples=100, rate_hz=RATE),
        channels=(Channel(name="a", role=Role.STARTER_CURRENT, unit="A", samples=np.zeros(100, np.float32)),),
    )
    with pytest.raises(CaptureError, match="marks a cylinder"):
        cycle_view(bare, FOUR)
    with pytest.raises(CaptureError, match="too few cycles"):
        cycle_view(marked(lambda p: p, seconds=0.2), FOUR)


def test_a_reading_between_cursors_is_worked_by_hand():
    time = TimeBase(samples=1001, rate_hz=1000.0)
    ramp = np.arange(1001) / 1000.0 * 2.0  # 2 per second
    reading = read_between(ramp, time, 0.75, 0.25)
    assert (reading.from_s, reading.to_s) == (0.25, 0.75)
    assert (reading.first, reading.last) == pytest.approx((0.5, 1.5))
    assert reading.mean == pytest.approx(1.0)
    assert reading.area == pytest.approx(0.5)
    assert reading.slope == pytest.approx(2.0)
    assert reading.hertz == pytest.approx(2.0)


def test_missing_samples_are_left_out_of_a_reading():
    values = np.ones(100)
    values[10:20] = np.nan
    assert read_between(values, TimeBase(samples=100, rate_hz=100.0), 0.0, 0.9).mean == 1.0
    with pytest.raises(CaptureError, match="no samples between"):
        read_between(values, TimeBase(samples=100, rate_hz=100.0), 0.105, 0.106)


def test_cursors_snap_to_the_edge_and_to_the_peak():
    time = TimeBase(samples=1000, rate_hz=1000.0)
    step = np.where(np.arange(1000) >= 400, 5.0, 0.0)
    assert snap(step, time, 0.41, kind="edge", reach_s=0.05) == pytest.approx(0.3995)
    bump = np.exp(-(((np.arange(1000) - 600) / 8.0) ** 2))
    assert snap(bump, time, 0.62, kind="peak", reach_s=0.05) == pytest.approx(0.6)
    assert snap(np.zeros(1000), time, 0.5, kind="edge", reach_s=0.05) == 0.5

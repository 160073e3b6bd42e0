"""Hump finding against a general signal library (scipy.signal.find_peaks) on clean data.

The library counts crests; it knows no cylinders. On a healthy engine without noise both must agree on how many humps a
cycle has, where they stand, and how even their heights are.
"""

import numpy as np
import pytest
from scipy.signal import find_peaks, peak_prominences

from fairwitness.core.model.engine import even_engine
from fairwitness.core.procedures.relative_compression.measure import measure
from tests.conftest import cranking

ORDERS = [(1, 3, 2), (1, 3, 4, 2), (1, 2, 4, 5, 3), (1, 5, 3, 6, 2, 4)]


@pytest.mark.parametrize("order", ORDERS)
def test_crests_and_evenness_agree(order):
    engine = even_engine(order)
    capture = cranking(engine, noise_a=0.0)
    measured = measure(capture, engine)
    amps = capture.channels[0].samples.astype(float)
    first, last = (int(t * capture.time.rate_hz) for t in (measured.cycle_starts_s[0], measured.cycle_starts_s[-1]))
    crests, _ = find_peaks(amps[first:last], prominence=5.0)
    cycles = len(measured.cycle_starts_s) - 1
    assert len(crests) == pytest.approx(cycles * engine.cylinders, abs=1)
    heights = peak_prominences(amps[first:last], crests)[0][1:-1]
    theirs = np.ptp(np.percentile(heights, (10, 90))) / np.median(heights)
    ours = np.ptp([f.value for f in measured.findings])
    assert theirs < 0.1
    assert ours < 0.1


@pytest.mark.parametrize("order", ORDERS[1:])
def test_the_crest_the_library_misses_is_the_cylinder_we_name(order):
    engine = even_engine(order)
    dead = order[1]
    capture = cranking(engine, {dead: 0.02}, noise_a=0.0)
    measured = measure(capture, engine)
    strip = measured.averaged_cycle
    tripled = np.tile(strip.middle, 3)
    crests, _ = find_peaks(tripled, prominence=0.25 * np.ptp(strip.middle))
    own = crests[(crests >= strip.middle.size) & (crests < 2 * strip.middle.size)] - strip.middle.size
    columns = {int(c * engine.cylinders / strip.middle.size) for c in own}
    assert engine.position(dead) not in columns
    assert [f.cylinder for f in measured.findings if f.state == "absent"] == [dead]


def test_peak_frequency_is_speed_times_cylinders_over_120():
    """One compression per cylinder per 720 degrees: f = rpm * n / 120, a fact of the four-stroke cycle."""
    engine = even_engine((1, 3, 4, 2))
    capture = cranking(engine, noise_a=0.0)
    measured = measure(capture, engine)
    amps = capture.channels[0].samples[int(2.0 * capture.time.rate_hz) :].astype(float)
    spectrum = np.abs(np.fft.rfft((amps - amps.mean()) * np.hanning(amps.size), 8 * amps.size))
    peak = np.argmax(spectrum) * capture.time.rate_hz / (8 * amps.size)
    assert peak == pytest.approx(measured.facts["speed_rpm"] * 4 / 120, rel=0.03)

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.model.engine import CrankWheel
from fairwitness.core.signal.crank.wheel import CrankAngle, crank_angle, smoothed_wheel
from tests.core.wheels import passing_times, tooth_angles

PATTERNS = {
    "60-2": "x" * 58 + "..",
    "36-1": "x" * 35 + ".",
    "36-2-2-2": "x" * 16 + ".." + "x" * 13 + ".." + "x" + "..",
    "24": "x" * 24,
    "irregular": "xxx.xxxxxx.xxxxxxxx..xxxxxx",
}


def lively(angle):
    return 4800.0 * (1 + 0.03 * np.sin(np.deg2rad(2 * angle)) + 0.01 * np.sin(np.deg2rad(angle / 2)))


@pytest.mark.parametrize("name", PATTERNS)
def test_any_wheel_is_learned_from_its_gaps_or_a_sync(name):
    pattern = PATTERNS[name]
    angles = tooth_angles(pattern, 20)
    times = passing_times(angles, lively)
    starts = np.interp(np.arange(0.0, 20 * 360.0, 720.0), angles, times)
    crank = crank_angle(times, cycle_starts_s=starts if "." not in pattern else None)
    assert crank.teeth == len(pattern)
    inverted = crank.angle_deg - angles
    np.testing.assert_allclose(inverted, inverted[0], atol=1e-6)


def test_a_single_gap_ends_where_the_angle_is_a_multiple_of_a_turn():
    angles = tooth_angles(PATTERNS["60-2"], 10)
    crank = crank_angle(passing_times(angles, lively))
    assert crank.gapped
    after_gap = np.flatnonzero(np.diff(crank.angle_deg) > 12.0) + 1
    np.testing.assert_allclose(crank.angle_deg[after_gap] % 360.0, 0.0, atol=1e-6)


def test_a_regular_wheel_without_a_sync_stays_open_unless_the_engine_says():
    times = passing_times(tooth_angles(PATTERNS["24"], 10), lively)
    assert crank_angle(times) is None
    assert crank_angle(times, wheel=CrankWheel(teeth=24, missing=0)).teeth == 24


@settings(max_examples=25, deadline=None)
@given(st.sets(st.integers(70, 900), min_size=1, max_size=2))
def test_lost_teeth_do_not_shift_the_rest(lost):
    angles = tooth_angles(PATTERNS["60-2"], 20)
    times = passing_times(angles, lively)
    kept = np.array([i for i in range(times.size) if i not in lost])
    crank = crank_angle(times[kept], wheel=CrankWheel(teeth=60, missing=2))
    assert crank.teeth == 60
    inverted = crank.angle_deg - angles[kept]
    assert np.mean(np.abs(inverted - np.median(inverted)) < 0.5) > 0.8
    assert abs(inverted[-1] - inverted[0]) < 0.5


def test_what_the_wheel_repeats_every_turn_is_taken_out():
    pattern = PATTERNS["60-2"]
    angles = tooth_angles(pattern, 40)
    rng = np.random.default_rng(3)
    place = np.rint(angles / 6.0).astype(int) % 60
    error = rng.normal(0.0, 0.08, 60)
    times = passing_times(angles + error[place], lively)
    crank = crank_angle(times)
    smoothed = smoothed_wheel(crank, 4)
    assert smoothed.spacing_deg == pytest.approx(0.08, rel=0.35)
    true = angles + error[place]

    def fast(found):
        off = found.angle_deg - true
        return np.std(np.diff(off - np.median(off)))

    assert fast(smoothed) < 0.5 * fast(crank)


def test_an_error_wider_than_a_tooth_is_not_taken_for_the_wheels():
    """Teeth that would change places are left where they were seen: angles go on rising."""
    angles = tooth_angles(PATTERNS["60-2"], 40)
    place = np.rint(angles / 6.0).astype(int) % 60
    error = np.where(place == 30, 5.9, 0.0) - np.where(place == 31, 5.9, 0.0)
    seen = CrankAngle(times_s=passing_times(angles, lively), angle_deg=angles + 0.499 * error, teeth=60, gapped=True)
    late = replace(seen, times_s=np.sort(seen.times_s + 0.4 * (place == 30) / 4800.0 * 6.0))
    for crank in (seen, late):
        assert np.all(np.diff(smoothed_wheel(crank, 4).angle_deg) > 0)

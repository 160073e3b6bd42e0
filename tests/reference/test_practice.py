"""Facts of the trade, common practice without a source, as limits of the product."""

from fairwitness.core import thresholds


def test_battery_limits_are_the_usual_ones():
    assert thresholds.CRANKING_VOLT_MIN.value == 9.6
    assert thresholds.RESTED_VOLT_MIN.value == 12.4


def test_evenness_follows_the_usual_bands():
    """Within 10-15 % even, 15-25 % suspicious, below about 75 % of the highest low, below about 25 % dead."""
    assert 0.85 <= thresholds.COMPRESSION_SUSPICIOUS_SHARE.value <= 0.90
    assert 0.75 <= thresholds.COMPRESSION_LOW_SHARE.value <= 0.85
    assert 0.20 <= thresholds.COMPRESSION_ABSENT_SHARE.value <= 0.30


def test_ignition_limits_are_the_usual_ones():
    """Under 20 kV at idle, spark line under 6 kV, sparks over 0.9 ms, earth drop under 0.2 V."""
    assert thresholds.FIRING_HIGH_KV.value == 20.0
    assert thresholds.LINE_HIGH_KV.value == 6.0
    assert thresholds.DURATION_SHORT_MS.value == 0.9
    assert thresholds.EARTH_DROP_MAX_V.value == 0.2


def test_meter_ranges_hold_the_usual_parts_and_no_broken_ones():
    """Primary 0.4 to 2 ohm, secondary 5 to 15 kilohm; injectors 12 to 16 ohm, 2 to 3 ohm on peak and hold."""
    for low, high, usual in (
        (thresholds.PRIMARY_OHM_MIN, thresholds.PRIMARY_OHM_MAX, (0.4, 2.0)),
        (thresholds.SECONDARY_OHM_MIN, thresholds.SECONDARY_OHM_MAX, (5_000.0, 15_000.0)),
        (thresholds.SATURATED_OHM_MIN, thresholds.SATURATED_OHM_MAX, (12.0, 16.0)),
        (thresholds.LOW_OHM_MIN, thresholds.LOW_OHM_MAX, (2.0, 3.0)),
    ):
        assert low.value <= usual[0] < usual[1] <= high.value
        assert high.value < 2.5 * usual[1]
        assert low.value > 0.5 * usual[0]

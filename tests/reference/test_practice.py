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

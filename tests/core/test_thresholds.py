from fairwitness.core import thresholds
from fairwitness.core.thresholds import Threshold

LIMITS = {name: value for name, value in vars(thresholds).items() if isinstance(value, Threshold)}


def test_every_limit_says_where_it_comes_from():
    assert len(LIMITS) > 30
    untagged = [name for name, limit in LIMITS.items() if not limit.source.startswith(("[P:", "[T]", "[M]"))]
    assert untagged == []


def test_compression_limits_stand_in_order():
    assert (
        thresholds.COMPRESSION_ABSENT_SHARE.value
        < thresholds.BESIDE_DEAD_HOLE_LOW_SHARE.value
        < thresholds.COMPRESSION_LOW_SHARE.value
        < thresholds.COMPRESSION_SUSPICIOUS_SHARE.value
        < 1
        < thresholds.COMPRESSION_HIGH_SHARE.value
    )

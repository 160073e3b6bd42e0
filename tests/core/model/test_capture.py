import numpy as np
import pytest

from fairwitness.core.errors import CaptureError
from fairwitness.core.model.capture import Capture, Channel, Role, TimeBase


def channel(samples, **about):
    values = np.asarray(samples, dtype=np.float32)
    return Channel(**({"name": "a", "role": Role.STARTER_CURRENT, "unit": "A", "samples": values} | about))


def test_even_stamps_become_a_rate():
    time = TimeBase.from_stamps(np.arange(100) * 0.001 + 5.0)
    assert time.stamps_s is None
    assert time.rate_hz == pytest.approx(1000.0)
    assert time.at(np.array([0, 99])) == pytest.approx([5.0, 5.099])


def test_uneven_stamps_are_kept():
    stamps = np.array([0.0, 0.1, 0.2, 5.0, 5.1, 5.2])
    time = TimeBase.from_stamps(stamps)
    assert time.stamps_s is not None
    assert time.rate_hz == pytest.approx(10.0)
    assert time.at(np.array([2.5])) == pytest.approx([2.6])


@pytest.mark.parametrize(
    ("stamps", "says"),
    [
        ([0.0], "One sample"),
        ([0.0, 1.0, 1.0], "does not rise at sample 3"),
        ([0.0, 2.0, 1.0], "does not rise at sample 3"),
        ([0.0, np.nan, 1.0], "no number at sample 2"),
        ([0.0, np.inf, 1.0], "no number at sample 2"),
    ],
)
def test_time_that_cannot_be_is_refused_with_its_place(stamps, says):
    with pytest.raises(CaptureError, match=says):
        TimeBase.from_stamps(np.array(stamps))


@pytest.mark.parametrize("rate", [0.0, -5.0, np.nan, np.inf])
def test_a_rate_that_cannot_be_is_refused(rate):
    with pytest.raises(CaptureError, match="sample rate"):
        TimeBase(samples=10, rate_hz=rate)


def test_channels_of_unequal_length_are_refused():
    with pytest.raises(CaptureError, match="holds 3 samples"):
        Capture(name="x", time=TimeBase(samples=4, rate_hz=1.0), channels=(channel([1, 2, 3]),))


def test_the_fingerprint_follows_samples_roles_and_time():
    time = TimeBase(samples=3, rate_hz=10.0)
    base = Capture(name="x", time=time, channels=(channel([1, 2, 3]),))
    same = Capture(name="another name", time=time, channels=(channel([1, 2, 3]),))
    others = [
        Capture(name="x", time=time, channels=(channel([1, 2, 4]),)),
        Capture(name="x", time=time, channels=(channel([1, 2, 3], unit="mA"),)),
        Capture(name="x", time=TimeBase(samples=3, rate_hz=11.0), channels=(channel([1, 2, 3]),)),
    ]
    assert same.sha256 == base.sha256
    assert len({base.sha256, *(o.sha256 for o in others)}) == 4

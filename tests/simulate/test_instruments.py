import numpy as np
import pytest

from fairwitness.core.model.capture import Role
from fairwitness.core.model.engine import even_engine
from fairwitness.simulate.instruments import Rig, record, sync_pulses
from tests.conftest import crank_run

FOUR = even_engine((1, 3, 4, 2))
RUN = crank_run((1, 3, 4, 2), (1.0,) * 4)


def recorded(**rig):
    return record(RUN, FOUR, Rig(**rig), rng=np.random.default_rng(1))


def test_channels_follow_the_rig():
    assert [c.role for c in recorded(voltage=True).channels] == [
        Role.STARTER_CURRENT, Role.BATTERY_VOLTAGE, Role.COIL_CONTROL,
    ]  # fmt: skip
    assert [c.role for c in recorded(current=False, voltage=True, sync_cylinder=None).channels] == [
        Role.BATTERY_VOLTAGE
    ]


def test_the_clamp_turns_shifts_and_clips():
    plain, other = recorded().channels[0].samples, recorded(clamp_sign=-1.0, clamp_zero_a=50.0).channels[0].samples
    np.testing.assert_allclose(other, 50.0 - plain, atol=1e-3)
    assert np.abs(recorded(clamp_range_a=100.0).channels[0].samples).max() == pytest.approx(100.0)


def test_the_spark_comes_before_tdc_once_per_cycle():
    times = np.arange(0, 6.0, 0.0002)
    level = sync_pulses(RUN, FOUR, Rig(sync_cylinder=3, sync_advance_deg=10.0), times)
    sparks = times[np.flatnonzero(np.diff(level) < 0)]
    angles = np.interp(sparks[2:], RUN.time_s, RUN.angle_deg)
    np.testing.assert_allclose((angles - 180.0 + 10.0 + 360) % 720, 360.0, atol=2.0)


def test_missing_samples_are_missing():
    share = np.isnan(recorded(missing_share=0.1).channels[0].samples).mean()
    assert share == pytest.approx(0.1, abs=0.02)

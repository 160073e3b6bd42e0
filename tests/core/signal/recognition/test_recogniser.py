import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.signal.recognition.recogniser import (
    SHIPPED,
    allows,
    read_weights,
    recognised,
    write_weights,
)
from fairwitness.core.signal.recognition.shape import NAMES, outline_of, pulses_hz, shape, stretches_of
from fairwitness.simulate.examine import capture_of
from fairwitness.simulate.garage import build, engine_named

RATE = 20_000.0


def ramps(*, height=7.0, every_s=0.1, rise_s=0.003, seconds=2.0):
    """A coil's current: a climb from nothing, then nothing at once."""
    t = np.arange(int(seconds * RATE)) / RATE
    inside = t % every_s
    return np.where(inside < rise_s, height * inside / rise_s, 0.0)


def plateaus(*, height=1.0, every_s=0.12, on_s=0.004):
    t = np.arange(int(2 * RATE)) / RATE
    inside = t % every_s
    return np.where(inside < on_s, height * (1 - np.exp(-inside / 0.0006)), 0.0)


@pytest.mark.parametrize(
    ("samples", "unit", "role"),
    [
        (ramps(), "A", Role.COIL_CURRENT),
        (ramps(height=0.7), "V", Role.COIL_CURRENT),
        (-ramps(height=700), "mV", Role.COIL_CURRENT),
        (plateaus(), "A", Role.INJECTOR_CURRENT),
        (12.4 + 0.05 * np.sin(np.arange(40_000) / 300), "V", Role.BATTERY_VOLTAGE),
    ],
)
def test_what_is_drawn_by_hand_is_known_by_its_shape(samples, unit, role):
    noise = np.random.default_rng(3).normal(0, 0.002 * np.ptp(samples), samples.size)
    assert recognised(outline_of(samples + noise), RATE, unit)[0].role is role


@pytest.mark.parametrize(
    ("test", "role", "unit"),
    [
        (CaptureTest.RELATIVE_COMPRESSION, Role.STARTER_CURRENT, "A"),
        (CaptureTest.SECONDARY_VOLTAGE, Role.SECONDARY_VOLTAGE, "kV"),
        (CaptureTest.CRANK_SPEED, Role.CRANK_SENSOR, "V"),
        (CaptureTest.CYLINDER_PRESSURE, Role.CYLINDER_PRESSURE, "bar"),
        (CaptureTest.INJECTOR_VOLTAGE, Role.INJECTOR_VOLTAGE, "V"),
    ],
)
def test_what_an_engine_gives_is_known(test, role, unit):
    rng = np.random.default_rng(12)
    capture = capture_of(build(engine_named("drover-1.6"), rng=rng), test, rng=rng)
    channel = capture.with_role(role)[0]
    assert channel.unit == unit
    assert recognised(outline_of(channel.samples), capture.time.rate_hz, unit)[0].role is role


def test_a_unit_rules_roles_out():
    roles = {c.role for c in recognised(outline_of(ramps()), RATE, "A")}
    assert roles == {Role.STARTER_CURRENT, Role.COIL_CURRENT, Role.INJECTOR_CURRENT}
    assert not allows("kV", Role.COIL_CONTROL)
    assert not allows("rpm", Role.COIL_CONTROL)
    assert allows(None, Role.CYLINDER_PRESSURE)


def test_a_name_is_strong_and_no_proof():
    unnamed = {c.role: c.chance for c in recognised(outline_of(ramps()), RATE, "V")}
    named = {c.role: c.chance for c in recognised(outline_of(ramps()), RATE, "V", called=Role.INJECTOR_CURRENT)}
    assert named[Role.INJECTOR_CURRENT] > unnamed[Role.INJECTOR_CURRENT]
    assert named[Role.COIL_CURRENT] > 0
    assert recognised(outline_of(ramps()), RATE, "A", called=Role.BATTERY_VOLTAGE)[0].role is Role.COIL_CURRENT


def test_a_trace_that_stands_still_is_nothing_unless_it_is_called_something():
    assert [c.role for c in recognised(outline_of(np.full(500, 2.0)), RATE, "V")] == [Role.OTHER]
    assert recognised(outline_of(np.full(500, 2.0)), RATE, "V", called=Role.COIL_CONTROL)[0].role is Role.COIL_CONTROL


@settings(max_examples=60, deadline=None)
@given(
    samples=arrays(np.float64, st.integers(0, 300), elements=st.floats(-1e9, 1e9) | st.just(float("nan"))),
    unit=st.sampled_from([None, "V", "mV", "A", "bar", "kV", "rpm"]),
)
def test_anything_has_chances_that_sum_to_one(samples, unit):
    chances = [c.chance for c in recognised(outline_of(samples), RATE, unit)]
    assert sum(chances) == pytest.approx(1.0)
    assert chances == sorted(chances, reverse=True)
    outline = outline_of(samples)
    if outline is not None:
        told = shape(outline, RATE, unit)
        assert told.size == len(NAMES)
        assert np.isfinite(told).all()


def test_a_gain_changes_the_level_and_nothing_else_of_a_shape():
    one, other = (shape(outline_of(ramps() * gain), RATE, None) for gain in (1.0, 1e-3))
    np.testing.assert_allclose(one, other, atol=1e-6)


def test_heights_and_rates_are_those_that_were_drawn():
    assert outline_of(ramps()).height == pytest.approx(7.0, rel=0.05)
    assert pulses_hz(outline_of(ramps(every_s=0.08)), RATE) == pytest.approx(12.5, rel=0.01)
    assert pulses_hz(outline_of(np.arange(100.0)), RATE) is None
    assert outline_of(np.zeros(100)) is None
    crank = np.concatenate((np.zeros(9000), np.full(200, 700.0), np.full(8000, 150.0)))
    assert outline_of(crank).standing == pytest.approx(150.0)


def test_a_long_trace_is_looked_at_in_stretches():
    long = np.zeros(3_000_000, np.float32)
    assert stretches_of(long).size < 300_000
    assert stretches_of(np.array([1.0, np.nan, 2.0])).tolist() == [1.0, 2.0]


def test_weights_survive_their_file_and_others_are_refused():
    text = write_weights(SHIPPED, ["made here"])
    again = read_weights(text)
    assert text.startswith("# made here\n")
    assert again.roles == SHIPPED.roles
    np.testing.assert_allclose(again.slope, SHIPPED.slope, rtol=1e-3)
    with pytest.raises(ValueError, match="other numbers"):
        read_weights(text.replace("near_top", "far_top"))

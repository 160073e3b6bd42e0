import numpy as np
import pytest

from fairwitness.core.model.capture import CaptureTest, Channel, EngineState, Role, SetUp
from fairwitness.core.signal.cranking.trace import slow_trace
from fairwitness.core.signal.quality import set_up_reasons
from tests.conftest import cranking

RATE = 4000.0


def clamp(samples, role=Role.STARTER_CURRENT, unit="A"):
    return Channel(name="a", role=role, unit=unit, samples=np.asarray(samples, dtype=np.float32))


def codes(trace):
    return {r.code for r in trace.reasons}


def blocking(trace):
    return {r.code for r in trace.reasons if r.blocking}


def read(capture, role=Role.STARTER_CURRENT):
    return slow_trace(capture.with_role(role)[0], capture.time.rate_hz, capture.time.start_s)


def test_a_clean_crank_raises_nothing(four):
    trace = read(cranking(four))
    assert codes(trace) == set()
    assert trace.rest_level == pytest.approx(0.0, abs=2.0)
    assert trace.cranking_s[0] == pytest.approx(0.5, abs=0.1)


def test_a_reversed_clamp_is_turned_and_said(four):
    upright, inverted = read(cranking(four)), read(cranking(four, clamp_sign=-1.0))
    assert codes(inverted) == {"reversed"}
    assert np.median(inverted.values) == pytest.approx(np.median(upright.values), rel=0.05)


def test_a_clamp_not_zeroed_is_taken_out_and_said(four):
    trace = read(cranking(four, clamp_zero_a=60.0))
    assert codes(trace) == {"clamp_zero"}
    assert trace.rest_level == pytest.approx(60.0, abs=2.0)
    assert np.median(trace.values[:200]) == pytest.approx(0.0, abs=3.0)


def test_clipped_humps_block_and_a_clipped_inrush_does_not(four):
    steady = read(cranking(four)).values[1500:]
    assert "clipped" in blocking(read(cranking(four, clamp_range_a=float(np.percentile(steady, 70)))))
    assert blocking(read(cranking(four, clamp_range_a=float(steady.max() * 1.2)))) == set()


@pytest.mark.parametrize(
    ("samples", "code"),
    [
        (np.full(8000, 3.0), "dead_channel"),
        (np.full(8000, np.nan), "no_samples"),
        (np.concatenate((np.zeros(4000), np.full(4000, 1e30))), "impossible_values"),
    ],
)
def test_signals_that_say_nothing_block(samples, code):
    assert blocking(slow_trace(clamp(samples), RATE, 0.0)) == {code}


def test_a_little_current_is_not_cranking():
    ripple = 3 + np.sin(np.linspace(0, 300, 24000))
    samples = np.concatenate((np.zeros(4000), ripple, np.zeros(4000)))
    assert "starter_level" in blocking(slow_trace(clamp(samples), RATE, 0.0))


def test_a_weak_battery_blocks(four):
    volts = read(cranking(four, voltage=True), Role.BATTERY_VOLTAGE)
    assert blocking(volts) == set()
    weak = cranking(four, voltage=True).with_role(Role.BATTERY_VOLTAGE)[0].samples - 3.2
    assert "battery_weak" in blocking(slow_trace(clamp(weak, Role.BATTERY_VOLTAGE, "V"), RATE, 0.0))


def test_spikes_are_counted(four):
    assert "spikes" in codes(read(cranking(four, spikes_per_s=10.0)))


@pytest.mark.parametrize(
    ("set_up", "expected"),
    [
        (SetUp(test=CaptureTest.RELATIVE_COMPRESSION, fuel_disabled=True), set()),
        (SetUp(fuel_disabled=False), {("fuel_not_disabled", True)}),
        (SetUp(), {("fuel_state_unknown", False)}),
        (SetUp(fuel_disabled=True, engine_state=EngineState.RUNNING), {("not_cranking", True)}),
    ],
)
def test_the_set_up_speaks_for_or_against(set_up, expected):
    assert {(r.code, r.blocking) for r in set_up_reasons(set_up)} == expected

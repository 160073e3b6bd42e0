"""A starter current made ready: where cranking was found, which way it points, what is said against it."""

import numpy as np
import pytest

from fairwitness.core.model.capture import Channel, Role
from fairwitness.core.signal.cranking.trace import slow_trace

RATE = 2_000.0


def humps(*, rest_s=0.5, crank_s=4.0, after_s=0.5, level=150.0, swing=60.0, hertz=7.0, inrush=400.0, zero=0.0):
    """At rest, inrush, even humps, at rest again; A."""
    rest, crank, after = (int(RATE * s) for s in (rest_s, crank_s, after_s))
    t = np.arange(crank) / RATE
    engaged = -np.expm1(-t / 0.012)
    run = engaged * (level + swing * np.sin(2 * np.pi * hertz * t) + inrush * np.exp(-t / 0.05))
    values = np.concatenate((np.zeros(rest), run, np.zeros(after))) + zero
    return values + np.random.default_rng(4).normal(0.0, 1.0, values.size)


def sags(**settings):
    """The battery beside it: 12.6 V, 5 mOhm... and the same humps downwards."""
    return 12.6 - 0.012 * humps(**settings)


def trace(values, role=Role.STARTER_CURRENT, unit=None, start_s=0.0):
    unit = unit or ("A" if role is Role.STARTER_CURRENT else "V")
    return slow_trace(Channel(name="c", role=role, unit=unit, samples=values.astype(np.float32)), RATE, start_s)


def codes(made):
    return {r.code for r in made.reasons}


def test_cranking_is_found_between_two_rests():
    made = trace(humps())
    begin, end = made.cranking_s
    assert begin == pytest.approx(0.5, abs=0.05)
    assert end == pytest.approx(4.5, abs=0.05)
    assert made.rest_level == pytest.approx(0.0, abs=1.0)
    assert made.usable
    assert codes(made) == set()


def test_time_is_the_captures_own():
    assert trace(humps(), start_s=30.0).cranking_s[0] == pytest.approx(30.5, abs=0.05)


def test_the_working_rate_is_a_thousand_a_second_and_crests_point_up():
    made = trace(humps())
    assert made.rate_hz == 1000.0
    assert made.times_s.size == made.values.size
    inside = made.values[(made.times_s > 1.0) & (made.times_s < 4.0)]
    assert inside.mean() == pytest.approx(150.0, abs=5.0)
    assert inside.max() == pytest.approx(210.0, abs=8.0)


def test_a_clamp_on_backwards_is_turned_over_and_said():
    made = trace(-humps())
    assert made.inverted
    assert "reversed" in codes(made)
    assert made.values.max() > 300.0


def test_a_clamp_that_was_not_zeroed_loses_its_zero():
    made = trace(humps(zero=35.0))
    assert made.rest_level == pytest.approx(35.0, abs=1.0)
    assert "clamp_zero" in codes(made)
    inside = made.values[(made.times_s > 1.0) & (made.times_s < 4.0)]
    assert inside.mean() == pytest.approx(150.0, abs=5.0)


def test_a_battery_voltage_has_its_compressions_downwards():
    made = trace(sags(), Role.BATTERY_VOLTAGE)
    assert not made.inverted
    assert made.rest_level == pytest.approx(12.6, abs=0.1)
    inside = made.values[(made.times_s > 1.0) & (made.times_s < 4.0)]
    assert inside.max() == pytest.approx(0.012 * 210.0, abs=0.15)


def test_swapped_leads_of_a_voltmeter_are_turned_over():
    made = trace(-sags(), Role.BATTERY_VOLTAGE)
    assert made.inverted
    assert "reversed" in codes(made)


def test_a_stretch_cut_out_of_cranking_has_no_rest():
    made = trace(humps(rest_s=0.0, after_s=0.0, inrush=0.0))
    assert made.rest_level is None
    assert made.cranking_s[1] - made.cranking_s[0] == pytest.approx(4.0, abs=0.02)


def test_spikes_are_counted_and_taken_out():
    values = humps()
    values[[2_001, 4_000, 6_002]] += 900.0
    made = trace(values)
    assert "spikes" in codes(made)
    inside = made.values[(made.times_s > 1.0) & (made.times_s < 4.0)]
    assert inside.max() < 240.0


def test_missing_samples_are_bridged_and_said():
    values = humps()
    values[3_000:3_040] = np.nan
    made = trace(values)
    assert "gaps" in codes(made)
    assert np.isfinite(made.values).all()


def test_steady_crests_cut_off_at_a_range_are_refused():
    made = trace(np.minimum(humps(), 170.0))
    assert "clipped" in codes(made)
    assert not made.usable


def test_an_inrush_alone_cut_off_does_no_harm():
    assert trace(np.minimum(humps(), 230.0)).usable


@pytest.mark.parametrize(
    ("values", "code"),
    [
        (np.full(4_000, np.nan), "no_samples"),
        (np.zeros(6), "no_samples"),
        (np.full(4_000, 3.0), "dead_channel"),
        (humps() * 1e6, "impossible_values"),
    ],
)
def test_what_holds_nothing_is_refused_with_its_reason(values, code):
    made = trace(values)
    assert code in codes(made)
    assert not made.usable


def test_a_battery_that_hardly_sags_was_not_cranking():
    made = trace(12.6 + np.random.default_rng(2).normal(0.0, 0.005, 9_000), Role.BATTERY_VOLTAGE)
    assert "not_cranking" in codes(made)


def test_a_battery_that_breaks_down_while_cranking_is_too_weak_to_judge_by():
    made = trace(12.2 - 0.028 * humps(), Role.BATTERY_VOLTAGE)
    assert "battery_weak" in codes(made)
    assert not made.usable


def test_a_battery_that_rests_low_is_said():
    made = trace(sags() - 0.6, Role.BATTERY_VOLTAGE)
    assert "battery_low" in codes(made)

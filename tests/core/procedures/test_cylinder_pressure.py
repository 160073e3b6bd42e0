"""Cylinder pressure: what is put in comes out, in any unit, and faults are told from sound cylinders."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import EngineState
from fairwitness.core.model.engine import VALVE_EVENTS, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.cylinder_pressure.measure import measure, valve_events_of
from tests.core.pressures import ATMOSPHERE, pressure_capture

SIX = even_engine((1, 4, 2, 5, 3, 6))


def figures(reported, cylinder=1):
    return reported.figures[cylinder]


def outcomes(reported, cylinder):
    return {s.kind: s.outcome for s in reported.categorical if s.cylinders == (cylinder,)}


@settings(max_examples=25, deadline=None)
@given(
    ratio=st.floats(8.5, 12.5), n=st.floats(1.22, 1.35), closes=st.floats(-145.0, -100.0), opens=st.floats(130.0, 170.0)
)
def test_events_exponent_and_top_dead_centre_come_back(ratio, n, closes, opens):
    # Where the exhaust opens as the expansion comes back to the pressure it began at, nothing marks the moment.
    assume(abs(opens + closes) > 18.0)
    reported = measure(pressure_capture(SIX, {1: {"ratio": ratio, "n": n, "closes": closes, "opens": opens}}), SIX)
    own = figures(reported)
    assert own["intake_closes_deg"] == pytest.approx(closes, abs=3.0)
    assert own["exhaust_opens_deg"] == pytest.approx(opens, abs=5.0)
    assert abs(own["lag_deg"]) < 0.5
    assert own["compression_exponent"] == pytest.approx(n, abs=0.06)
    assert own["lean"] == pytest.approx(1.0, abs=0.08)


@pytest.mark.parametrize(
    ("unit", "offset"), [("bar", -ATMOSPHERE), ("psi", -ATMOSPHERE), ("kPa", 0.0), ("kPa", 40_000.0)]
)
def test_unit_gauge_absolute_and_a_wrong_zero_read_alike(unit, offset):
    reported = measure(pressure_capture(SIX, {1: {}}, unit=unit, offset=offset), SIX)
    usual = measure(pressure_capture(SIX, {1: {}}), SIX)
    assert figures(reported)["peak_bar"] == pytest.approx(figures(usual)["peak_bar"], rel=0.01)
    assert figures(reported)["intake_closes_deg"] == pytest.approx(figures(usual)["intake_closes_deg"], abs=1.0)


def test_a_leaking_cylinder_leans_and_stands_below_its_peer():
    reported = measure(pressure_capture(SIX, {1: {}, 2: {"kept": 0.6}}), SIX)
    states = {f.cylinder: f.state for f in reported.findings if not f.is_remark}
    assert states == {1: State.NORMAL, 2: State.LOW}
    assert outcomes(reported, 2)["pressure_tower"] == "leans"
    assert outcomes(reported, 1)["pressure_tower"] == "even"
    shares = dict(zip(SIX.firing_order, reported.lines[0].alternatives[0], strict=True))
    assert shares[2] < 0.8 < shares[1]
    told_of = {f.cylinder: render(f.statement) for f in reported.findings if not f.is_remark}
    assert "peers" in told_of[2]
    assert "peers" not in told_of[1]


def test_of_three_that_were_tried_the_two_that_leak_are_not_the_peers():
    reported = measure(pressure_capture(SIX, {1: {}, 2: {"kept": 0.6}, 3: {"kept": 0.6}}), SIX)
    states = {f.cylinder: f.state for f in reported.findings if not f.is_remark}
    assert states == {1: State.NORMAL, 2: State.LOW, 3: State.LOW}
    shares = dict(zip(SIX.firing_order, reported.lines[0].alternatives[0], strict=True))
    assert shares[1] == pytest.approx(1.0, abs=0.03)


def test_valve_events_are_not_read_from_levels_as_coarse_as_they_are():
    capture = pressure_capture(SIX, {1: {}, 2: {}}, noise=0.0)
    eight_bits = tuple(replace(c, samples=np.round(c.samples / 0.39) * np.float32(0.39)) for c in capture.channels)
    assert "valve_events" in outcomes(measure(capture, SIX), 1)
    assert "valve_events" not in outcomes(measure(replace(capture, channels=eight_bits), SIX), 1)


@pytest.mark.parametrize(
    ("late", "outcome"), [(36.0, "very_late"), (14.0, "late"), (-24.0, "very_early"), (-14.0, "early"), (6.0, "usual")]
)
def test_shifted_valves_are_told_by_their_peer_in_degrees(late, outcome):
    reported = measure(pressure_capture(SIX, {1: {}, 2: {"late": late}}), SIX)
    assert outcomes(reported, 2)["valve_events"] == outcome
    assert outcomes(reported, 1)["valve_events"] == "usual"
    shift = [f.value for f in reported.findings if f.quantity == "valve_shift"]
    assert shift == ([] if outcome == "usual" else [pytest.approx(late, abs=4.0)])


def test_a_known_good_narrows_what_may_still_be_another_design():
    capture = pressure_capture(SIX, {1: {"closes": -118.0, "opens": 152.0}})  # fourteen degrees late, or built so
    good = replace(SIX, extra={VALVE_EVENTS[False]: [-132.0, 138.0]})
    built_so = replace(SIX, extra={VALVE_EVENTS[False]: [-118.0, 152.0]})
    reported = [measure(capture, engine) for engine in (SIX, good, built_so)]
    assert [outcomes(m, 1).get("valve_events") for m in reported] == [None, "late", "usual"]
    (shift,) = [render(f.statement) for f in reported[1].findings if f.quantity == "valve_shift"]
    assert shift.endswith("degrees late beside a known good of this engine.")


@pytest.mark.parametrize(("changed", "cam"), [({"closes": -90.0}, "intake"), ({"opens": 100.0}, "exhaust")])
def test_one_cam_that_moved_beside_the_other_is_told_in_degrees(changed, cam):
    known = replace(SIX, extra={"valve_events_cranking_deg": [-130.0, 140.0]})
    reported = measure(pressure_capture(SIX, {1: changed}), known)
    assert outcomes(reported, 1)["valve_events"] == ("late" if cam == "intake" else "early")
    [(text, value)] = [(render(f.statement), f.value) for f in reported.findings if f.quantity == "valve_shift"]
    assert f"Only the {cam} cam stands off" in text
    assert abs(value) == pytest.approx(40.0, abs=5.0)
    both = measure(pressure_capture(SIX, {1: {"late": 40.0}}), known)
    assert "Only" not in " ".join(render(f.statement) for f in both.findings)


def test_a_measurement_says_what_an_engine_would_be_known_by():
    reported = measure(pressure_capture(SIX, {1: {"closes": -118.0, "opens": 152.0}}), SIX)
    assert valve_events_of(reported)[VALVE_EVENTS[False]] == pytest.approx([-118.0, 152.0], abs=5.0)
    assert valve_events_of(replace(reported, usable=False)) == {}


def test_an_exhaust_valve_that_stays_shut_shows_a_second_tower():
    reported = measure(pressure_capture(SIX, {1: {}, 2: {"shut_exhaust": True}}), SIX)
    assert outcomes(reported, 2)["valve_events"] == "exhaust_shut"


def test_a_single_cylinder_is_judged_by_what_engines_do():
    low = measure(pressure_capture(SIX, {3: {"ratio": 6.0}}), SIX)
    assert outcomes(low, 3)["pressure_level"] == "low"
    assert not low.lines
    assert outcomes(measure(pressure_capture(SIX, {3: {}}), SIX), 3)["pressure_level"] == "normal"


def test_running_peaks_are_not_judged_by_cranking_figures():
    reported = measure(
        pressure_capture(SIX, {1: {"intake": 35_000.0}}, rpm=800.0, cycles=20, state=EngineState.RUNNING), SIX
    )
    assert "pressure_level" not in outcomes(reported, 1)
    assert figures(reported)["intake_bar"] == pytest.approx(-0.66, abs=0.05)


def test_a_cylinder_without_any_tower_is_absent_beside_one_with():
    made = pressure_capture(SIX, {1: {}, 2: {}})
    flat = made.channels[1].samples * np.float32(0.0)
    object.__setattr__(made.channels[1], "samples", flat)
    reported = measure(made, SIX)
    assert {f.cylinder: f.state for f in reported.findings if not f.is_remark}[2] is State.ABSENT


def test_a_dead_transducer_is_refused():
    made = pressure_capture(SIX, {1: {}}, noise=0.0)
    object.__setattr__(made.channels[0], "samples", np.zeros_like(made.channels[0].samples))
    assert not measure(made, SIX).usable

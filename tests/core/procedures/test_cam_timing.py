"""Cam against crank on a wheel and a cam drawn for the purpose."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import CAM_EDGES, CrankWheel, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.cam_timing.measure import applies, edges_of, measure, offset_deg

EDGES = (40.0, 250.0)
WHEEL = CrankWheel(teeth=36, missing=1)
FOUR = even_engine((1, 3, 4, 2), crank_wheel=WHEEL)
KNOWN = replace(FOUR, extra={CAM_EDGES: list(EDGES)})


def both(late=0.0, *, seconds=3.0, rpm=750.0, rate=40_000.0, cam_v=5.0):
    times = np.arange(int(seconds * rate)) / rate
    angle = 6.0 * rpm * times
    place = angle % 360.0 / 10.0
    there = np.floor(place) < WHEEL.teeth - WHEEL.missing
    crank = np.where(there & (np.abs(place - np.floor(place) - 0.25) < 0.25), 5.0, 0.0)
    cam = np.zeros(times.size)
    for edge, turn in zip(EDGES, (0.0, 360.0), strict=True):
        cam[(angle - late - edge - turn) % 720.0 < 60.0] = cam_v
    return Capture(
        name="both",
        time=TimeBase(samples=times.size, rate_hz=rate),
        channels=(
            Channel(name="crank", role=Role.CRANK_SENSOR, unit="V", samples=crank),
            Channel(name="cam", role=Role.CAM_SENSOR, unit="V", samples=cam),
        ),
        set_up=SetUp(engine_state=EngineState.RUNNING),
    )


def test_it_reads_captures_with_both_sensors_only():
    capture = both()
    assert applies(capture)
    assert not applies(replace(capture, channels=capture.channels[:1]))


def test_a_cam_where_it_belongs_is_usual():
    reported = measure(both(), KNOWN)
    assert reported.categorical[0].outcome == "usual"
    assert reported.findings[0].state is State.NORMAL


@settings(max_examples=12, deadline=None)
@given(st.floats(-40.0, 40.0).filter(lambda off: abs(off) > 8.0))
def test_degrees_and_side_come_back(off):
    reported = measure(both(off), KNOWN)
    assert reported.findings[0].value == pytest.approx(off, abs=1.0)
    assert reported.categorical[0].outcome == ("late" if off > 0 else "early")


def test_without_a_known_good_nothing_is_judged():
    reported = measure(both(20.0), FOUR)
    assert reported.categorical == ()
    assert "no known good" in render(reported.findings[0].statement)
    assert edges_of(reported) == pytest.approx([60.0, 270.0], abs=1.0)


def test_a_sensor_that_does_not_switch_is_refused():
    assert not measure(both(cam_v=0.1), KNOWN).usable


@given(st.lists(st.floats(0, 359), min_size=1, max_size=4, unique=True), st.floats(-25, 25))
def test_one_turn_of_all_edges_is_found_again(edges, off):
    known = np.sort(np.array(edges))
    gaps = np.diff(np.concatenate((known, [known[0] + 360.0])))
    if gaps.min() < 60.0:
        return
    assert offset_deg((known + off) % 360.0, known) == pytest.approx(off, abs=1e-6)

"""What a shop holds as known good is what the next engine of that name is held up to."""

from dataclasses import replace

import numpy as np
import pytest
from django.utils import timezone

from fairwitness.core.model.capture import CaptureTest
from fairwitness.core.model.engine import CAM_EDGES, VALVE_EVENTS
from fairwitness.server.captures.comparing import hold_as_known_good, no_longer_known_good
from fairwitness.server.captures.known_good import reference_data
from fairwitness.server.captures.services import keep_capture, withdraw_capture
from fairwitness.server.cases.evidence import captured, refresh_diagnosis
from fairwitness.server.cases.services import Intake, open_case
from fairwitness.simulate.examine import cam_capture, capture_of
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault

TIMING = Fault("valve_timing_shifted", (), 0.2)


def vehicle(*faults):
    return build(ENGINES["drover-2.0"], faults, rng=np.random.default_rng(4))


def case_of(own, by, **about):
    engine = replace(own.engine, **about)
    return open_case(Intake(title="Tram 9", engine=engine), by=by, at=timezone.now())


def cam(case, own, by):
    capture = cam_capture(own, level="clean", rng=np.random.default_rng(1))
    return keep_capture(case, capture, by=by, at=timezone.now())


def pressure(case, own, by):
    capture = capture_of(own, CaptureTest.CYLINDER_PRESSURE, level="clean", rng=np.random.default_rng(1), suspects=(1,))
    return keep_capture(case, capture, by=by, at=timezone.now())


def said(case, kind):
    return {s.outcome for m in captured(case).measured for s in m.categorical if s.kind == kind}


@pytest.fixture
def good(technician):
    sound = vehicle()
    case = case_of(sound, technician)
    held = [cam(case, sound, technician), pressure(case, sound, technician)]
    for capture in held:
        hold_as_known_good(capture, why="runs evenly", by=technician, at=timezone.now())
    return held


def test_the_edges_of_a_known_good_cam_judge_the_next_one(good, technician):
    late = vehicle(TIMING)
    case = case_of(late, technician)
    cam(case, late, technician)
    assert said(case, "cam_timing") == {"late"}
    offered = [t["id"] for t in refresh_diagnosis(case)["next_tests"]]
    assert "cam_timing" not in offered  # it was taken


def test_a_small_shift_shows_in_the_pressure_only_beside_a_known_good(good, technician):
    late = vehicle(TIMING)
    beside, alone = case_of(late, technician), case_of(late, technician, label="Another 2.0")
    for case in (beside, alone):
        pressure(case, late, technician)
    assert said(beside, "valve_events") & {"late", "very_late"}
    assert set(reference_data(beside.engine)) >= {CAM_EDGES, VALVE_EVENTS[False]}
    assert reference_data(alone.engine) == {}


def test_only_what_is_in_force_teaches(good, technician):
    case = case_of(vehicle(), technician)
    withdraw_capture(good[0], reason="wrong sensor", by=technician, at=timezone.now())
    assert set(reference_data(case.engine)) == {VALVE_EVENTS[False]}
    no_longer_known_good(good[1], by=technician, at=timezone.now())
    assert reference_data(case.engine) == {}


def test_an_engine_without_a_name_or_of_another_make_up_is_held_up_to_none(good, technician):
    assert reference_data(case_of(vehicle(), technician, label="").engine) == {}
    other = case_of(vehicle(), technician)
    other.engine = {**other.engine, "firing_order": [1, 2, 4, 3]}
    assert reference_data(other.engine) == {}


def test_what_the_case_itself_states_comes_first(good, technician):
    late = vehicle(TIMING)
    edges = reference_data(case_of(late, technician).engine)[CAM_EDGES]
    stated = case_of(late, technician, extra={CAM_EDGES: [(e + 24.0) % 360 for e in edges]})
    cam(stated, late, technician)
    assert said(stated, "cam_timing") == {"usual"}

"""A capture beside what the shop holds: its spread, variants, conditions and leads, and what is only typical."""

from dataclasses import replace

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from fairwitness.core.errors import CaptureError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case
from fairwitness.formats.case_package_writing import write_package
from fairwitness.formats.engine_block import engine_block
from fairwitness.server.captures.beside import beside
from fairwitness.server.captures.comparing import hold_as_known_good, no_longer_known_good
from fairwitness.server.captures.models import CameFrom, KnownGood, StoredCapture
from fairwitness.server.captures.services import keep_capture
from fairwitness.server.captures.shelf import practise, shelve
from fairwitness.server.cases.changing import diagnosis_of
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.cases.services import Intake, open_case
from fairwitness.server.engines.records import Described, describe
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault

NAME = "Hollin Drover 2.0"
ENGINE = replace(ENGINES["drover-2.0"], label=NAME)


def recorded(*faults, seed=3, tests=("coil_current",), hot=True):
    vehicle = build(ENGINE, faults, rng=np.random.default_rng(seed))
    return replace(examine(vehicle, list(tests), hot=hot, seed=seed), engine=ENGINE)


@pytest.fixture
def here(technician):
    """A case with a capture of a coil that draws too little in cylinder 3."""
    case = open_case(Intake(title="Bus 3", vehicle="Bus 3", engine=ENGINE), by=technician, at=timezone.now())
    (capture,) = recorded(Fault("coil_primary_open", (3,)), seed=4).captures
    return keep_capture(case, capture, by=technician, at=timezone.now())


def on_the_shelf(by, case=None, came_from=CameFrom.COLLEAGUE):
    return shelve(
        case or recorded(), file_name="bus 9.zip", why="runs evenly", came_from=came_from, by=by, at=timezone.now()
    )


def test_nothing_held_says_so_and_gives_what_is_typical_as_typical(here):
    found = beside(here)
    assert found.held == found.figures == ()
    assert "Nothing is held for this engine" in render(found.words)


def test_a_colleagues_package_judges_a_capture_without_a_case_of_its_own(here, technician):
    shelf = on_the_shelf(technician)
    assert (shelf.shelf, shelf.status, shelf.observations.count()) == (True, "closed", 0)
    found = beside(here)
    assert [one.used for one in found.held] == [True]
    assert any(3 in figure.low for figure in found.figures)
    assert "cylinder 3 is lower" in render(found.words)


def test_a_sound_capture_lies_inside(here, technician):
    on_the_shelf(technician)
    case = open_case(Intake(title="Bus 4", vehicle="Bus 4", engine=ENGINE), by=technician, at=timezone.now())
    (capture,) = recorded(seed=8).captures
    found = beside(keep_capture(case, capture, by=technician, at=timezone.now()))
    assert not any(figure.high or figure.low for figure in found.figures)


def test_another_name_is_shown_with_a_warning_and_not_counted(here, technician):
    other = recorded()
    on_the_shelf(technician, replace(other, engine=replace(other.engine, label="Hollin Drover 2.0 late")))
    (held,) = beside(here).held
    assert not held.used
    assert "perhaps another variant" in render(held.warnings[0])


def test_a_variant_of_it_counts_and_says_what_differs(here, technician):
    block = {k: v for k, v in engine_block(ENGINE).items() if k != "label"}
    now = timezone.now()
    describe(Described(label=NAME, block={**block, "injector_ohms": 14.0}), by=technician, at=now)
    late = "Hollin Drover 2.0 late"
    describe(Described(label=late, variant_of=NAME, block={"injector_ohms": 12.0}), by=technician, at=now)
    other = recorded()
    on_the_shelf(technician, replace(other, engine=replace(other.engine, label=late)))
    (held,) = beside(here).held
    assert held.used
    assert "injector ohms 12.0 there, 14.0 here" in render(held.warnings[0])


def test_another_condition_and_another_lead_are_said(here, technician):
    on_the_shelf(technician, recorded(hot=False))
    StoredCapture.objects.get(pk=here.pk).channels.filter(role__endswith="current").update(
        lead={"kind": "clamp", "per_volt": 100.0, "unit": "A"}
    )
    (held,) = beside(StoredCapture.objects.get(pk=here.pk)).held
    said = " ".join(render(w) for w in held.warnings)
    assert "Taken cold" in said
    assert "Through a plain wire, this one through clamp" in said


def test_simulated_ones_say_that_they_are(here, technician):
    block = {k: v for k, v in engine_block(ENGINE).items() if k != "label"}
    describe(Described(label=NAME, block=block), by=technician, at=timezone.now())
    practise(NAME, ["coil_current"], by=technician, at=timezone.now())
    (held,) = beside(here).held
    assert held.good.came_from == CameFrom.PRACTICE
    assert any("Simulated" in render(w) for w in held.warnings)


@pytest.mark.parametrize(
    ("case", "said"),
    [
        (Case(name="x", engine=ENGINE), "no capture"),
        (replace(recorded(), engine=replace(ENGINE, label="")), "has no name"),
    ],
)
def test_what_cannot_go_on_the_shelf_leaves_nothing_behind(technician, case, said):
    with pytest.raises(CaptureError, match=said):
        on_the_shelf(technician, case)
    assert not StoredCase.objects.exists()


@pytest.mark.parametrize(("label", "tests"), [("nobody's", ["coil_current"]), (NAME, ["tea_leaves"])])
def test_what_cannot_be_practised(technician, label, tests):
    block = {k: v for k, v in engine_block(ENGINE).items() if k != "label"}
    describe(Described(label=NAME, block=block), by=technician, at=timezone.now())
    with pytest.raises(CaptureError):
        practise(label, tests, by=technician, at=timezone.now())
    assert not KnownGood.objects.exists()


def test_what_is_on_the_shelf_is_no_job_in_the_list(as_user, technician):
    on_the_shelf(technician)
    assert as_user(technician).get("/api/cases/").json()["count"] == 0


def test_a_board_kept_before_is_judged_anew_once_something_is_held(here, technician):
    before = diagnosis_of(here.case)["learned"]["mark"]
    on_the_shelf(technician)
    assert diagnosis_of(here.case)["learned"]["mark"] != before
    no_longer_known_good(KnownGood.objects.get().capture, by=technician, at=timezone.now())
    assert diagnosis_of(here.case)["learned"]["mark"] == before


def test_over_http_from_the_package_to_the_figures(as_user, technician, here):
    client = as_user(technician)
    package = SimpleUploadedFile("bus 9.zip", write_package(replace(recorded(), name="bus-9")))
    told = client.post("/api/known-goods/package/", {"file": package})
    assert told.status_code == 201
    assert [(row["came_from"], row["engine"]) for row in told.json()] == [("colleague", NAME)]
    found = client.get(f"/api/captures/{here.pk}/beside/").json()
    assert found["held"][0]["used"]
    peak = next(f for f in found["figures"] if f["words"] == "peak current")
    assert 3 in peak["low"]
    assert peak["low_here"] < peak["usual"]
    assert len(client.get(f"/api/known-goods/?engine={NAME}").json()) == 1
    assert client.get("/api/known-goods/?engine=other").json() == []


def test_an_own_case_is_held_and_offered_as_own(here, technician):
    hold_as_known_good(here, why="after the repair", by=technician, at=timezone.now())
    assert KnownGood.objects.get().came_from == CameFrom.OWN

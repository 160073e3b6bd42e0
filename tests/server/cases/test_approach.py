"""How a case is worked: settings kept, minutes of an engine, and what is only imagined."""

import pytest
from django.utils import timezone

from fairwitness.core.messages.rendering import spoken
from fairwitness.core.model.engine import even_engine
from fairwitness.server.cases import services
from fairwitness.server.cases.models import EngineAccess, FuelState, StoredCase
from fairwitness.server.cases.services import Intake, open_case


def post(client, case, what, data):
    return client.post(f"/api/cases/{case.pk}/{what}/", data, content_type="application/json")


def test_settings_answer_with_the_board_and_stay(as_user, technician, case):
    client = as_user(technician)
    answer = post(client, case, "approach", {"order": "quickest_first", "tools": ["meter", "scan_tool"]})
    assert answer.status_code == 200
    reported = client.get(f"/api/cases/{case.pk}/").json()
    assert reported["approach"]["order"] == "quickest_first"
    assert reported["approach"]["tools"] == ["meter", "scan_tool"]
    assert reported["approach"]["repair"] == "part_only"
    assert all("clamp" not in offer["tools"] for offer in reported["next_tests"])


@pytest.mark.parametrize("changes", [{"order": "luck_first"}, {"tools": ["crystal_ball"]}, {"tools": "scope"}])
def test_settings_that_do_not_exist_are_refused_and_nothing_changes(as_user, technician, case, changes):
    before = StoredCase.objects.get(pk=case.pk).approach
    assert post(as_user(technician), case, "approach", changes).status_code == 400
    assert StoredCase.objects.get(pk=case.pk).approach == before


def test_the_next_case_is_worked_as_the_last_one(technician, case):
    now = timezone.now()
    services.set_approach(case, changes={"proof": "measure_in_place"}, by=technician, at=now)
    intake = Intake(title="Bus 4", vehicle="Bus 4", engine=even_engine((1, 3, 4, 2)))
    assert open_case(intake, by=technician, at=now).approach["proof"] == "measure_in_place"


def test_minutes_are_kept_for_every_vehicle_with_that_engine(as_user, technician, case):
    first = case.diagnosis["next_tests"][0]
    answer = post(as_user(technician), case, "access", {"test": first["id"], "minutes": 300})
    assert answer.status_code == 200
    assert answer.json()["next_tests"][0]["id"] != first["id"]
    other = open_case(
        Intake(title="Bus 5", vehicle="Bus 5", engine=even_engine((1, 3, 4, 2), label="Hollin Drover 2.0")),
        by=technician, at=timezone.now(),
    )  # fmt: skip
    assert other.diagnosis["next_tests"][0]["id"] != first["id"]
    post(as_user(technician), case, "access", {"test": first["id"], "minutes": None})
    assert not EngineAccess.objects.exists()


@pytest.mark.parametrize(
    "data", [{"test": "nonsense", "minutes": 5}, {"test": "vacuum", "minutes": 0}, {"test": "vacuum"}]
)
def test_minutes_that_cannot_be_are_refused(as_user, technician, case, data):
    assert post(as_user(technician), case, "access", data).status_code == 400
    assert not EngineAccess.objects.exists()


def test_what_is_imagined_moves_the_answer_and_leaves_no_trace(as_user, reader, case):
    before = StoredCase.objects.get(pk=case.pk)
    outcomes = [{"test": "relative_compression", "outcome": "absent", "cylinders": [3]}]
    answer = post(as_user(reader), case, "imagine", {"outcomes": outcomes})
    assert answer.status_code == 200
    assert answer.json()["verdict"]["cylinders"] == [3]
    assert answer.json()["verdict"]["seen"][0]["text"].startswith("Imagined:")
    after = StoredCase.objects.get(pk=case.pk)
    assert after.diagnosis == before.diagnosis
    assert (case.observations.count(), case.captures.count(), case.journal.count()) == (0, 0, 1)


@pytest.mark.parametrize(
    "outcomes",
    [[], [{"test": "relative_compression", "outcome": "exploded"}], [{"test": "none", "outcome": "low"}],
     [{"test": "leak_down", "outcome": "exhaust", "cylinders": [9]}]],
)  # fmt: skip
def test_what_cannot_come_out_cannot_be_imagined(as_user, reader, case, outcomes):
    assert post(as_user(reader), case, "imagine", {"outcomes": outcomes}).status_code == 400


def test_disabled_fuel_is_said_before_a_running_test(technician, case):
    now = timezone.now()
    services.set_fuel_state(case, state=FuelState.DISABLED, how="fuse 14", by=technician, at=now)
    running = next(t for t in case.diagnosis["next_tests"] if t["id"] == "crank_speed")
    assert "enable it again" in spoken(running["cautions"][0])

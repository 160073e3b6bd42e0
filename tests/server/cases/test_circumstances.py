"""Conditions of a complaint and of readings, from the intake through the database to the plan and into the package."""

import io
import json
import zipfile

import pytest
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.core.model.circumstances import Circumstances
from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures.services import export_case
from fairwitness.server.cases import life, services
from fairwitness.server.cases.services import Intake

ENGINE = {
    "cylinders": 4,
    "firing_order": [1, 3, 4, 2],
    "fuel": "petrol",
    "ignition": "coil_on_plug",
    "injection": "port",
}
HOT_AND_WET = {"temperature": "hot", "minutes_running": 20, "wet": True}


@pytest.fixture
def wet_case(technician):
    when = Circumstances(temperature="hot", wet=True)
    intake = Intake(title="Van 8", engine=even_engine((1, 3, 4, 2)), complaint="Jerks in the rain", complaint_when=when)
    return services.open_case(intake, by=technician, at=timezone.now())


def board(client, case_id):
    return client.get(f"/api/cases/{case_id}/").json()


def test_the_intake_keeps_when_it_comes_and_the_plan_asks_for_it(as_user, technician):
    client = as_user(technician)
    body = {"title": "Van 8", "engine": ENGINE, "complaint": "Jerks", "complaint_when": HOT_AND_WET}
    opened = client.post("/api/cases/", json.dumps(body), content_type="application/json")
    assert opened.status_code == 201
    seen = board(client, opened.json()["id"])
    assert seen["case"]["complaint_when"] == ["hot", "20 min after the start", "wet"]
    assert seen["plan"]["leave_alone"]
    running = [n for n in seen["next_tests"] if "20 min after the start" in n["reason"]]
    assert running, [n["reason"] for n in seen["next_tests"]]
    export = zipfile.ZipFile(io.BytesIO(client.get(f"/api/cases/{opened.json()['id']}/package/").content))
    block = json.loads(export.read("datapackage.json"))["fair_witness"]
    assert block["complaint_when"] == {"temperature": "hot", "minutes_running": 20.0, "wet": True}


@pytest.mark.parametrize("wrong", [{"temperature": "tepid"}, {"minutes_running": -3}, {"load": "flying"}])
def test_conditions_that_cannot_be_are_refused(as_user, technician, wrong):
    body = {"title": "Van 8", "engine": ENGINE, "complaint_when": wrong}
    answer = as_user(technician).post("/api/cases/", json.dumps(body), content_type="application/json")
    assert answer.status_code == 400


def test_a_form_keeps_under_which_conditions_it_was_read(as_user, technician, wet_case):
    client = as_user(technician)
    filled = {
        "values": {"spark": {"3": "strong"}},
        "entries": {},
        "choices": {},
        "circumstances": {"temperature": "hot", "happened": True},
    }
    answer = client.post(
        f"/api/cases/{wet_case.pk}/forms/spark_check/", json.dumps(filled), content_type="application/json"
    )
    assert answer.status_code == 201, answer.content
    [kept] = wet_case.observations.all()
    assert (kept.data["temperature"], kept.data["happened"], kept.data["spark"]) == ("hot", True, "strong")
    assert answer.json()["plan"]["leave_alone"] == []


def test_it_does_it_now_ranks_what_disturbs_nothing_first_and_is_in_the_journal(as_user, technician, wet_case):
    client = as_user(technician)
    answer = client.post(
        f"/api/cases/{wet_case.pk}/happening/", json.dumps({"happening": True}), content_type="application/json"
    )
    assert answer.json()["case"]["happening"] is True
    first = answer.json()["next_tests"][0]
    assert "It does it now" in first["reason"]
    assert first["test"] != "relative_compression"  # cranking would switch it off
    assert any("The key" in text for text in answer.json()["plan"]["leave_alone"])
    services.set_happening(wet_case, happening=False, by=technician, at=timezone.now())
    assert list(wet_case.journal.values_list("verb", flat=True))[-2:] == ["it does it now", "it does it no more"]


def test_a_closed_case_happens_no_more(technician, reader, wet_case):
    services.set_happening(wet_case, happening=True, by=technician, at=timezone.now())
    life.close_case(wet_case, by=technician, at=timezone.now())
    wet_case.refresh_from_db()
    assert not wet_case.happening
    with pytest.raises(ObservationError, match="closed"):
        services.set_happening(wet_case, happening=True, by=technician, at=timezone.now())


def test_conditions_travel_with_the_package(wet_case):
    block = json.loads(zipfile.ZipFile(io.BytesIO(export_case(wet_case))).read("datapackage.json"))["fair_witness"]
    assert block["complaint_when"] == {"temperature": "hot", "wet": True}

import pytest
from django.core.exceptions import PermissionDenied
from django.db import OperationalError
from django.http import Http404
from rest_framework.exceptions import ValidationError

from fairwitness.core.errors import EngineError
from fairwitness.server.problems import handle


def answer(error):
    response = handle(error, {})
    return response.status_code, response.data["code"], response.data["sentence"]


def test_each_kind_of_trouble_has_one_shape():
    assert answer(EngineError("No.", where="fuel", remedy="Yes.")) == (400, "engine_impossible", "fuel: No. Yes.")
    assert answer(Http404())[:2] == (404, "not_found")
    assert answer(PermissionDenied("A reader may not."))[:2] == (403, "not_allowed")
    assert answer(ValidationError({"columns": [{"unit": ["Wrong."]}]})) == (400, "invalid", "columns.unit: Wrong.")


def test_what_is_not_foreseen_is_not_hidden():
    assert handle(ZeroDivisionError(), {}) is None


@pytest.mark.parametrize(
    ("said", "code"),
    [
        ("database or disk is full", "disk_full"),
        ("attempt to write a readonly database", "read_only"),
        ("unable to open database file", "no_database"),
        ("database is locked", "busy"),
        ("no such table: cases_storedcase", "old_database"),
        ("database disk image is malformed", "damaged"),
        ("disk I/O error", "disk_fails"),
    ],
)
def test_each_state_of_the_database_has_its_own_words(said, code):
    status, reported, sentence = answer(OperationalError(said))
    assert (status, reported) == (503, code)
    assert "again" not in sentence or code in ("busy", "old_database")


def test_a_fault_in_a_query_is_ours_and_not_the_disks():
    assert handle(OperationalError("near SELEC: syntax error"), {}) is None


def test_a_fault_of_ours_is_logged_and_promises_nothing(client, technician, monkeypatch, caplog):
    client.force_login(technician)
    client.raise_request_exception = False
    monkeypatch.setattr("fairwitness.server.cases.api.StoredCase.objects", None)
    answered = client.get("/api/cases/")
    assert answered.status_code == 500
    assert answered.json()["code"] == "server_fault"
    assert "Nothing was stored" not in answered.json()["sentence"]
    assert any(record.exc_info for record in caplog.records)


def test_a_form_that_is_too_large_is_refused_as_a_problem(client, technician, settings):
    settings.DATA_UPLOAD_MAX_MEMORY_SIZE = 1000
    client.force_login(technician)
    answered = client.post("/api/cases/import/", {"note": "x" * 5000})
    assert answered.status_code == 400
    assert answered.json()["sentence"]

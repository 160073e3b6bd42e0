"""Bodies of requests over the real routes: nothing that would break a list later gets in, and nothing ends in a 500."""

from importlib import import_module

import pytest
from django.apps import apps

from fairwitness.server.cases.models import StoredCase
from fairwitness.server.parsing import JSON_BYTES_MAX

ENGINE = (
    '{"cylinders": 3, "firing_order": "1 3 2", "fuel": "petrol", "ignition": "coil_on_plug", "injection": "port"%s}'
)
CASE = '{"title": "Minibus 4%s", "engine": %s}'
HALF = "\\ud800"


def opened(client, title="", engine=""):
    body = CASE % (title, ENGINE % engine)
    return client.post("/api/cases/", body, content_type="application/json")


@pytest.fixture
def at_desk(client, technician):
    client.force_login(technician)
    return client


def test_half_a_character_in_the_engine_is_refused_and_the_list_goes_on(at_desk):
    assert opened(at_desk).status_code == 201
    refused = opened(at_desk, engine=f', "label": "{HALF}"')
    assert refused.status_code == 400
    assert refused.json()["where"] == "engine.label"
    assert at_desk.get("/api/cases/").json()["count"] == 1


def test_half_a_character_in_an_observation_is_refused(at_desk, case):
    body = '{"test": "vacuum", "data": {"note": "\\ud800"}}'
    answer = at_desk.post(f"/api/cases/{case.pk}/observations/", body, content_type="application/json")
    assert answer.status_code == 400
    assert answer.json()["code"] == "json_unreadable"


def test_what_was_stored_before_is_mended_by_the_migration(at_desk, case):
    name = "drover \ud83d\ud83d\udd27"  # one half, then a whole wrench
    StoredCase.objects.filter(pk=case.pk).update(engine={**case.engine, "label": name})
    import_module("fairwitness.server.cases.migrations.0008_no_half_characters").mend(apps, None)
    case.refresh_from_db()
    assert case.engine["label"].startswith("drover ?")
    assert at_desk.get("/api/cases/").status_code == 200
    assert at_desk.get(f"/api/cases/{case.pk}/").status_code == 200
    packed = at_desk.get(f"/api/cases/{case.pk}/package/")
    assert packed.status_code == 200
    assert b"".join(packed)[:2] == b"PK"


@pytest.mark.parametrize(
    "body",
    [
        "[" * 3000,
        '{"title": NaN}',
        "1e999",
        "\x00",
        "{",
        '{"title": 1e308, "engine": {"cylinders": 1e308}}',
        "[]",
        "null",
        "7",
    ],
)
def test_odd_bodies_are_refused_and_never_a_fault_of_ours(at_desk, body):
    answer = at_desk.post("/api/cases/", body, content_type="application/json")
    assert answer.status_code == 400
    assert answer.json()["sentence"]


def test_too_much_at_once_is_refused_as_a_problem(at_desk):
    answer = at_desk.post("/api/cases/", " " * (JSON_BYTES_MAX + 1), content_type="application/json")
    assert answer.status_code == 413
    assert answer.json() == {
        "code": "too_large",
        "what": "This is too much at once.",
        "where": "",
        "mend": "",
        "sentence": "This is too much at once.",
    }

import json

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.models import StoredCase
from tests.conftest import cranking
from tests.formats.packages import descriptor, package, resource

FOUR = even_engine((1, 3, 4, 2))


def csv(low=None, *, decimal=","):
    capture = cranking(FOUR, low or {3: 0.05}, rate_hz=1000.0)
    rows = zip(capture.channels[0].samples, capture.channels[1].samples, strict=True)
    lines = [f"{i};{a:.2f};{s:.2f}".replace(".", decimal) for i, (a, s) in enumerate(rows)]
    return ("Zeit;Clamp;Sync 1\n(ms);(A);(V)\n" + "\n".join(lines)).encode()


def plan(**changes):
    columns = [
        {"column": "Zeit", "role": "time", "unit": "ms"},
        {"column": "Clamp", "role": "starter_current", "unit": "A"},
        {"column": "Sync 1", "role": "coil_control", "unit": "V", "cylinder": 1, "sync": True},
    ]
    set_up = {"test": "relative_compression", "engine_state": "cranking", "fuel_disabled": True}
    return json.dumps({"name": "cranking", "columns": columns} | set_up | changes)


def send(client, url, data, name="crank.csv", **fields):
    return client.post(url, {"file": SimpleUploadedFile(name, data), **fields})


def test_a_file_is_looked_at_without_storing_it(as_user, technician, case):
    seen = send(as_user(technician), f"/api/cases/{case.pk}/look/", csv()).json()
    assert [c["role"] for c in seen["columns"]] == ["time", "starter_current", "coil_control"]
    assert seen["written"] == "semicolon between cells, decimal comma"
    assert len(seen["columns"][1]["preview"]) > 50
    assert not StoredCapture.objects.exists()


def test_a_file_becomes_evidence(as_user, technician, case):
    client = as_user(technician)
    kept = send(client, f"/api/cases/{case.pk}/captures/", csv(), plan=plan())
    assert kept.status_code == 201
    about = client.get(f"/api/captures/{kept.json()['id']}/").json()
    assert [c["role"] for c in about["channels"]] == ["starter_current", "coil_control"]
    assert about["file_name"] == "crank.csv"
    assert about["cycle_starts_s"]
    assert client.get(f"/api/cases/{case.pk}/").json()["verdict"]["cylinders"] == [3]


@pytest.mark.parametrize(
    ("data", "fields", "says"),
    [
        (b"", {}, "empty|No file|submitted"),
        (b"hello\nworld\n", {}, "No rows of numbers"),
        (b"\x00\x01\x02", {}, "not a text table"),
        (csv().replace(b"150;", b"150;oops", 1), {}, "not a number"),
        (csv(), {"plan": "{"}, "not JSON"),
        (csv(), {"plan": plan(columns=[])}, "No column|columns"),
        (csv(), {"plan": plan(columns=[{"column": "Clamp", "role": "seance", "unit": "A"}])}, "role"),
        (csv(), {"plan": plan(columns=[{"column": "Clamp", "role": "starter_current", "unit": "A"}])}, "sample rate"),
        (
            csv(),
            {"plan": plan(columns=[{"column": "Sync 1", "role": "coil_control", "unit": "V", "cylinder": 9}])},
            "no cylinder 9",
        ),
    ],
)
def test_bad_files_and_plans_get_a_sentence_and_store_nothing(as_user, technician, case, data, fields, says):
    import re

    answer = send(as_user(technician), f"/api/cases/{case.pk}/captures/", data, **({"plan": plan()} | fields))
    assert answer.status_code == 400
    assert re.search(says, answer.json()["sentence"])
    assert not StoredCapture.objects.exists()


def test_a_package_becomes_a_case_and_leaves_as_one(as_user, technician):
    client = as_user(technician)
    made = send(client, "/api/cases/import/", package(descriptor(resource())), name="bus.zip")
    assert made.status_code == 201
    out = client.get(f"/api/cases/{made.json()['id']}/package/")
    assert out["Content-Type"] == "application/zip"
    again = send(client, "/api/cases/import/", out.content, name="again.zip")
    first, second = StoredCase.objects.order_by("id")
    assert again.status_code == 201
    assert first.diagnosis == second.diagnosis


@pytest.mark.parametrize("data", [b"no zip", package(None), package(descriptor(version=3))])
def test_a_broken_package_makes_no_case(as_user, technician, data):
    answer = send(as_user(technician), "/api/cases/import/", data, name="bus.zip")
    assert answer.status_code == 400
    assert answer.json()["sentence"]
    assert not StoredCase.objects.exists()


def test_samples_travel_as_floats(as_user, technician, case):
    client = as_user(technician)
    kept = send(client, f"/api/cases/{case.pk}/captures/", csv(), plan=plan()).json()["id"]
    answer = client.get(f"/api/captures/{kept}/window/?from_s=1&to_s=1.5&points=1000")
    rows = np.frombuffer(answer.content, "<f4").reshape(int(answer["X-Channels"]), -1)
    for values, channel in zip(rows, cranking(FOUR, {3: 0.05}, rate_hz=1000.0).channels, strict=True):
        np.testing.assert_allclose(values, channel.samples[1000:1501], atol=0.006)
    assert (answer["X-First-Sample"], answer["X-Step"]) == ("1000", "1")


@pytest.mark.parametrize("query", ["from_s=x", "to_s=nan", "points=many", "from_s=inf"])
def test_a_window_that_cannot_be_is_refused(as_user, technician, case, query):
    client = as_user(technician)
    kept = send(client, f"/api/cases/{case.pk}/captures/", csv(), plan=plan()).json()["id"]
    assert client.get(f"/api/captures/{kept}/window/?{query}").status_code == 400


def test_withdrawing_needs_a_reason(as_user, technician, case):
    client = as_user(technician)
    kept = send(client, f"/api/cases/{case.pk}/captures/", csv(), plan=plan()).json()["id"]
    url = f"/api/captures/{kept}/withdraw/"
    assert client.post(url, {"reason": ""}, content_type="application/json").status_code == 400
    done = client.post(url, {"reason": "wrong car"}, content_type="application/json").json()
    assert (done["withdrawn"], done["may_withdraw"]) == (True, False)


def test_files_over_the_limit_are_refused(as_user, technician, case, settings):
    settings.UPLOAD_BYTES_MAX = 100
    answer = send(as_user(technician), f"/api/cases/{case.pk}/look/", csv())
    assert "larger than" in answer.json()["sentence"]

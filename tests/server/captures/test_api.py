import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from fairwitness.server.cases.models import StoredCase
from tests.conftest import cranking
from tests.formats.packages import descriptor, package, resource
from tests.server.imports.crank_table import FOUR, csv, plan
from tests.server.imports.sending import keep


def send(client, url, data, name="crank.csv", **fields):
    return client.post(url, {"file": SimpleUploadedFile(name, data), **fields})


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
    kept = keep(client, case, csv(), plan())["capture"]
    answer = client.get(f"/api/captures/{kept}/window/?from_s=1&to_s=1.5&points=1000")
    rows = np.frombuffer(answer.content, "<f4").reshape(int(answer["X-Channels"]), -1)
    for values, channel in zip(rows, cranking(FOUR, {3: 0.05}, rate_hz=1000.0).channels, strict=True):
        np.testing.assert_allclose(values, channel.samples[1000:1501], atol=0.006)
    assert (answer["X-First-Sample"], answer["X-Step"]) == ("1000", "1")


@pytest.mark.parametrize("query", ["from_s=x", "to_s=nan", "points=many", "from_s=inf"])
def test_a_window_that_cannot_be_is_refused(as_user, technician, case, query):
    client = as_user(technician)
    kept = keep(client, case, csv(), plan())["capture"]
    assert client.get(f"/api/captures/{kept}/window/?{query}").status_code == 400


def test_withdrawing_needs_a_reason(as_user, technician, case):
    client = as_user(technician)
    kept = keep(client, case, csv(), plan())["capture"]
    url = f"/api/captures/{kept}/withdraw/"
    assert client.post(url, {"reason": ""}, content_type="application/json").status_code == 400
    done = client.post(url, {"reason": "wrong car"}, content_type="application/json").json()
    assert (done["withdrawn"], done["may_withdraw"]) == (True, False)

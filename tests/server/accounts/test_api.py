import pytest

from tests.server.conftest import PASSWORD


def post(client, url, data, **extra):
    return client.post(url, data, content_type="application/json", **extra)


def test_logging_in_and_out(technician, client):
    assert client.get("/api/session/").json()["logged_in"] is False
    opened = post(client, "/api/session/", {"username": "tess", "password": PASSWORD})
    assert opened.json() | {"demo_accounts": []} == {
        "logged_in": True, "username": "tess", "name": "Tess Test", "role": "technician",
        "units": {"pressure": "bar", "vacuum": "kPa", "temperature": "C"}, "demo_accounts": [],
    }  # fmt: skip
    client.delete("/api/session/")
    assert client.get("/api/session/").json()["logged_in"] is False


def test_a_wrong_password_is_refused_in_words(technician, client):
    answer = post(client, "/api/session/", {"username": "tess", "password": "guess"})
    assert answer.status_code == 400
    assert answer.json()["sentence"] == "password: Name and password do not match."


@pytest.mark.parametrize("demo", [True, False])
def test_demo_accounts_show_only_in_demo_mode(db, client, settings, demo):
    settings.DEMO = demo
    assert bool(client.get("/api/session/").json()["demo_accounts"]) is demo


def test_a_request_from_elsewhere_is_refused(technician):
    from django.test import Client

    strict = Client(enforce_csrf_checks=True)
    strict.force_login(technician)
    answer = post(strict, "/api/cases/", {"title": "x", "engine": {}})
    assert answer.status_code == 403

import pytest
from django.core.exceptions import ValidationError
from django.test import Client

from fairwitness.server.accounts.models import Role, User
from tests.server.conftest import PASSWORD


def post(client, url, data, **extra):
    return client.post(url, data, content_type="application/json", **extra)


def test_logging_in_and_out(technician, client):
    assert client.get("/api/session/").json()["logged_in"] is False
    opened = post(client, "/api/session/", {"username": "tess", "password": PASSWORD})
    assert opened.json() | {"demo_accounts": []} == {
        "logged_in": True, "username": "tess", "name": "Tess Test", "role": "technician",
        "units": {"pressure": "bar", "vacuum": "kPa", "temperature": "C"}, "demo_accounts": [],
        "workshop": "",
        "currency": "", "by_code": False, "has_code": False, "needs_first_lead": False,
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
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(technician)
    answer = post(strict, "/api/cases/", {"title": "x", "engine": {}})
    assert answer.status_code == 403


@pytest.fixture
def attempts():
    from django.core.cache import cache

    cache.clear()
    yield
    cache.clear()


def guess(client, name="tess", **extra):
    return post(client, "/api/session/", {"username": name, "password": "guess"}, **extra).status_code


def test_guessing_at_one_name_is_slow_work_whatever_the_client_says_of_itself(technician, attempts, settings):
    settings.DEMO = True
    answers = [guess(Client(), HTTP_X_FORWARDED_FOR=f"10.0.0.{i}") for i in range(11)]
    assert answers == [400] * 10 + [429]
    assert guess(Client(), name="TESS ") == 429
    assert guess(Client(), name="otto") == 400


def test_guessing_from_one_address_is_slow_work_for_those_logged_in_too(lead, attempts):
    browser = Client()
    browser.force_login(lead)
    assert [guess(browser, name=f"n{i}") for i in range(31)] == [400] * 30 + [429]


def test_the_right_password_is_not_counted_however_often_a_tablet_changes_hands(technician, attempts):
    words = {"username": "tess", "password": PASSWORD}
    assert {post(Client(), "/api/session/", words).status_code for _ in range(40)} == {200}
    assert guess(Client()) == 400


def test_looking_is_not_counted(client, db, attempts):
    assert {client.get("/api/session/").status_code for _ in range(40)} == {200}


def test_a_lead_of_the_command_line_has_a_password_that_holds(db):
    with pytest.raises(ValidationError):
        User.objects.create_superuser("boss", password="12345")
    assert not User.objects.exists()
    assert User.objects.create_superuser("boss", password=PASSWORD).role == Role.LEAD

"""People added, changed and kept out, from the command line or anywhere else."""

import pytest
from django.test import Client

from fairwitness.core.errors import PeopleError
from fairwitness.server.accounts import people
from fairwitness.server.accounts.models import Role, User
from tests.server.conftest import PASSWORD


def test_a_new_person_can_log_in(db):
    made = people.add("nell", role="technician", password=PASSWORD, name="Nell Arkwright")
    assert (made.role, made.shown_name) == (Role.TECHNICIAN, "Nell Arkwright")
    assert Client().login(username="nell", password=PASSWORD)
    assert not made.is_staff
    assert not made.is_superuser


@pytest.mark.parametrize(
    ("about", "says"),
    [
        ({"username": "TESS"}, "taken"),
        ({"password": "12345"}, "too short"),
        ({"password": "password123"}, "too common"),
        ({"role": "boss"}, "technician, lead or reader"),
        ({"username": "no spaces please"}, "valid username"),
        ({"username": ""}, "blank"),
    ],
)
def test_what_cannot_be_is_refused_and_nobody_is_made(technician, about, says):
    with pytest.raises(PeopleError, match=says):
        people.add(**{"username": "nell", "role": "reader", "password": PASSWORD, **about})
    assert User.objects.count() == 1


def test_somebody_always_leads(lead, technician):
    for change in (lambda: people.set_role("leda", "reader"), lambda: people.set_blocked("leda", blocked=True)):
        with pytest.raises(PeopleError, match="Nobody would lead"):
            change()
    people.set_role("tess", "lead")
    assert people.set_role("leda", "reader").role == Role.READER


def test_blocked_is_logged_out_everywhere_and_let_in_again(technician, client):
    client.force_login(technician)
    other = Client()
    other.force_login(technician)
    people.set_blocked("tess", blocked=True)
    assert [c.get("/api/session/").json()["logged_in"] for c in (client, other)] == [False, False]
    assert not Client().login(username="tess", password=PASSWORD)
    people.set_blocked("tess", blocked=False)
    assert Client().login(username="tess", password=PASSWORD)


def test_another_password_ends_the_sessions_of_that_person_only(technician, lead, client):
    client.force_login(technician)
    other = Client()
    other.force_login(lead)
    people.set_password("tess", "quite-another-word")
    assert client.get("/api/session/").json()["logged_in"] is False
    assert other.get("/api/session/").json()["logged_in"] is True
    with pytest.raises(PeopleError):
        people.set_password("tess", "short")
    assert Client().login(username="tess", password="quite-another-word")


def test_nobody_is_said(db):
    with pytest.raises(PeopleError, match="Nobody has this name"):
        people.set_role("ghost", "lead")

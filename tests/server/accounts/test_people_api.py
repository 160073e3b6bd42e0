"""People managed by a lead, one-time links, the first lead, and a tablet that changes hands: over the API."""

from datetime import timedelta

import pytest
from django.core.cache import cache
from django.test import Client
from django.utils import timezone

from fairwitness.server.accounts import bay_codes, links
from fairwitness.server.accounts.models import OneTimeSecret, User, Workshop
from tests.server.conftest import PASSWORD

NEW_PASSWORD = "quite-another-word"


@pytest.fixture(autouse=True)
def no_attempts_yet():
    cache.clear()
    yield
    cache.clear()


def post(client, url, body=None):
    return client.post(url, body or {}, content_type="application/json")


def who(client):
    return client.get("/api/session/").json()["username"]


def secret_of(answer):
    return answer.json()["link"].removeprefix("/link/")


def test_a_person_is_added_and_chooses_the_password_once(lead, as_user):
    added = post(as_user(lead), "/api/people/", {"username": "nell", "name": "Nell Hale", "role": "technician"})
    assert added.status_code == 201
    assert not Client().login(username="nell", password="")
    browser = Client()
    assert post(browser, "/api/link/", {"secret": secret_of(added)}).json() == {"username": "nell", "name": "Nell Hale"}
    weak = post(browser, "/api/link/password/", {"secret": secret_of(added), "password": "12345"})
    assert (weak.status_code, who(browser)) == (400, "")
    post(browser, "/api/link/password/", {"secret": secret_of(added), "password": NEW_PASSWORD})
    assert who(browser) == "nell"
    again = post(Client(), "/api/link/password/", {"secret": secret_of(added), "password": "one-more-long-word"})
    assert "used already" in again.json()["sentence"]
    assert Client().login(username="nell", password=NEW_PASSWORD)


def test_a_new_link_voids_the_one_before_and_an_old_one_dies(lead, technician, as_user):
    manage = as_user(lead)
    first, second = (secret_of(post(manage, f"/api/people/{technician.pk}/link/")) for _ in range(2))
    assert post(Client(), "/api/link/", {"secret": first}).status_code == 400
    assert post(Client(), "/api/link/", {"secret": second}).status_code == 200
    OneTimeSecret.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
    assert post(Client(), "/api/link/", {"secret": second}).status_code == 400


def test_the_database_holds_no_secret_that_opens_anything(technician):
    secret, code = links.make_link(technician, by=None), links.make_first_code()
    kept = str(list(OneTimeSecret.objects.values_list()))
    assert secret not in kept
    assert code not in kept


def test_a_blocked_person_is_out_at_once_and_the_link_is_worth_nothing(lead, technician, as_user):
    manage, bay = as_user(lead), as_user(technician)
    secret = secret_of(post(manage, f"/api/people/{technician.pk}/link/"))
    changed = post(manage, f"/api/people/{technician.pk}/", {"blocked": True})
    assert changed.json()["blocked"] is True
    assert who(bay) == ""
    assert post(Client(), "/api/link/password/", {"secret": secret, "password": NEW_PASSWORD}).status_code == 400


def test_roles_change_but_somebody_always_leads_and_nothing_is_half_done(lead, technician, as_user):
    manage = as_user(lead)
    assert post(manage, f"/api/people/{technician.pk}/", {"role": "reader"}).json()["role"] == "reader"
    refused = post(manage, f"/api/people/{lead.pk}/", {"role": "technician", "blocked": True})
    assert "Nobody would lead" in refused.json()["sentence"]
    lead.refresh_from_db()
    assert (lead.role, lead.is_active) == ("lead", True)


def test_sessions_are_listed_and_ended(lead, technician, as_user):
    bay = Client(headers={"user-agent": "Tablet of bay 2"})
    post(bay, "/api/session/", {"username": "tess", "password": PASSWORD})
    other = as_user(technician)
    (place,) = [p for p in bay.get("/api/session/places/").json() if p["device"] == "Tablet of bay 2"]
    other.delete(f"/api/session/places/{place['id']}/")
    assert (who(bay), who(other)) == ("", "tess")
    assert other.delete(f"/api/session/places/{place['id']}/").status_code == 400
    listed = as_user(lead).delete(f"/api/people/{technician.pk}/sessions/").json()
    assert (listed["sessions"], who(other)) == ([], "")


def test_nobody_ends_the_session_of_another(technician, other_technician, as_user):
    own, foreign = as_user(technician), as_user(other_technician)
    (place,) = foreign.get("/api/session/places/").json()
    assert own.delete(f"/api/session/places/{place['id']}/").status_code == 400
    assert who(foreign) == "otto"


def test_the_own_password_asks_for_the_old_one_and_leaves_only_this_session(technician, as_user):
    here, there = as_user(technician), as_user(technician)
    wrong = post(here, "/api/session/password/", {"old": "guess", "new": NEW_PASSWORD})
    assert wrong.json()["where"] == "old"
    assert post(here, "/api/session/password/", {"old": PASSWORD, "new": NEW_PASSWORD}).status_code == 200
    assert (who(here), who(there)) == ("tess", "")


def test_the_first_lead_names_the_shop_and_there_is_only_one(db):
    code = links.make_first_code()
    browser = Client()
    assert browser.get("/api/session/").json()["needs_first_lead"] is True
    body = {"code": code.lower(), "workshop": "Larkmoor depot", "username": "nell", "password": NEW_PASSWORD}
    assert post(browser, "/api/first-lead/", {**body, "code": "AAAA-AAAA-AAAA"}).status_code == 400
    assert User.objects.count() == 0
    entered = post(browser, "/api/first-lead/", body).json()
    assert (entered["role"], entered["workshop"]) == ("lead", "Larkmoor depot")
    assert Client().get("/api/session/").json()["needs_first_lead"] is False
    second = post(Client(), "/api/first-lead/", {**body, "code": links.make_first_code(), "username": "otto"})
    assert "leads this workshop already" in second.json()["sentence"]
    assert Workshop.objects.get().name == "Larkmoor depot"


def test_a_code_of_a_person_does_not_make_a_lead(db):
    reader = User.objects.create_user("rita", password=PASSWORD)
    secret = links.make_link(reader, by=None)
    body = {"code": secret, "workshop": "x", "username": "eve", "password": NEW_PASSWORD}
    assert post(Client(), "/api/first-lead/", body).status_code == 400


def test_the_tablet_changes_hands(technician, other_technician, as_user):
    tablet = as_user(technician)
    bay_codes.set_code(other_technician, "730194")
    assert tablet.get("/api/session/switch/").json() == [{"username": "otto", "name": "Otto Test"}]
    gone_on = post(tablet, "/api/session/switch/", {"username": "otto", "code": "730194"}).json()
    assert (gone_on["username"], gone_on["by_code"]) == ("otto", True)
    assert post(Client(), "/api/session/switch/", {"username": "otto", "code": "730194"}).status_code == 403


def test_handing_on_does_not_outlast_the_working_day_of_the_password(technician, other_technician, monkeypatch):
    tablet = Client()
    post(tablet, "/api/session/", {"username": "tess", "password": PASSWORD})
    bay_codes.set_code(technician, "482017")
    bay_codes.set_code(other_technician, "730194")
    begun = timezone.now()
    for hours, username, code, status in ((7, "otto", "730194", 200), (11, "tess", "482017", 200),
                                          (13, "otto", "730194", 400)):  # fmt: skip
        later = begun + timedelta(hours=hours)
        monkeypatch.setattr("fairwitness.server.accounts.sessions.timezone.now", lambda later=later: later)
        assert post(tablet, "/api/session/switch/", {"username": username, "code": code}).status_code == status
    assert who(tablet) == "tess"


def test_a_short_code_dies_of_five_wrong_guesses(technician, other_technician, as_user):
    tablet = as_user(technician)
    bay_codes.set_code(other_technician, "730194")
    for guess in ("111111", "222222", "333333", "444444", "555555"):
        assert post(tablet, "/api/session/switch/", {"username": "otto", "code": guess}).status_code == 400
    right = post(tablet, "/api/session/switch/", {"username": "otto", "code": "730194"})
    assert "guessed too often" in right.json()["sentence"]
    assert who(tablet) == "tess"


def test_who_came_in_by_code_manages_nobody_and_changes_no_password(technician, lead, as_user):
    tablet = as_user(technician)
    bay_codes.set_code(lead, "730194")
    post(tablet, "/api/session/switch/", {"username": "leda", "code": "730194"})
    assert who(tablet) == "leda"
    assert tablet.get("/api/people/").status_code == 403
    assert post(tablet, "/api/session/password/", {"old": PASSWORD, "new": NEW_PASSWORD}).status_code == 403
    assert post(tablet, "/api/session/code/", {"password": PASSWORD, "code": "829301"}).status_code == 403


@pytest.mark.parametrize("code", ["111111", "123456", "987654", "12345", "abcdef", "121212", "١٢٣٥٨٩"])
def test_a_code_that_is_guessed_first_is_refused(technician, as_user, code):
    answer = post(as_user(technician), "/api/session/code/", {"password": PASSWORD, "code": code})
    assert answer.status_code == 400
    technician.refresh_from_db()
    assert technician.bay_code == ""


def test_a_code_is_set_and_taken_away(technician, as_user):
    own = as_user(technician)
    assert post(own, "/api/session/code/", {"password": PASSWORD, "code": "730194"}).json()["has_code"] is True
    assert post(own, "/api/session/code/", {"password": "guess", "code": ""}).status_code == 400
    assert post(own, "/api/session/code/", {"password": PASSWORD, "code": ""}).json()["has_code"] is False


@pytest.mark.parametrize("who_asks", ["technician", "reader"])
def test_only_a_lead_manages_people(who_asks, request, lead, as_user):
    browser = as_user(request.getfixturevalue(who_asks))
    asked = [
        browser.get("/api/people/"),
        post(browser, "/api/people/", {"username": "eve", "role": "lead"}),
        post(browser, f"/api/people/{lead.pk}/", {"blocked": True}),
        post(browser, f"/api/people/{lead.pk}/link/"),
        browser.delete(f"/api/people/{lead.pk}/sessions/"),
    ]
    assert [answer.status_code for answer in asked] == [403] * 5
    assert User.objects.count() == 2


def test_guessing_links_is_slow_work(db):
    answers = [post(Client(), "/api/link/", {"secret": f"guess{i}"}).status_code for i in range(31)]
    assert answers[-1] == 429
    assert 429 not in answers[:10]

"""Links: off until a lead turns them on, unguessable, ended by time or by hand, every look written down."""

from datetime import timedelta

import pytest
from django.core.cache import cache
from django.core.exceptions import PermissionDenied
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.server.sheets import links
from fairwitness.server.sheets.models import SheetLink

NOW = timezone.now()


@pytest.fixture
def open_shop(shop):
    shop.links_on = True
    shop.save()
    cache.clear()
    return shop


@pytest.fixture
def made(measured_case, open_shop, technician):
    return links.make_link(measured_case, words="M. Ferrow", whole=False, days=7, by=technician, at=NOW)


def test_none_is_made_before_a_lead_turns_them_on(measured_case, technician):
    with pytest.raises(ObservationError, match="no links"):
        links.make_link(measured_case, words="M. Ferrow", whole=False, days=7, by=technician, at=NOW)


@pytest.mark.parametrize(("words", "days"), [(" ", 7), ("x", 0), ("x", 91)])
def test_nobody_and_forever_are_refused(measured_case, open_shop, technician, words, days):
    with pytest.raises(ObservationError):
        links.make_link(measured_case, words=words, whole=False, days=days, by=technician, at=NOW)


def test_a_reader_hands_nothing_over(measured_case, open_shop, reader):
    with pytest.raises(PermissionDenied):
        links.make_link(measured_case, words="x", whole=True, days=1, by=reader, at=NOW)


def test_the_secret_is_long_and_only_its_hash_is_kept(made):
    link, secret = made
    assert len(secret) == links.TOKEN_LENGTH  # 32 bytes of chance
    kept = SheetLink.objects.values().get()
    assert secret not in str(kept)
    assert kept["digest"] == links.digest_of(secret)
    assert link.case.journal.filter(verb="sheet link made", detail__contains="M. Ferrow").exists()


def test_it_opens_without_an_account_and_the_look_is_written_down(made, as_user):
    link, secret = made
    answer = as_user(None).get(f"/shared/{secret}/")
    assert answer.status_code == 200
    assert "Cylinder 3 of the engine" in answer.content.decode()
    assert 'class="annex"' not in answer.content.decode()
    paper = as_user(None).get(f"/shared/{secret}/sheet.pdf")
    assert paper.content.startswith(b"%PDF")
    assert [(o.what, o.address) for o in link.openings.all()] == [("pdf", "127.0.0.1"), ("page", "127.0.0.1")]


def test_nobody_on_the_way_keeps_it(made, as_user):
    answer = as_user(None).get(f"/shared/{made[1]}/")
    assert "no-store" in answer["Cache-Control"]
    assert answer["Referrer-Policy"] == "no-referrer"
    assert "noindex" in answer["X-Robots-Tag"]
    assert "default-src 'none'" in answer["Content-Security-Policy"]
    assert "Set-Cookie" not in answer.headers


def test_expired_revoked_switched_off_and_wrong_look_the_same(made, as_user, technician, open_shop):
    link, secret = made
    wrong = as_user(None).get(f"/shared/{'A' * links.TOKEN_LENGTH}/")
    SheetLink.objects.update(expires_at=NOW - timedelta(seconds=1))
    expired = as_user(None).get(f"/shared/{secret}/")
    SheetLink.objects.update(expires_at=NOW + timedelta(days=1))
    assert as_user(None).get(f"/shared/{secret}/").status_code == 200
    open_shop.links_on = False
    open_shop.save()
    off = as_user(None).get(f"/shared/{secret}/")
    open_shop.links_on = True
    open_shop.save()
    links.revoke(link, by=technician, at=NOW)
    revoked = as_user(None).get(f"/shared/{secret}/")
    assert {a.status_code for a in (wrong, expired, off, revoked)} == {404}
    assert len({a.content for a in (wrong, expired, off, revoked)}) == 1


def test_who_guesses_is_slowed_down_and_who_looks_is_not(made, as_user):
    browser = as_user(None)
    for _ in range(40):
        assert links.opened(made[1], at=NOW) is not None
    told = [browser.get(f"/shared/{i:0>43}/").status_code for i in range(40)]
    assert told[0] == 404
    assert told[-1] == 429
    assert 25 <= told.index(429) <= 31


def test_revoking_again_changes_nothing_and_is_told_once(made, technician):
    link, _ = made
    links.revoke(link, by=technician, at=NOW)
    links.revoke(link, by=technician, at=NOW)
    assert link.case.journal.filter(verb="sheet link revoked").count() == 1


def test_the_secret_is_told_once_over_http(measured_case, open_shop, as_user, technician):
    browser = as_user(technician)
    wanted = {"words": "a colleague", "whole": True, "days": 3}
    answer = browser.post(f"/api/cases/{measured_case.pk}/sheet/links/", wanted, content_type="application/json")
    assert answer.status_code == 201
    secret = answer.json()["path"].split("/")[2]
    about = browser.get(f"/api/cases/{measured_case.pk}/sheet/about/")
    assert secret not in about.content.decode()
    assert [(x["words"], x["whole"], x["state"]) for x in about.json()["links"]] == [("a colleague", True, "open")]
    assert 'class="annex"' in as_user(None).get(f"/shared/{secret}/").content.decode()
    number = about.json()["links"][0]["id"]
    assert browser.post(f"/api/sheet-links/{number}/revoke/").json()["links"][0]["state"] == "revoked"

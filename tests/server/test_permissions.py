"""What each role may do, asked with bodies that would do it: a refusal must come from the role, not from a bad body."""

from __future__ import annotations

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from fairwitness.core.model.engine import even_engine
from fairwitness.formats.engine_block import engine_block
from fairwitness.server.captures.services import export_case, keep_capture
from fairwitness.server.cases.models import JournalEntry, StoredCase
from fairwitness.server.cases.services import add_observation
from tests.conftest import cranking
from tests.server.cases.test_services import SPEEDS

FOUR = even_engine((1, 3, 4, 2), label="Hollin Drover 2.0")
WRITES = {
    "fuel": ("/api/cases/{case}/fuel/", {"state": "disabled", "how": "fuse 14"}),
    "approach": ("/api/cases/{case}/approach/", {"proof": "swap_to_prove"}),
    "access": ("/api/cases/{case}/access/", {"test": "crank_speed", "minutes": 12}),
    "observation": ("/api/cases/{case}/observations/", {"test": "cranking_speed", "data": SPEEDS}),
    "form": ("/api/cases/{case}/forms/leak_down/", {"values": {"percent": {"3": 40}, "heard": {"3": "intake"}}}),
    "close": ("/api/cases/{case}/close/", {}),
    "withdraw reading": ("/api/observations/{reading}/withdraw/", {"reason": "another van"}),
    "withdraw capture": ("/api/captures/{capture}/withdraw/", {"reason": "another van"}),
    "known good": ("/api/captures/{capture}/known-good/", {"why": "runs evenly"}),
    "open a case": ("/api/cases/", {"title": "Bus 4", "engine": engine_block(FOUR)}),
}
READS = ("/api/cases/", "/api/cases/{case}/", "/api/cases/{case}/forms/", "/api/cases/{case}/package/",
         "/api/captures/{capture}/", "/api/captures/{capture}/cycles/", "/api/captures/{capture}/comparable/",
         "/api/captures/{capture}/fold/0/?bins=90", "/api/captures/{capture}/reading/0/?from_s=1&to_s=2",
         "/api/captures/{capture}/window/?from_s=0&to_s=1&points=50", "/api/captures/{capture}/export/?kind=csv",
         "/api/captures/{capture}/export/?kind=parquet&from_s=1&to_s=2", "/api/words/", "/api/trust/",
         "/api/engines/?letters=drov", "/api/calculators/")  # fmt: skip
OWN_ONLY = {"withdraw reading", "withdraw capture"}


@pytest.fixture
def shop(case, technician):
    """A case with a reading and a capture, both kept by the technician."""
    now = timezone.now()
    reading = add_observation(case, test="cranking_speed", data=SPEEDS, by=technician, at=now)
    capture = keep_capture(case, cranking(FOUR, {3: 0.3}), by=technician, at=now)
    return {"case": case.pk, "reading": reading.pk, "capture": capture.pk}


def ask(client, shop, what):
    address, body = WRITES[what]
    return client.post(address.format(**shop), body, content_type="application/json")


@pytest.mark.parametrize("what", WRITES)
def test_the_technician_may(shop, technician, as_user, what):
    lines = JournalEntry.objects.count()
    assert ask(as_user(technician), shop, what).status_code in (200, 201)
    assert JournalEntry.objects.count() > lines


@pytest.mark.parametrize("what", WRITES)
def test_the_reader_may_not_and_nothing_is_written(shop, reader, as_user, what):
    lines, cases = JournalEntry.objects.count(), StoredCase.objects.count()
    answer = ask(as_user(reader), shop, what)
    assert (answer.status_code, answer.json()["code"]) == (403, "not_allowed")
    assert (JournalEntry.objects.count(), StoredCase.objects.count()) == (lines, cases)


@pytest.mark.parametrize("what", WRITES)
def test_nobody_unknown_may(shop, as_user, what):
    answer = ask(as_user(None), shop, what)
    assert (answer.status_code, answer.json()["code"]) == (403, "not_logged_in")


@pytest.mark.parametrize("what", sorted(OWN_ONLY))
def test_what_somebody_else_kept_is_withdrawn_by_a_lead_only(shop, other_technician, lead, as_user, what):
    assert ask(as_user(other_technician), shop, what).status_code == 403
    assert ask(as_user(lead), shop, what).status_code == 200


@pytest.mark.parametrize("address", READS)
def test_everybody_who_is_known_may_read(shop, reader, as_user, address):
    assert as_user(reader).get(address.format(**shop)).status_code == 200
    assert as_user(None).get(address.format(**shop)).status_code == 403


def test_a_package_is_brought_in_by_who_may_open_cases(shop, technician, reader, as_user):
    data = export_case(StoredCase.objects.get(pk=shop["case"]))

    def bring(user):
        return as_user(user).post("/api/cases/import/", {"file": SimpleUploadedFile("bus.zip", data)})

    assert bring(reader).status_code == 403
    assert bring(technician).status_code == 201
    assert StoredCase.objects.count() == 2


@pytest.mark.parametrize(
    ("what", "body"),
    [
        ("fuel", {"state": "half"}),
        ("approach", {"proof": "guess"}),
        ("access", {"test": "crank_speed", "minutes": -3}),
        ("access", {"test": "tea_leaves", "minutes": 3}),
        ("form", {"values": {"percent": {"9": 40}}}),
        ("withdraw reading", {"reason": "  "}),
        ("known good", {"why": ""}),
        ("open a case", {"title": "Bus 4", "engine": {"firing_order": [1, 1]}}),
    ],
)
def test_a_body_that_cannot_be_is_refused_in_words(shop, technician, as_user, what, body):
    address, _ = WRITES[what]
    lines = JournalEntry.objects.count()
    answer = as_user(technician).post(address.format(**shop), body, content_type="application/json")
    assert answer.status_code == 400
    assert answer.json()["sentence"]
    assert JournalEntry.objects.count() == lines

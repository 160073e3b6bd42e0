"""Readings and photos noted without a connection: kept once, by whoever noted them, while the vehicle is as it was."""

from __future__ import annotations

import io
from uuid import uuid4

import pytest
from django.utils import timezone
from PIL import Image

from fairwitness.server.cases.models import JournalEntry, SentLate, StoredCase, StoredObservation

pytestmark = pytest.mark.django_db
FILLED = {"values": {"dry": {"1": 1200, "3": 1180, "4": 1210, "2": 700}}, "choices": {"unit": "kPa"}}


def late(**changed):
    said = {"key": str(uuid4()), "noted": "2026-03-02T09:05:00+00:00", "phase": "0", "by": "tamsin", **changed}
    return {f"HTTP_X_LATE_{name.upper()}": value for name, value in said.items()}


@pytest.fixture
def send(as_user, technician, case):
    client = as_user(technician)

    def sent(test="compression_gauge", **headers):
        return client.post(f"/api/cases/{case.pk}/forms/{test}/", FILLED, content_type="application/json", **headers)

    return sent


def test_a_reading_sent_twice_is_kept_once_with_the_moment_it_was_noted(send, technician):
    headers = late(by=technician.username)
    first, again = send(**headers), send(**headers)
    assert (first.status_code, again.status_code) == (201, 201)
    assert StoredObservation.objects.count() == 1
    assert JournalEntry.objects.filter(verb="noted without connection", detail__startswith="02 Mar").count() == 1


def test_what_is_not_late_is_kept_as_often_as_it_is_sent(send):
    send()
    send()
    assert StoredObservation.objects.count() == 2
    assert not SentLate.objects.exists()


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ({"by": "somebody"}, "Somebody else noted this."),
        ({"phase": "1"}, "worked on since"),
        ({"noted": "yesterday"}, "says not when"),
        ({"noted": "2026-03-02T09:05:00"}, "says not when"),
        ({"key": "7"}, "says not when"),
        ({"phase": "soon"}, "says not when"),
    ],
)
def test_what_no_longer_holds_is_refused_and_may_be_tried_again(send, technician, said, words):
    headers = late(**{"by": technician.username, **said})
    answer = send(**headers)
    assert answer.status_code == 400
    assert words in answer.json()["sentence"] + answer.json().get("remedy", "")
    assert not StoredObservation.objects.exists()
    assert not SentLate.objects.exists()


def test_a_refused_reading_leaves_its_key_free(send, technician, case):
    StoredCase.objects.filter(pk=case.pk).update(status="closed")
    headers = late(by=technician.username)
    assert send(**headers).status_code == 400
    StoredCase.objects.filter(pk=case.pk).update(status="open")
    assert send(**headers).status_code == 201


def test_a_photo_sent_twice_is_answered_twice_and_kept_once(as_user, technician, case):
    client, headers = as_user(technician), late(by=technician.username, noted=timezone.now().isoformat())
    file = io.BytesIO()
    Image.new("RGB", (320, 240), "red").save(file, "JPEG")
    answers = []
    for _ in range(2):
        file.seek(0)
        file.name = "plug.jpg"
        answers.append(client.post(f"/api/cases/{case.pk}/pictures/", {"file": file, "words": "plug"}, **headers))
    assert [a.status_code for a in answers] == [201, 201]
    assert answers[0].json()["id"] == answers[1].json()["id"]
    assert case.pictures.count() == 1

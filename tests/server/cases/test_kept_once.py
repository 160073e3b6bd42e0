"""Readings and photos noted without a connection: kept once, by whoever noted them, while the vehicle is as it was."""

from __future__ import annotations

import io
from datetime import timedelta
from uuid import uuid4

import pytest
from django.utils import timezone
from PIL import Image

from fairwitness.server.cases.models import JournalEntry, KeptOnce, StoredCase, StoredObservation

pytestmark = pytest.mark.django_db
FILLED = {"values": {"dry": {"1": 1200, "3": 1180, "4": 1210, "2": 700}}, "choices": {"unit": "kPa"}}


def late(**changed):
    said = {"once": str(uuid4()), "noted_at": "2026-03-02T09:05:00+00:00", "noted_in": "0", **changed}
    return {f"HTTP_X_{name.upper()}": value for name, value in said.items()}


@pytest.fixture
def send(as_user, technician, case):
    client = as_user(technician)

    def sent(test="compression_gauge", **headers):
        return client.post(f"/api/cases/{case.pk}/forms/{test}/", FILLED, content_type="application/json", **headers)

    return sent


def test_a_reading_sent_twice_is_kept_once_with_the_moment_it_was_noted(send, technician):
    headers = late(noted_by=technician.username)
    first, again = send(**headers), send(**headers)
    assert (first.status_code, again.status_code) == (201, 201)
    assert StoredObservation.objects.count() == 1
    assert JournalEntry.objects.filter(verb="noted without connection", detail__startswith="02 Mar").count() == 1


def test_what_comes_without_a_key_is_kept_as_often_as_it_is_sent(send):
    send()
    send()
    assert StoredObservation.objects.count() == 2
    assert not KeptOnce.objects.exists()


def test_what_is_sent_at_once_is_kept_once_and_makes_no_line_of_its_own(send):
    headers = {"HTTP_X_ONCE": str(uuid4())}
    send(**headers)
    send(**headers)
    assert StoredObservation.objects.count() == 1
    assert not JournalEntry.objects.filter(verb="noted without connection").exists()


def test_keys_are_not_kept_for_ever(send, technician, case):
    old = timezone.now() - timedelta(days=61)
    KeptOnce.objects.create(key=uuid4(), case=case, by=technician, at=old)
    send(HTTP_X_ONCE=str(uuid4()))
    assert KeptOnce.objects.count() == 1


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ({"noted_by": "somebody"}, "Somebody else noted this."),
        ({"noted_in": "1"}, "worked on since"),
        ({"noted_at": "yesterday"}, "without a proper key"),
        ({"noted_at": "2026-03-02T09:05:00"}, "without a proper key"),
        ({"once": "7"}, "without a proper key"),
        ({"noted_in": "soon"}, "without a proper key"),
    ],
)
def test_what_no_longer_holds_is_refused_and_may_be_tried_again(send, technician, said, words):
    headers = late(**{"noted_by": technician.username, **said})
    answer = send(**headers)
    assert answer.status_code == 400
    assert words in answer.json()["sentence"] + answer.json().get("remedy", "")
    assert not StoredObservation.objects.exists()
    assert not KeptOnce.objects.exists()


def test_a_refused_reading_leaves_its_key_free(send, technician, case):
    StoredCase.objects.filter(pk=case.pk).update(status="closed")
    headers = late(noted_by=technician.username)
    assert send(**headers).status_code == 400
    StoredCase.objects.filter(pk=case.pk).update(status="open")
    assert send(**headers).status_code == 201


def test_a_photo_sent_twice_is_answered_twice_and_kept_once(as_user, technician, case):
    client, headers = as_user(technician), late(noted_by=technician.username, noted_at=timezone.now().isoformat())
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

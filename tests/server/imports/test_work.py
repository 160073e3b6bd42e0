from datetime import timedelta

import pytest
from django.utils import timezone

from fairwitness.server.captures.models import StoredCapture, StoredChannel
from fairwitness.server.imports import services, staging, work
from fairwitness.server.imports.models import FileImport, ImportState
from fairwitness.server.imports.services import Sent
from tests.server.imports.crank_table import csv, plan
from tests.server.imports.sending import ask, staged


@pytest.fixture
def waiting(as_user, technician, case):
    client = as_user(technician)
    number = staged(client, case, csv())
    assert ask(client, number, plan()).status_code == 202
    return number


def state_of(number):
    return FileImport.objects.get(pk=number).state


def test_a_file_is_claimed_once(waiting):
    assert work.claim().pk == waiting
    assert work.claim() is None


def test_a_file_taken_back_while_it_is_worked_on_is_not_kept(waiting, technician, monkeypatch):
    held = work.claim()
    real = work.capture_of_file

    def taken_back_meanwhile(*args):
        services.cancel(held, by=technician, at=timezone.now())
        return real(*args)

    data = staging.path_of(waiting).read_bytes()
    monkeypatch.setattr(work, "source_of", lambda _: data)
    monkeypatch.setattr(work, "capture_of_file", taken_back_meanwhile)
    work.run(waiting)
    assert state_of(waiting) == ImportState.CANCELLED
    assert not StoredCapture.objects.exists()
    assert not StoredChannel.objects.exists()


def test_what_ended_without_a_word_is_tried_once_more_and_then_refused_in_words(waiting):
    work.claim()
    work.put_back(waiting)
    assert state_of(waiting) == ImportState.WAITING
    work.claim()
    work.put_back(waiting)
    refused = FileImport.objects.get(pk=waiting)
    assert refused.state == ImportState.REFUSED
    assert "twice" in refused.problem["sentence"]


def test_what_was_put_back_is_kept_at_the_second_try(waiting):
    work.claim()
    work.put_back(waiting)
    work.run(work.claim().pk)
    assert state_of(waiting) == ImportState.KEPT
    assert StoredCapture.objects.count() == 1


def test_what_is_kept_is_not_put_back(waiting):
    work.run(work.claim().pk)
    work.put_back(waiting)
    assert state_of(waiting) == ImportState.KEPT


def test_a_fault_of_ours_is_told_and_leaves_the_file(waiting, monkeypatch):
    def broken(*_):
        raise RuntimeError("a fault")

    work.claim()
    monkeypatch.setattr(work, "capture_of_file", broken)
    work.run(waiting)
    assert "Something went wrong" in FileImport.objects.get(pk=waiting).problem["sentence"]
    assert staging.received(waiting) == len(csv())


def test_a_role_taken_away_meanwhile_keeps_nothing(waiting, technician):
    work.claim()
    technician.role = "reader"
    technician.save()
    work.run(waiting)
    assert "may not" in FileImport.objects.get(pk=waiting).problem["sentence"]
    assert not StoredCapture.objects.exists()


def test_files_nobody_came_back_to_are_forgotten_and_stray_bytes_too(case, technician):
    now = timezone.now()
    old = services.begin(case, Sent(name="old.csv", size=5), by=technician, at=now - timedelta(hours=3))
    new = services.begin(case, Sent(name="new.csv", size=5), by=technician, at=now)
    for number in (old.pk, new.pk, 999):
        staging.append(number, 0, b"123")
    work.tidy(older_than=now - timedelta(hours=2))
    assert list(staging.numbers()) == [new.pk]
    assert state_of(old.pk) == ImportState.CANCELLED

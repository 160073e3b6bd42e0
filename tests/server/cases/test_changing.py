"""Several people change one case: nothing is lost, nobody waits for a measurement, and a closed case stays closed."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier

import pytest
from django.db import connection, connections
from django.utils import timezone

from fairwitness.core.errors import CaptureError, ObservationError
from fairwitness.core.messages.message import storable
from fairwitness.formats.diagnosis_document import diagnosis_data
from fairwitness.formats.engine_block import read_engine
from fairwitness.server.captures import services as capturing
from fairwitness.server.captures.services import keep_capture, withdraw_capture
from fairwitness.server.cases.evidence import concluded
from fairwitness.server.cases.life import close_case
from fairwitness.server.cases.models import CaseStatus, FuelState, StoredCase
from fairwitness.server.cases.services import add_observation, set_fuel_state, withdraw_observation
from tests.conftest import cranking
from tests.server.cases.test_services import SPEEDS

READINGS = [("leak_down", {"cylinder": 3, "percent": p, "heard_at": ["exhaust"]}) for p in (35, 41, 52, 60)]


def at_once(*calls):
    """Begin in the same moment, each in a thread with a connection of its own."""
    gate = Barrier(len(calls))

    def run(call):
        gate.wait(10)
        try:
            return call()
        except (CaptureError, ObservationError) as refusal:
            return refusal
        finally:
            connections.close_all()

    with ThreadPoolExecutor(len(calls)) as pool:
        return list(pool.map(run, calls))


def derived(case):
    """What follows now from all evidence in force."""
    return storable(diagnosis_data(concluded(StoredCase.objects.get(pk=case.pk))))


@pytest.mark.django_db(transaction=True)
def test_readings_kept_at_once_are_all_in_what_was_concluded_last(case, technician):
    now = timezone.now()
    done = at_once(
        *(
            lambda test=test, data=data: add_observation(case, test=test, data=data, by=technician, at=now)
            for test, data in READINGS
        )
    )
    assert not any(isinstance(d, Exception) for d in done)
    stored = StoredCase.objects.get(pk=case.pk)
    assert stored.observations.count() == len(READINGS)
    assert {k: v for k, v in stored.diagnosis.items() if k not in ("format", "learned")} == derived(case)


@pytest.mark.django_db(transaction=True)
def test_one_capture_sent_twice_at_once_is_kept_once(case, technician):
    now, capture = timezone.now(), cranking(four_of(case), {3: 0.3})
    done = at_once(*(lambda: keep_capture(case, capture, by=technician, at=now) for _ in range(2)))
    assert sum(isinstance(d, CaptureError) for d in done) == 1
    assert case.captures.count() == 1


@pytest.mark.django_db(transaction=True)
def test_a_reading_withdrawn_and_another_kept_at_once_leave_one(case, technician):
    now = timezone.now()
    first = add_observation(case, test="cranking_speed", data=SPEEDS, by=technician, at=now)
    at_once(
        lambda: withdraw_observation(first, reason="wrong van", by=technician, at=now),
        lambda: add_observation(case, test=READINGS[0][0], data=READINGS[0][1], by=technician, at=now),
    )
    stored = StoredCase.objects.get(pk=case.pk)
    assert stored.observations.filter(withdrawn_at__isnull=True).count() == 1
    assert {k: v for k, v in stored.diagnosis.items() if k not in ("format", "learned")} == derived(case)


@pytest.mark.django_db(transaction=True)
def test_others_write_while_a_capture_is_measured(case, technician, monkeypatch):
    wrote = []

    def measuring(capture, known):
        def write():
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA busy_timeout = 0")  # whoever has to wait fails at once
            fuel = set_fuel_state(case, state=FuelState.DISABLED, how="fuse 9", by=technician, at=timezone.now())
            wrote.append(fuel.fuel_note)

        at_once(write)
        return iter(())

    monkeypatch.setattr(capturing, "measure_capture", measuring)
    keep_capture(case, cranking(four_of(case), {3: 0.3}), by=technician, at=timezone.now())
    assert wrote == ["fuse 9"]


@pytest.fixture
def closed(case, technician):
    return close_case(case, by=technician, at=timezone.now())


def test_a_closed_case_takes_no_more_evidence(closed, technician):
    lines = closed.journal.count()
    with pytest.raises(ObservationError, match="closed"):
        add_observation(closed, test="cranking_speed", data=SPEEDS, by=technician, at=timezone.now())
    with pytest.raises(ObservationError, match="closed"):
        keep_capture(closed, cranking(four_of(closed)), by=technician, at=timezone.now())
    closed.refresh_from_db()
    assert (closed.status, closed.journal.count()) == (CaseStatus.CLOSED, lines)
    assert not closed.observations.exists()
    assert not closed.captures.exists()


def test_over_http_a_closed_case_says_how_to_go_on(closed, technician, as_user):
    body = {"values": {"percent": {"3": 40}, "heard": {"3": "intake"}}}
    answer = as_user(technician).post(f"/api/cases/{closed.pk}/forms/leak_down/", body, content_type="application/json")
    assert answer.status_code == 400
    assert "Open a new case" in answer.json()["sentence"]


def test_what_was_wrong_can_still_be_withdrawn_from_a_closed_case(case, technician):
    now = timezone.now()
    kept = keep_capture(case, cranking(four_of(case)), by=technician, at=now)
    close_case(case, by=technician, at=now)
    withdraw_capture(kept, reason="another van", by=technician, at=now)
    kept.refresh_from_db()
    assert kept.withdrawn_at is not None


def four_of(case):
    return read_engine(case.engine)

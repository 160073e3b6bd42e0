"""The clock of a case: whose time counts, what was agreed, and a word before it is passed."""

from datetime import timedelta

import pytest
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.messages.rendering import render
from fairwitness.server.cases import intake, labour, life
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.models import LabourSpan, StoredCase

NOW = timezone.now()


def after(minutes):
    return NOW + timedelta(minutes=minutes)


def test_minutes_of_two_people_add_up(case, technician, lead):
    labour.start_clock(case, by=technician, at=NOW)
    labour.start_clock(case, by=lead, at=after(10))
    labour.stop_clock(case, by=technician, at=after(30))
    labour.stop_clock(case, by=lead, at=after(25))
    assert labour.labour_minutes(case, after(500)) == 45
    verbs = list(case.journal.values_list("verb", "detail"))[1:]
    assert verbs[0] == ("clock started", "")
    assert verbs[-1] == ("clock stopped", "15 min")


def test_a_clock_that_runs_is_not_started_twice(case, technician):
    labour.start_clock(case, by=technician, at=NOW)
    labour.start_clock(case, by=technician, at=after(5))
    assert LabourSpan.objects.count() == 1
    assert labour.labour_minutes(case, after(20)) == 20


def test_stopping_what_does_not_run_is_nothing(case, technician):
    labour.stop_clock(case, by=technician, at=NOW)
    assert labour.labour_minutes(case, NOW) == 0


def test_a_clock_that_goes_back_never_counts_below_nothing(case, technician):
    labour.start_clock(case, by=technician, at=NOW)
    labour.stop_clock(case, by=technician, at=after(-30))
    assert labour.labour_minutes(case, after(-60)) == 0


def test_closing_stops_every_clock(case, technician, lead):
    for who in (technician, lead):
        labour.start_clock(case, by=who, at=NOW)
    life.close_case(case, by=technician, at=after(12))
    assert not LabourSpan.objects.filter(ended_at=None).exists()
    assert labour.labour_minutes(case, after(99)) == 24


@pytest.mark.parametrize(
    ("minutes", "next_minutes", "words"),
    [
        (10, 5, ""),
        (10, None, ""),
        (50, 5, "10 min left of the 60 agreed."),
        (40, 30, "20 min left of the 60 agreed; the next test takes 30: ask first."),
        (72, None, "12 min over the 60 agreed: ask the owner before going on."),
    ],
)
def test_the_end_of_what_was_agreed_is_told_before_it_is_passed(minutes, next_minutes, words):
    assert render(labour.ceiling_words(StoredCase(ceiling_minutes=60), minutes, next_minutes)) == words


@given(st.integers(0, 500), st.integers(1, 500), st.none() | st.floats(0.5, 120))
def test_nothing_is_ever_passed_in_silence(minutes, agreed, next_minutes):
    said = render(labour.ceiling_words(StoredCase(ceiling_minutes=agreed), minutes, next_minutes))
    assert bool(said) or (minutes <= agreed and minutes + (next_minutes or 0) <= agreed)


def test_without_a_ceiling_nothing_is_said():
    assert render(labour.ceiling_words(StoredCase(), 999, 60)) == ""


def test_the_board_shows_the_own_clock_and_the_others(as_user, case, technician, lead):
    intake.amend(case, {"ceiling_minutes": 1}, by=lead, at=NOW)
    labour.start_clock(case, by=lead, at=NOW - timedelta(minutes=3))
    visit = whole_board(case, technician)["visit"]
    assert (visit["working"], visit["own_clock"]) == ([lead.shown_name], False)
    assert "over the 1 agreed" in render(visit["ceiling_words"])
    mine = as_user(technician).post(f"/api/cases/{case.pk}/clock/", {"running": True}, content_type="application/json")
    assert mine.json()["visit"]["own_clock"] is True
    off = as_user(technician).post(f"/api/cases/{case.pk}/clock/", {"running": False}, content_type="application/json")
    assert off.json()["visit"]["own_clock"] is False

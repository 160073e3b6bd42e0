"""The yard as a list: searched, narrowed, counted; never slower for many cases by a query each."""

from __future__ import annotations

from datetime import timedelta

import pytest
from django.utils import timezone

from fairwitness.core.model.engine import even_engine
from fairwitness.server.cases.life import add_follow_up, finish_follow_up
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.cases.services import Intake, open_case
from fairwitness.server.cases.yard import cases_in_yard

pytestmark = pytest.mark.django_db
NOW = timezone.now()


@pytest.fixture
def yard(technician):
    names = ("Gritter", "Minibus", "Sweeper")
    cases = [
        open_case(
            Intake(title=f"{name} shakes", vehicle=name, engine=even_engine((1, 3, 2))),
            by=technician,
            at=NOW - timedelta(hours=hours),
        )
        for hours, name in enumerate(names)
    ]
    StoredCase.objects.filter(pk=cases[1].pk).update(
        verdict_status="isolated", cause="fuel", waits_for="injector_current", cylinders=[2]
    )
    StoredCase.objects.filter(pk=cases[2].pk).update(status="closed", waits_for="injector_current")
    return cases


def vehicles(**asked):
    return [line["vehicle"] for line in cases_in_yard(asked)["cases"]]


def test_each_filter_narrows_by_itself_and_together(yard):
    assert vehicles() == ["Gritter", "Minibus", "Sweeper"]
    assert vehicles(status="closed") == ["Sweeper"]
    assert vehicles(verdict="isolated") == ["Minibus"]
    assert vehicles(cause="fuel", search="mini") == ["Minibus"]
    assert vehicles(cause="fuel", search="grit") == []


def test_what_waits_for_a_test_is_open(yard):
    assert vehicles(waits="injector_current") == ["Minibus"]
    (other,) = {offer["test"] for offer in cases_in_yard({})["waiting"]} - {"injector_current"}
    assert vehicles(waits=other) == ["Gritter"]


def test_what_is_waited_for_is_counted_over_open_cases_whatever_is_shown(yard):
    counts = {row["test"]: row["cases"] for row in cases_in_yard({"search": "nothing like it"})["waiting"]}
    assert counts["injector_current"] == 1
    assert sum(counts.values()) == 2


def test_due_is_what_was_put_off_until_now_and_not_done(yard, technician):
    today = timezone.localdate()
    due = add_follow_up(yard[0], "Oil change", today, by=technician, at=NOW)
    add_follow_up(yard[0], "Oil change again", today - timedelta(days=2), by=technician, at=NOW)
    add_follow_up(yard[1], "Belt", today + timedelta(days=1), by=technician, at=NOW)
    assert vehicles(status="due") == ["Gritter"]
    finish_follow_up(due, by=technician, at=NOW)
    assert vehicles(status="due") == ["Gritter"]
    finish_follow_up(yard[0].follow_ups.get(done_at=None), by=technician, at=NOW)
    assert vehicles(status="due") == []


def test_a_page_is_as_many_queries_for_many_cases(yard, technician, django_assert_num_queries):
    with django_assert_num_queries(3):
        cases_in_yard({})
    for number in range(20):
        open_case(
            Intake(title=f"Van {number}", vehicle=f"Van {number}", engine=even_engine((1, 3, 2))), by=technician, at=NOW
        )
    with django_assert_num_queries(3):
        assert cases_in_yard({})["count"] == 23

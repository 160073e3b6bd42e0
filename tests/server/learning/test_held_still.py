"""For one answer what was learned is asked for once and stays."""

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from fairwitness.server.learning import services
from fairwitness.server.learning.models import FreshStart


def test_what_was_learned_is_asked_for_once_in_an_answer(db):
    with CaptureQueriesContext(
        connection,
    ) as loose:
        services.learned(), services.learned()
    with services.held_still(), CaptureQueriesContext(connection) as held:
        services.learned(), services.learned()
    assert (len(loose) >= 2, len(held)) == (True, 0)


def test_it_is_what_it_was_to_the_end_and_no_longer(db, technician):
    with services.held_still():
        before = services.learned()
        FreshStart.objects.create(by=technician, at=timezone.now())
        assert services.learned() is before
    assert services.learned() is not before


def test_it_is_let_go_when_the_answer_fails(db, technician):
    before = services.learned()

    @services.held_still()
    def answer():
        raise LookupError

    with pytest.raises(LookupError):
        answer()
    FreshStart.objects.create(by=technician, at=timezone.now())
    assert services.learned() is not before

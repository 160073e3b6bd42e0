"""A changed byte is found, named, and leaves the capture no evidence."""

import pytest
from django.db import connection
from django.utils import timezone

from fairwitness.core.errors import KeepingError
from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures import services
from fairwitness.server.captures.models import SampleChunk
from fairwitness.server.keeping.evidence import check_evidence
from fairwitness.server.keeping.versions import refuse_newer, refuse_older
from tests.conftest import cranking


@pytest.fixture
def kept(case, technician):
    return services.keep_capture(case, cranking(even_engine((1, 3, 4, 2))), by=technician, at=timezone.now())


def test_what_was_kept_is_intact(kept):
    found = check_evidence()
    assert (found.captures, found.changed) == (1, ())


@pytest.mark.parametrize("place", [0.2, 0.5, 0.9])
def test_one_changed_bit_names_its_capture(kept, place):
    chunk = SampleChunk.objects.filter(channel__capture=kept, level=0).order_by("id").first()
    data = bytearray(chunk.data)
    data[int(place * len(data))] ^= 1
    SampleChunk.objects.filter(pk=chunk.pk).update(data=bytes(data))
    (changed,) = check_evidence().changed
    assert (changed.case, changed.capture) == (kept.case.title, kept.name)
    assert changed.sentence.startswith(f"{kept.case.title}: capture {kept.name} is no evidence any more: its samples")


def test_samples_that_are_gone_are_found(kept):
    SampleChunk.objects.filter(channel__capture=kept).delete()
    assert len(check_evidence().changed) == 1


def test_a_database_of_a_newer_program_is_refused_in_words(db):
    refuse_newer()
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO django_migrations (app, name, applied) VALUES ('cases', '9999_tomorrow', '2030-01-01')"
        )
    with pytest.raises(KeepingError, match=r"newer version of the program \(cases 9999_tomorrow\)"):
        refuse_newer()


def test_steps_of_applications_that_are_not_ours_are_nobodys_business(db):
    with connection.cursor() as cursor:
        cursor.execute("INSERT INTO django_migrations (app, name, applied) VALUES ('auth', '9999_x', '2030-01-01')")
    refuse_newer()


def test_a_database_of_an_earlier_program_waits_for_the_server(db):
    refuse_older()
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM django_migrations WHERE app = 'cases' AND name LIKE '0008%'")
    with pytest.raises(KeepingError, match="brings it up to date"):
        refuse_older()

"""A changed byte is found, named, and leaves the capture no evidence."""

from datetime import UTC, datetime
from importlib import import_module

import pytest
from django.apps import apps
from django.db import connection
from django.utils import timezone

from fairwitness.core.errors import KeepingError
from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures import services
from fairwitness.server.captures.models import SampleChunk, StoredCapture
from fairwitness.server.cases import services as cases
from fairwitness.server.cases.models import JournalEntry, StoredObservation
from fairwitness.server.keeping.evidence import check_evidence
from fairwitness.server.keeping.versions import refuse_newer, refuse_older
from fairwitness.server.pictures.models import PictureBytes
from fairwitness.server.pictures.services import keep_picture, mark_picture, withdraw_picture
from tests.conftest import cranking
from tests.server.pictures.samples import photo


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
    assert (changed.case, changed.what) == (kept.case.title, f"capture {kept.name}")
    why = "a stored piece of its samples was changed"
    assert changed.sentence == f"{kept.case.title}: capture {kept.name} is no evidence any more: {why}."


def test_samples_that_are_gone_are_found(kept):
    SampleChunk.objects.filter(channel__capture=kept).delete()
    assert len(check_evidence().changed) == 1


def pictured(case, technician):
    now = timezone.now()
    photo_kept = keep_picture(case, photo(), words="Plug of 3", by=technician, at=now)
    mark_picture(photo_kept, [{"kind": "words", "x": 0.1, "y": 0.1, "words": "wet"}], by=technician, at=now)
    gone = keep_picture(case, photo(seed=2), by=technician, at=now)
    withdraw_picture(gone, reason="blurred", by=technician, at=now)
    return photo_kept


def test_pictures_marked_and_withdrawn_are_intact(case, technician):
    pictured(case, technician)
    assert check_evidence().changed == ()


def test_a_picture_that_was_changed_or_taken_out_is_named(case, technician):
    kept = pictured(case, technician)
    PictureBytes.objects.filter(pk=kept.pk).update(data=photo(seed=8))
    (changed,) = check_evidence().changed
    assert (changed.what, changed.why) == (f"photo {kept.pk}", "its file is not what was kept")
    kept.delete()
    found = [one.what for one in check_evidence().changed]
    assert found == ["photo kept Plug of 3", "picture marked 1 marks"]


def worked_on(case, technician):
    now = timezone.now()
    services.keep_capture(case, cranking(even_engine((1, 3, 4, 2))), by=technician, at=now)
    cases.add_observations(case, test="note", readings=[{"text": "a"}, {"text": "b"}], by=technician, at=now)
    return list(JournalEntry.objects.order_by("id"))


def test_a_journal_that_was_only_added_to_is_intact(case, technician):
    lines = worked_on(case, technician)
    assert [bool(line.about) for line in lines] == [False, True, True]
    found = check_evidence()
    assert (found.lines, found.changed) == (3, ())


@pytest.mark.parametrize("place", [0, 1, 2])
@pytest.mark.parametrize(
    "change",
    [
        {"detail": "another"},
        {"verb": "said"},
        {"at": datetime(2020, 1, 1, tzinfo=UTC)},
        {"about": "0" * 64},
        {"seal": ""},
    ],
)
def test_a_changed_line_of_the_journal_is_found(case, technician, place, change):
    line = worked_on(case, technician)[place]
    JournalEntry.objects.filter(pk=line.pk).update(**change)
    assert "journal from" in check_evidence().changed[0].what


@pytest.mark.parametrize("place", [0, 1])
def test_a_line_that_was_taken_out_is_found(case, technician, place):
    JournalEntry.objects.filter(pk=worked_on(case, technician)[place].pk).delete()
    assert "journal from" in check_evidence().changed[0].what


def test_a_changed_reading_and_a_capture_that_is_gone_are_found(case, technician):
    worked_on(case, technician)
    reading = StoredObservation.objects.order_by("id").first()
    StoredObservation.objects.filter(pk=reading.pk).update(data={**reading.data, "text": "c"})
    StoredCapture.objects.all().delete()
    assert sorted(c.why for c in check_evidence().changed) == [
        "its readings were changed", "the capture is gone, or its hash was changed",
    ]  # fmt: skip


def test_a_withdrawn_reading_is_still_what_it_was(case, technician):
    worked_on(case, technician)
    for reading in StoredObservation.objects.all()[:1]:
        cases.withdraw_observation(reading, reason="typo", by=technician, at=timezone.now())
    assert check_evidence().changed == ()


def test_lines_from_before_the_chain_are_sealed_as_they_stand(case, technician):
    worked_on(case, technician)
    JournalEntry.objects.update(seal="")
    import_module("fairwitness.server.cases.migrations.0010_seal_journal").seal(apps, None)
    assert check_evidence().changed == ()


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

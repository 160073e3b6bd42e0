"""A database takes the steps it lacks, and is not gone through where it lacks none."""

import pytest
from django.db import connection
from django.db.migrations.recorder import MigrationRecorder

from fairwitness.server.keeping import versions


@pytest.fixture
def steps(monkeypatch):
    taken = []
    monkeypatch.setattr(versions, "call_command", lambda *words, **_: taken.append(words))
    return taken


def test_a_database_that_is_up_to_date_is_left_alone(db, steps):
    assert versions.is_up_to_date()
    versions.bring_up_to_date()
    assert steps == []


def test_a_missing_step_is_taken(db, steps):
    last = MigrationRecorder(connection).migration_qs.filter(app="cases").order_by("name").last()
    MigrationRecorder(connection).record_unapplied("cases", last.name)
    assert not versions.is_up_to_date()
    versions.bring_up_to_date()
    assert steps == [("migrate",)]

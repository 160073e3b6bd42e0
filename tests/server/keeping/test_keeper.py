"""The daily rounds: what is due is done, what fails is said and stops nothing else."""

import logging
import sqlite3
from contextlib import closing
from datetime import UTC, datetime, timedelta

import pytest

from fairwitness.server.captures.models import EvidenceCheck
from fairwitness.server.keeping import backups, keeper
from fairwitness.server.keeping.backups import DATABASE
from fairwitness.server.keeping.keeper import Rounds

DUE = keeper._due
NOON = datetime(2026, 11, 30, 12, tzinfo=UTC)


@pytest.fixture
def house(tmp_path, monkeypatch):
    with closing(sqlite3.connect(tmp_path / DATABASE)) as made:
        made.execute("CREATE TABLE kept (n)")
    monkeypatch.setattr(keeper, "last_check", lambda: NOON)
    monkeypatch.setattr(keeper, "_due", lambda last, now: last is not NOON and DUE(last, now))
    return Rounds(tmp_path / DATABASE, tmp_path / "backups", 2)


def test_a_backup_a_day_and_so_many_of_them(house):
    for hours in (0, 1, 23, 24, 47, 48.5, 73):
        house.go(NOON + timedelta(hours=hours))
    kept = [backups.made_at(path) for path in backups.kept_in(house.backups)]
    assert kept == [NOON + timedelta(hours=48.5), NOON + timedelta(hours=73)]


@pytest.mark.parametrize(
    ("last", "due"),
    [
        (None, True),
        (NOON - timedelta(hours=23), False),
        (NOON - timedelta(hours=24), True),
        (NOON + timedelta(hours=2), True),
    ],
    ids=["never", "today", "yesterday", "the clock went back"],
)
def test_what_is_due(last, due):
    assert DUE(last, NOON) is due


def test_a_backup_that_fails_is_said_and_the_check_is_made_all_the_same(house, monkeypatch, caplog):
    done = []
    monkeypatch.setattr(keeper, "last_check", lambda: None)
    monkeypatch.setattr(keeper, "_check", lambda: done.append("checked"))
    with caplog.at_level(logging.ERROR):
        Rounds(house.database.with_name("none"), house.backups, 2).go(NOON)
    assert "backup failed" in caplog.text
    assert "There is no database" in caplog.text
    assert done == ["checked"]


def test_without_a_folder_no_backup_is_made(house):
    Rounds(house.database, None, 2).go(NOON)
    assert not house.backups.exists()


def test_a_round_checks_every_case(case, caplog, tmp_path):
    with caplog.at_level(logging.INFO):
        Rounds(tmp_path / DATABASE, None, 2).go(NOON)
    assert "evidence checked: 0 captures, 0 changed" in caplog.text
    assert EvidenceCheck.objects.get().case == case
    assert keeper.last_check() is not None

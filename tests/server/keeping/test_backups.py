"""Copies of a database in use: whole, private, few, and put back only where nothing is."""

import sqlite3
import stat
from contextlib import closing
from datetime import UTC, datetime, timedelta

import pytest

from fairwitness.core.errors import KeepingError
from fairwitness.server.keeping import backups

AT = datetime(2026, 11, 30, 6, 0, tzinfo=UTC)


@pytest.fixture
def database(tmp_path):
    path = tmp_path / "data" / backups.DATABASE
    path.parent.mkdir()
    with closing(sqlite3.connect(path)) as made:
        made.execute("PRAGMA journal_mode=WAL")
        made.execute("CREATE TABLE kept (id INTEGER PRIMARY KEY, what TEXT)")
        made.executemany("INSERT INTO kept (what) VALUES (?)", [(f"line {i}",) for i in range(5_000)])
        made.commit()
    return path


def rows(path):
    with closing(sqlite3.connect(path)) as opened:
        return opened.execute("SELECT count(*) FROM kept").fetchone()[0]


def test_what_still_lies_in_the_log_is_in_the_copy(database, tmp_path):
    with closing(sqlite3.connect(database)) as writer:
        writer.execute("PRAGMA wal_autocheckpoint=0")
        writer.execute("INSERT INTO kept (what) VALUES ('the last')")
        writer.commit()
        assert database.with_name(database.name + "-wal").stat().st_size > 0
        made = backups.copy_of(database, tmp_path / "kept", at=AT)
    assert rows(made) == 5_001
    assert made.name == "fairwitness-2026-11-30T060000Z.sqlite3"
    assert stat.S_IMODE(made.stat().st_mode) == 0o600
    assert [p.name for p in made.parent.iterdir()] == [made.name]


def test_only_the_last_few_stay(database, tmp_path):
    folder = tmp_path / "kept"
    made = [backups.copy_of(database, folder, at=AT + timedelta(days=i)) for i in range(5)]
    assert backups.forget_old(folder, keep=2) == made[:3]
    assert backups.kept_in(folder) == made[3:]
    assert backups.forget_old(folder, keep=0) == []


def test_a_backup_is_put_back_into_an_empty_folder_only(database, tmp_path):
    made = backups.copy_of(database, tmp_path / "kept", at=AT)
    put = backups.put_back(made, tmp_path / "new")
    assert rows(put) == 5_000
    assert stat.S_IMODE(put.stat().st_mode) == 0o600
    with pytest.raises(KeepingError, match="already"):
        backups.put_back(made, database.parent)


def damaged(path):
    data = bytearray(path.read_bytes())
    data[4096:9000] = b"\xff" * (9000 - 4096)
    path.write_bytes(data)
    return path


def test_a_damaged_backup_is_refused_and_nothing_is_left(database, tmp_path):
    made = damaged(backups.copy_of(database, tmp_path / "kept", at=AT))
    with pytest.raises(KeepingError, match="damaged"):
        backups.put_back(made, tmp_path / "new")
    assert not (tmp_path / "new").exists()


def test_no_backup_is_kept_of_a_damaged_database(database, tmp_path):
    with closing(sqlite3.connect(database)) as opened:
        opened.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    damaged(database)
    with pytest.raises(KeepingError):
        backups.copy_of(database, tmp_path / "kept", at=AT)
    assert list((tmp_path / "kept").iterdir()) == []


def test_without_room_or_database_it_says_so(database, tmp_path, monkeypatch):
    with pytest.raises(KeepingError, match="no database"):
        backups.copy_of(tmp_path / "nothing", tmp_path / "kept", at=AT)
    free = type("Usage", (), {"free": 1000})
    monkeypatch.setattr(backups.shutil, "disk_usage", lambda _: free)
    with pytest.raises(KeepingError, match=r"too little room.*Free .* MB"):
        backups.copy_of(database, tmp_path / "kept", at=AT)


def test_a_folder_that_cannot_be_written_is_said(database, tmp_path):
    (tmp_path / "file").write_text("")
    made = backups.copy_of(database, tmp_path / "kept", at=AT)
    with pytest.raises(KeepingError, match="cannot be written"):
        backups.put_back(made, tmp_path / "file" / "inside")

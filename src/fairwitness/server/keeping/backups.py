"""Backups of the database, by SQLite's own copying: whole while others write, checked before they count, put back.

Copying the file itself would lose what still lies in its write-ahead log.
"""

from __future__ import annotations

import os
import shutil
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from fairwitness.core.errors import KeepingError

PREFIX, SUFFIX = "fairwitness-", ".sqlite3"
STAMP = "%Y-%m-%dT%H%M%SZ"
DATABASE = "fairwitness.sqlite3"
PAGES_AT_ONCE = 2_000
"""Between them others write; what they change is copied again."""
ROOM = 1.1
"""Free space that is asked for, in sizes of the database."""
PRIVATE = 0o600


def copy_of(database: Path, into: Path, *, at: datetime) -> Path:
    """Copy a database that is in use.

    Parameters
    ----------
    database : Path
    into : Path
        Folder; made if need be.
    at : datetime
        In UTC; the copy's name.

    Returns
    -------
    Path
        Of the copy, readable by its owner alone.

    Raises
    ------
    KeepingError
        No such database, no room, or what was copied is damaged. Nothing is left behind then.
    """
    if not database.is_file():
        raise KeepingError("There is no database.", where=str(database), remedy="Name the folder of the data.")
    into.mkdir(parents=True, exist_ok=True, mode=0o700)
    needed = ROOM * (database.stat().st_size + _size(database.with_name(database.name + "-wal")))
    if shutil.disk_usage(into).free < needed:
        raise KeepingError(
            "There is too little room for a backup.", where=str(into), remedy=f"Free {needed / 1e6:.0f} MB."
        )
    target = into / f"{PREFIX}{at.strftime(STAMP)}{SUFFIX}"
    unfinished = target.with_suffix(".unfinished")
    try:
        unfinished.touch(mode=PRIVATE)
        reading = closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True))
        with reading as source, closing(sqlite3.connect(unfinished)) as copy:
            source.backup(copy, pages=PAGES_AT_ONCE, sleep=0.01)
            copy.execute("PRAGMA journal_mode=DELETE")
        refuse_damaged(unfinished)
        _to_disk(unfinished)
        unfinished.rename(target)
        _to_disk(into)
    except (sqlite3.Error, OSError) as error:
        raise KeepingError(f"The backup failed: {error}.", where=str(into), remedy="Try again.") from error
    finally:
        unfinished.unlink(missing_ok=True)
    return target


def refuse_damaged(database: Path) -> None:
    """Let SQLite check a database.

    Raises
    ------
    KeepingError
        It is damaged, or no database.
    """
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as opened:
            said = [row[0] for row in opened.execute("PRAGMA integrity_check(3)")]
            broken = opened.execute("PRAGMA foreign_key_check").fetchone()
    except sqlite3.Error as error:
        said, broken = [str(error)], None
    if said != ["ok"] or broken is not None:
        what = "; ".join(said) if said != ["ok"] else f"a row of {broken[0]} points nowhere"
        raise KeepingError(f"The database is damaged: {what}.", where=str(database), remedy="Take an earlier backup.")


def kept_in(folder: Path) -> list[Path]:
    """Backups in a folder, the oldest first."""
    return sorted(folder.glob(f"{PREFIX}*{SUFFIX}"))


def made_at(backup: Path) -> datetime | None:
    """When a backup was made, by its name; None where it has another one."""
    try:
        return datetime.strptime(backup.name, f"{PREFIX}{STAMP}{SUFFIX}").replace(tzinfo=UTC)
    except ValueError:
        return None


def forget_old(folder: Path, *, keep: int) -> list[Path]:
    """Delete all backups but the last few.

    Returns
    -------
    list of Path
        What was deleted.
    """
    old = kept_in(folder)[:-keep] if keep > 0 else []
    for path in old:
        path.unlink()
    return old


def put_back(backup: Path, data: Path) -> Path:
    """Make a backup the database of an empty folder.

    Parameters
    ----------
    backup : Path
    data : Path
        Made if need be; must hold no database.

    Returns
    -------
    Path
        Of the database.

    Raises
    ------
    KeepingError
        There is a database already, the backup is damaged, or it cannot be written.
    """
    target = data / DATABASE
    if target.exists():
        raise KeepingError(
            "There is a database already.", where=str(target), remedy="Restore into an empty folder, or move it away."
        )
    refuse_damaged(backup)
    unfinished = target.with_suffix(".unfinished")
    try:
        data.mkdir(parents=True, exist_ok=True, mode=0o700)
        try:
            unfinished.touch(mode=PRIVATE)
            shutil.copyfile(backup, unfinished)
            _to_disk(unfinished)
            unfinished.rename(target)
        finally:
            unfinished.unlink(missing_ok=True)
    except OSError as error:
        raise KeepingError(
            f"It cannot be written: {error.strerror}.", where=str(data), remedy="Choose another folder."
        ) from error
    return target


def _size(path: Path) -> int:
    return path.stat().st_size if path.exists() else 0


def _to_disk(path: Path) -> None:
    held = os.open(path, os.O_RDONLY)
    try:
        os.fsync(held)
    finally:
        os.close(held)

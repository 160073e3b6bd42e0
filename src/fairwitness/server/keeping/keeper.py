"""What is done every day without anybody: a backup, and a check of all evidence. It runs beside the server."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from django.db import close_old_connections

from fairwitness.core.errors import FairWitnessError
from fairwitness.server.keeping import backups
from fairwitness.server.keeping.evidence import check_evidence, last_check

LOG = logging.getLogger(__name__)
EVERY = timedelta(hours=24)
LOOKS_EVERY_S = 300.0
FIRST_LOOK_S = 20.0
"""After the start, when pages have been served once."""


@dataclass(frozen=True, slots=True)
class Rounds:
    """What is kept where.

    Parameters
    ----------
    database : Path
    backups : Path, optional
        Folder; no backups are made without one.
    keep : int
        So many of them.
    """

    database: Path
    backups: Path | None
    keep: int

    def go(self, now: datetime) -> None:
        """Do what is due; what fails is logged, tried again at the next look, and never stops the rest."""
        if self.backups is not None and _due(last_backup(self.backups), now):
            self._attempt("backup", lambda: self._back_up(now))
        if _due(last_check(), now):
            self._attempt("check", _check)

    def _back_up(self, now: datetime) -> None:
        if self.backups is not None:
            made = backups.copy_of(self.database, self.backups, at=now)
            deleted = backups.forget_old(self.backups, keep=self.keep)
            LOG.info("backup made: %s, %d old ones deleted", made.name, len(deleted))

    def _attempt(self, name: str, work: Callable[[], None]) -> None:
        try:
            work()
        except FairWitnessError as error:
            LOG.error("%s failed: %s", name, error.sentence)
        except Exception:
            LOG.exception("%s failed", name)


def _check() -> None:
    found = check_evidence()
    for changed in found.changed:
        LOG.error("%s", changed.sentence)
    LOG.info("evidence checked: %d captures, %d changed", found.captures, len(found.changed))


def last_backup(folder: Path) -> datetime | None:
    """When the newest backup was made."""
    kept = backups.kept_in(folder)
    return backups.made_at(kept[-1]) if kept else None


def _due(last: datetime | None, now: datetime) -> bool:
    """Also where the last time lies in the future: the clock went back since."""
    return last is None or not timedelta(0) <= now - last < EVERY


def start(rounds: Rounds) -> threading.Event:
    """Make the rounds in a thread of their own until the event is set."""
    stop = threading.Event()

    def run() -> None:
        wait = FIRST_LOOK_S
        while not stop.wait(wait):
            rounds.go(datetime.now(UTC))
            close_old_connections()
            wait = LOOKS_EVERY_S

    threading.Thread(target=run, name="keeper", daemon=True).start()
    return stop

"""How the house stands: version, disk, backups, the last check, and what went wrong lately."""

from __future__ import annotations

import json
import shutil
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection

from fairwitness import __version__
from fairwitness.server.captures.models import EvidenceCheck
from fairwitness.server.keeping.backups import DATABASE
from fairwitness.server.keeping.evidence import last_check
from fairwitness.server.keeping.keeper import last_backup
from fairwitness.server.keeping.logs import ERRORS

ROOM_LOW_BYTES = 2 * 1024**3
"""[M] About a day's recordings of a busy bay."""
ERRORS_SHOWN = 20
TAIL_BYTES = 256 * 1024


@dataclass(frozen=True, slots=True)
class House:
    """How the house stands."""

    version: str
    database_bytes: int
    free_bytes: int
    room_low: bool
    backups_into: str
    last_backup: datetime | None
    last_check: datetime | None
    changed: tuple[str, ...]
    last_errors: tuple[dict[str, Any], ...]
    """The newest first: when, number, what."""


def house(data: Path | None = None) -> House:
    """Look at everything once.

    Parameters
    ----------
    data : Path, optional
        Folder of the database; that of the settings if left out.
    """
    folder = data or settings.DATA
    free = shutil.disk_usage(folder).free
    size = sum(p.stat().st_size for p in folder.glob(f"{DATABASE}*"))
    into: Path | None = settings.BACKUPS
    changed = [
        f"{check.case.title or check.case.name}: {said}"
        for check in EvidenceCheck.objects.exclude(changed=[]).select_related("case")
        for said in check.changed
    ]
    return House(
        version=__version__,
        database_bytes=size,
        free_bytes=free,
        room_low=free < max(ROOM_LOW_BYTES, 2 * size if into is not None else 0),
        backups_into=str(into or ""),
        last_backup=last_backup(into) if into is not None and into.is_dir() else None,
        last_check=last_check(),
        changed=tuple(changed),
        last_errors=tuple(errors_in(folder / ERRORS)),
    )


def errors_in(path: Path) -> list[dict[str, Any]]:
    """The last lines of the log of errors, the newest first; a line that is cut off is left out."""
    if not path.is_file():
        return []
    with path.open("rb") as log:
        log.seek(max(0, path.stat().st_size - TAIL_BYTES))
        lines = log.read().decode(errors="replace").splitlines()
    found = []
    for line in reversed(lines):
        try:
            told = json.loads(line)
        except ValueError:
            continue
        if isinstance(told, dict) and {"at", "number", "what"} <= told.keys():
            found.append({key: str(told[key]) for key in ("at", "number", "what")})
        if len(found) == ERRORS_SHOWN:
            break
    return found


def why_not_ready() -> str:
    """Why nobody should be sent here; empty where all is well."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM accounts_user")
    except Exception as error:  # whatever keeps the database from answering
        return f"The database does not answer: {error}."
    return ""

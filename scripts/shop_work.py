"""What people of a workshop do over HTTP, each piece found again by what was answered, and what is in the database."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Callable
from contextlib import closing
from http.client import HTTPException
from pathlib import Path
from typing import NamedTuple

import numpy as np
from shop import Person

ENGINE = {
    "label": "Hollin Drover 2.0", "cylinders": 4, "firing_order": [1, 3, 4, 2], "fuel": "petrol",
    "ignition": "coil_on_plug", "injection": "port",
}  # fmt: skip
DATABASE = "fairwitness.sqlite3"
MADE = 201
STORED = {
    "note": "SELECT json_extract(data, '$.text') FROM cases_storedobservation",
    "capture": "SELECT id FROM captures_storedcapture",
    "package": "SELECT id FROM cases_storedcase",
}
PLAN = {
    "test": "relative_compression", "engine_state": "cranking", "fuel_disabled": True,
    "columns": [
        {"column": "time", "role": "time", "unit": "s"},
        {"column": "current", "role": "starter_current", "unit": "A"},
    ],
}  # fmt: skip


class Piece(NamedTuple):
    """Something that was acknowledged."""

    kind: str
    key: object


Work = Callable[[int], Piece | None]


def a_case(person: Person) -> int:
    """A new case; its number."""
    status, said = person.ask("/api/cases/", {"title": "Bus 3", "engine": ENGINE})
    if status != MADE:
        raise RuntimeError(said)
    return int(said["id"])


def noted(person: Person, case: int, number: int, beside: str = "") -> tuple[Piece, int, object]:
    """A note; what it would be found by, and what was answered."""
    text = f"piece {number}{beside}"
    status, said = person.ask(f"/api/cases/{case}/observations/", {"test": "note", "data": {"text": text}})
    return Piece("note", text), status, said


def a_crank(number: int, rows: int = 4000) -> bytes:
    """A starter current as a file, another one for every number."""
    rng = np.random.default_rng(number)
    seconds = np.arange(rows) / 1000.0
    amperes = 140.0 + 40.0 * np.cos(2 * np.pi * 8.0 * seconds) + rng.normal(0.0, 2.0, rows)
    lines = [f"{t:.3f},{i:.2f}" for t, i in zip(seconds, amperes, strict=True)]
    return "\n".join(["time,current", *lines, ""]).encode()


def writes_notes(person: Person, case: int) -> Work:
    """One who writes notes."""

    def work(number: int) -> Piece | None:
        piece, status, _ = noted(person, case, number)
        return piece if status == MADE else None

    return work


def keeps_captures(person: Person, case: int) -> Work:
    """One who imports recordings."""

    def work(number: int) -> Piece | None:
        status, said = person.keep_file(case, f"crank-{number}.csv", a_crank(number), PLAN)
        return Piece("capture", said["id"]) if status == MADE else None

    return work


def imports_packages(person: Person, package: bytes) -> Work:
    """One who imports whole cases."""

    def work(number: int) -> Piece | None:
        status, said = person.send_file("/api/cases/import/", f"case-{number}.zip", package)
        return Piece("package", said["id"]) if status == MADE else None

    return work


def until_stopped(
    works: list[Work], first: int, stop: threading.Event, acknowledged: set[Piece]
) -> list[threading.Thread]:
    """Everybody works until they are stopped, or the server is gone."""

    def day(work: Work, number: int) -> None:
        while not stop.is_set():
            try:
                piece = work(number)
            except (OSError, HTTPException):  # it was killed under the request
                return
            if piece is not None:
                acknowledged.add(piece)
            number += 1

    threads = [threading.Thread(target=day, args=(w, first + i * 10**5)) for i, w in enumerate(works)]
    for thread in threads:
        thread.start()
    return threads


def stored(folder: Path) -> set[Piece]:
    """What is in the database, read beside the server; it must be whole."""
    with closing(sqlite3.connect(folder / DATABASE)) as opened:
        if opened.execute("PRAGMA integrity_check").fetchone() != ("ok",):
            raise RuntimeError("damaged")
        return {Piece(kind, key) for kind, how in STORED.items() for (key,) in opened.execute(how) if key is not None}

"""The journal as a chain: each line carries the seal of the one before, so that none is changed or taken out unseen."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from typing import Any, Protocol


class Line(Protocol):
    """What is sealed of a line of the journal."""

    case_id: int
    verb: str
    detail: str
    about: str
    by_id: int
    at: datetime
    seal: str


def seal_of(line: Line, before: str) -> str:
    """The seal of a line that follows another.

    Parameters
    ----------
    line : Line
    before : str
        Seal of the line before it, of whatever case; empty for the first.

    Returns
    -------
    str
        SHA-256 in hexadecimal.
    """
    at = line.at.astimezone(UTC).isoformat(timespec="microseconds")
    said = [before, line.case_id, line.verb, line.detail, line.about, line.by_id, at]
    return hashlib.sha256(json.dumps(said, ensure_ascii=True).encode()).hexdigest()


def exported(lines: Iterable[Any]) -> list[dict[str, Any]]:
    """Lines with all that is sealed, and the seal each follows, so that a line can be checked without the others.

    Parameters
    ----------
    lines : iterable of Line
        All lines of the journal in the order they were written, or the first ones.
    """
    before, told = "", []
    for line in lines:
        at = line.at.astimezone(UTC).isoformat(timespec="microseconds")
        told.append(
            {"case": line.case_id, "verb": line.verb, "detail": line.detail, "about": line.about, "by": line.by_id,
             "name": line.by.shown_name, "at": at, "follows": before, "seal": line.seal}
        )  # fmt: skip
        before = line.seal
    return told


def digest_of(readings: Sequence[dict[str, Any]]) -> str:
    """What the journal keeps of readings written down by hand: changed by any change of any of them."""
    return hashlib.sha256(json.dumps(list(readings), sort_keys=True, ensure_ascii=True).encode()).hexdigest()


def first_broken(lines: Iterable[Line]) -> Line | None:
    """The first line, in the order they were written, that does not follow from the one before it."""
    before = ""
    for line in lines:
        if line.seal != seal_of(line, before):
            return line
        before = line.seal
    return None

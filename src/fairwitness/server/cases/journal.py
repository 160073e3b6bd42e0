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

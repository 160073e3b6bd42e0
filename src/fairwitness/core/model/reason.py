"""Why a capture or a reading is believed, or not: one statement with a code."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Reason:
    """One statement about a capture. Blocking: it cannot be used as evidence."""

    code: str
    statement: str
    blocking: bool = False

"""Why a capture or a reading is believed, or not: one statement with a code."""

from __future__ import annotations

from dataclasses import dataclass

from fairwitness.core.messages.message import Message


@dataclass(frozen=True, slots=True)
class Reason:
    """One statement about a capture. Blocking: it cannot be used as evidence."""

    code: str
    statement: Message
    blocking: bool = False

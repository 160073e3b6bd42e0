"""A sentence and the evidence under it."""

from __future__ import annotations

from dataclasses import dataclass

from fairwitness.core.messages.message import Message


@dataclass(frozen=True, slots=True)
class Sentence:
    """One sentence and the findings that carry it."""

    text: Message
    findings: tuple[str, ...] = ()

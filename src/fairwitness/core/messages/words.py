"""Words that many tests share: who is spoken of, how a capture was assigned, how a test came out."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message

CYLINDER = template("words.cylinder", "Cylinder {cylinder}")
ONE_OF_CYLINDERS = template("words.one_of_cylinders", "Cylinder {cylinders:or}")
ONE_CYLINDER = phrase("words.one_cylinder", "One cylinder")
SHARE = template("words.share", "{percent:.0f} %")

SYNCED = phrase("words.synced", "synced")
OPEN = phrase("words.open", "open")
ONCE_PER_REVOLUTION = phrase("words.once_per_revolution", "once per revolution")
NOT_ASSIGNED = phrase("words.not_assigned", "not assigned")
BY_LEAD = phrase("words.by_lead", "by lead")
BY_HAND = phrase("words.by_hand", "by hand")


def outcome_word(outcome: str) -> Message:
    """How a test came out, in a word: ``very_late`` is "very late"."""
    return phrase(f"outcome.{outcome}", outcome.replace("_", " "))

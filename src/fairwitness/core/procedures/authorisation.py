"""The owner's yes to have the engine opened: written down like a reading, and evidence of nothing but itself."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.decision import DECISION
from fairwitness.core.procedures.form import Data, Entry, Filled, Form

TEST = DECISION
_say = scope(TEST)


def _readings(filled: Filled) -> list[Data]:
    return [dict(filled.entries)]


FORM = Form(
    title=_say("form", "The owner’s yes to open the engine"),
    hint=_say(
        "hint",
        "Taking an engine apart costs money whatever is found. Say what was agreed, by whom, and up to how much.",
    ),
    kept=_say("kept", "Authorisation"),
    entries=(
        Entry(key="who", words=_say("who", "who agreed"), text=True),
        Entry(key="amount", words=_say("amount", "up to how much"), text=True),
        Entry(key="note", words=_say("note", "to what"), text=True),
    ),
    least=0,
    readings=_readings,
)

"""The owner's decision: a yes or a no, to what, said how, and up to how much.

Written down like a reading and evidence of nothing but itself; the plan holds back what was asked for and not agreed.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation

DECISION = "authorisation"
"""Test that a decision is written down under."""
WORDS_MOST = 300
MINUTES_MOST = 60_000


class Way(StrEnum):
    """How it was said."""

    IN_PERSON = "in_person"
    PHONE = "phone"
    MESSAGE = "message"


class Agreement(StrEnum):
    """What an owner may agree to."""

    TESTING = "testing"
    """To go on looking for it."""
    OPEN_FUEL = "open_fuel"
    """Rail or fuel line opened."""
    OPEN_ENGINE = "open_engine"
    """The engine taken apart."""
    REPAIR = "repair"


WAY_WORDS: Mapping[Way, Message] = {
    Way.IN_PERSON: phrase("decision.in_person", "in person"),
    Way.PHONE: phrase("decision.phone", "by phone"),
    Way.MESSAGE: phrase("decision.message", "by message"),
}
AGREEMENT_WORDS: Mapping[Agreement, Message] = {
    Agreement.TESTING: phrase("decision.testing", "further testing"),
    Agreement.OPEN_FUEL: phrase("decision.open_fuel", "opening the fuel line or rail"),
    Agreement.OPEN_ENGINE: phrase("decision.open_engine", "taking the engine apart"),
    Agreement.REPAIR: phrase("decision.repair", "the repair"),
}
NEEDED: Mapping[Act, Agreement] = {Act.OPENS_FUEL_LINE: Agreement.OPEN_FUEL}
"""What a test does that the owner is asked about."""
EVERYTHING = frozenset(Agreement)


@dataclass(frozen=True, slots=True, kw_only=True)
class Decision:
    """One decision.

    Parameters
    ----------
    who : str
    way : Way or None
    option : str
        Which of the ways to go on was chosen, in words.
    agreed : frozenset of Agreement
        Empty: a no.
    up_to_minutes : int or None
        Labour agreed to.
    up_to : str
        A sum, as it was said.
    note : str
    """

    who: str = ""
    way: Way | None = None
    option: str = ""
    agreed: frozenset[Agreement] = frozenset()
    up_to_minutes: int | None = None
    up_to: str = ""
    note: str = ""

    def forbids(self) -> frozenset[Act]:
        """Acts that were not agreed to."""
        return frozenset(act for act, needed in NEEDED.items() if needed not in self.agreed)


def read_decision(data: Mapping[str, Any]) -> Decision:
    """Read a decision; one that does not say to what, as they were written down first, is a yes to everything.

    Parameters
    ----------
    data : mapping
        Of an observation.

    Returns
    -------
    Decision
    """

    def text(key: str) -> str:
        return value[:WORDS_MOST] if isinstance(value := data.get(key), str) else ""

    given, minutes, way = data.get("agreed"), data.get("up_to_minutes"), data.get("way")
    named = frozenset(Agreement(a) for a in given if a in list(Agreement)) if isinstance(given, list) else EVERYTHING
    whole = isinstance(minutes, int) and not isinstance(minutes, bool) and 0 < minutes <= MINUTES_MOST
    return Decision(
        who=text("who"),
        way=Way(way) if way in list(Way) else None,
        option=text("option"),
        agreed=named,
        up_to_minutes=minutes if whole else None,
        up_to=text("amount"),
        note=text("note"),
    )


def last_decision(observations: Iterable[Observation]) -> Decision | None:
    """The decision that holds: the last one; None where the owner was not asked yet."""
    told = [read_decision(o.data) for o in observations if o.test == DECISION]
    return told[-1] if told else None

"""What the plan offers, what it says beside it, and what was taken already."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.measurement import CategoricalEvidence
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.procedures.specs import TEST_OF
from fairwitness.core.reason.planning.implications import Implication


@dataclass(frozen=True, slots=True, kw_only=True)
class NextTest:
    """One offer."""

    test: str
    id: str
    """Which of its forms (``resistance:coil_primary``); the test's own name where it has one form."""
    kind: str
    """Row of the table of outcomes, for a test by hand."""
    title: Message
    cylinders: tuple[int, ...]
    minutes: float
    information_bits: float
    tools: Message
    reason: Message
    cautions: tuple[Message, ...]
    probe: Message = NOTHING
    """Where the shop's wiring says to measure: connector, pin, colour."""
    implications: tuple[Implication, ...] = ()
    """What each outcome would mean, most probable first."""
    proves: tuple[str, ...] = ()
    """Conditions of the discipline it would meet."""
    rank: float = 0.0
    again: bool = False
    """It was taken already; the accusation hangs on what it said."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """What to do next.

    Parameters
    ----------
    offers : tuple of NextTest
        Best first.
    stop : Message
        When to stop, or why to stop now.
    done : bool
        Nothing on offer is worth its minutes.
    held_back : tuple of Message
        What cannot be done now, and why.
    leave_alone : tuple of Message
        What must not be touched until the complaint was caught.
    deciding : Message
        The offer that would best tell the leading hypothesis from its rival; empty where none does.
    """

    offers: tuple[NextTest, ...] = ()
    stop: Message = NOTHING
    done: bool = False
    held_back: tuple[Message, ...] = ()
    leave_alone: tuple[Message, ...] = ()
    deciding: Message = NOTHING


@dataclass(frozen=True, slots=True, kw_only=True)
class Done:
    """What was taken already.

    Parameters
    ----------
    tests : collection of str
        Tests with usable, decided evidence of all cylinders.
    at : collection of (str, int)
        Tests done on single cylinders.
    categorical : sequence of CategoricalEvidence
    columns : collection of str
        Of the signature table, that usable evidence spoke to.
    """

    tests: Collection[str] = ()
    at: Collection[tuple[str, int]] = ()
    categorical: Sequence[CategoricalEvidence] = ()
    columns: Collection[str] = ()

    def left(self, test: Offer, scope: tuple[int, ...]) -> tuple[int, ...]:
        """Cylinders of a scope a test was not done on yet."""
        compares = bool(test.columns) and not test.kinds  # another way to take it compares the same once more
        if (
            test.id in self.tests
            or (compares and TEST_OF[test.id] in self.tests)
            or (not test.per_cylinder and any(s.kind == test.id for s in self.categorical))
        ):
            return ()
        if not test.per_cylinder:
            return scope
        shown = {(s.kind, c) for s in self.categorical for c in s.cylinders} | set(self.at)
        return tuple(c for c in scope if (test.id, c) not in shown)

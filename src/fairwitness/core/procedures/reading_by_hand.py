"""What tests by hand share: one reading becomes one finding and one piece of evidence, or a refusal that says why."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from fairwitness import __version__
from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.messages.words import BY_HAND
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.model.measurement import CategoricalEvidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason

NAMES_NO_CYLINDER = phrase("reading_by_hand.names_no_cylinder", "The reading names no cylinder of this engine.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Came:
    """How one reading came out.

    Parameters
    ----------
    kind, outcome : str
        Row and column of the table of outcomes; an empty kind is reported but not weighed.
    speaks_of : tuple of int
        Cylinders the outcome bears on.
    at : int or None
        Cylinder it was taken at.
    state, statement, word, value, unit
        Of the finding.
    group : str
        Readings of one group are one row of the board; the test itself where empty.
    group_words : Message
        What the row says of them; nothing where the group is the test.
    figures : mapping
        Kept for comparing with the other cylinders.
    """

    kind: str = ""
    outcome: str = ""
    speaks_of: tuple[int, ...] = ()
    at: int | None = None
    state: State
    statement: Message
    word: Message = NOTHING
    value: float | None = None
    unit: str = "1"
    group: str = ""
    group_words: Message = NOTHING
    figures: Mapping[int, Mapping[str, float]] = field(default_factory=dict)


def origin_of(index: int) -> Origin:
    """Where a finding of an observation comes from."""
    return Origin(observation=index, code_version=__version__)


def cylinder_of(data: Mapping[str, Any], engine: Engine, key: str = "cylinder") -> int | None:
    """The cylinder an observation names; None where it names none of this engine."""
    cylinder = data.get(key)
    named = isinstance(cylinder, int) and not isinstance(cylinder, bool) and cylinder in engine.firing_order
    return cylinder if named else None


def number_of(data: Mapping[str, Any], key: str, *, low: float, high: float) -> float | None:
    """A number an observation holds; None where it is missing, not finite or beyond what a meter shows."""
    value = data.get(key)
    if not isinstance(value, int | float) or isinstance(value, bool) or not math.isfinite(value):
        return None
    return float(value) if low <= value <= high else None


def on_the_coil(cylinder: int, engine: Engine) -> tuple[int, ...]:
    """All cylinders that live on the coil of one: a waste-spark coil serves two, that of a distributor all."""
    if engine.ignition is Ignition.DISTRIBUTOR:
        return tuple(sorted(engine.firing_order))
    for pair in engine.coil_pairs or (engine.companion_pairs if engine.ignition is Ignition.WASTE_SPARK else ()):
        if cylinder in pair:
            return tuple(sorted(pair))
    return (cylinder,)


def unread(test: str, index: int, engine: Engine, why: Message, *, cylinder: int | None = None) -> Measured:
    """An observation that says nothing, with the reason."""
    who = (cylinder,) if cylinder is not None else engine.firing_order
    return refused(test, "1", who, (Reason("not_understood", why, blocking=True),), origin_of(index))


def reading(test: str, index: int, came: Came) -> Measured:
    """One outcome at one place.

    Parameters
    ----------
    test : str
    index : int
        Of the observation in the case.
    came : Came

    Returns
    -------
    Measured
    """
    evidence = CategoricalEvidence(
        kind=came.kind, outcome=came.outcome, cylinders=came.speaks_of, source=f"observation:{index}"
    )
    finding = Finding(
        test=test,
        cylinder=came.at,
        quantity=came.group or test,
        value=came.value,
        unit=came.unit,
        spread=None,
        events=1,
        state=came.state,
        statement=came.statement,
        word=came.word,
        origin=origin_of(index),
    )
    words = {"group_words": came.group_words} if came.group_words else {}
    return Measured(
        test=test,
        observation=index,
        findings=(finding,),
        categorical=(evidence,) if came.kind else (),
        facts={"group": came.group or test, "assignment": BY_HAND, **words},
        figures=came.figures,
    )

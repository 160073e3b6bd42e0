"""Forms: how readings of a test by hand are written down, and what observations a filled one makes.

A form belongs to the record of its test. The interface draws it, sends back what was filled in, and ``read`` makes the
observations, so that no rule of the job is written in the interface.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import NOTHING, Message

Value = float | str | bool
Data = dict[str, Any]


class Stage(StrEnum):
    """Where in the order of the work a form stands."""

    LOOK = "look"
    CRANKING = "cranking"
    RUNNING = "running"
    IGNITION = "ignition"
    FUEL = "fuel"
    MECHANICAL = "mechanical"
    CIRCUITS = "circuits"
    PROOF = "proof"


STAGE_WORDS = {
    Stage.LOOK: phrase("stage.look", "Look and listen"),
    Stage.CRANKING: phrase("stage.cranking", "Cranking"),
    Stage.RUNNING: phrase("stage.running", "Running"),
    Stage.IGNITION: phrase("stage.ignition", "Ignition"),
    Stage.FUEL: phrase("stage.fuel", "Fuel"),
    Stage.MECHANICAL: phrase("stage.mechanical", "Mechanical"),
    Stage.CIRCUITS: phrase("stage.circuits", "Wires and voltages"),
    Stage.PROOF: phrase("stage.proof", "Proof"),
}


@dataclass(frozen=True, slots=True)
class Option:
    """One of a few words to choose from."""

    value: str
    words: Message


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One entry for each cylinder: a number, or one of ``options``, or a tick that stands for a number.

    ``alone`` rows are enough by themselves where the needed ones were left empty; a tick always is.
    """

    key: str
    words: Message
    options: tuple[Option, ...] = ()
    optional: bool = False
    tick: bool = False
    alone: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """What is chosen once for all readings; the first option is the usual one."""

    key: str
    words: Message
    options: tuple[Option, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """A single number, or a text, that does not belong to a cylinder."""

    key: str
    words: Message
    optional: bool = False
    signed: bool = False
    text: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Filled:
    """What somebody wrote down.

    Parameters
    ----------
    values : mapping of row key to mapping of cylinder to value
    entries : mapping of entry key to number or text
    choices : mapping of choice key to option value
    cylinders : tuple of int
        With every needed row filled; worked out by ``Form.read``.
    """

    values: Mapping[str, Mapping[int, Value]] = field(default_factory=dict)
    entries: Mapping[str, Value] = field(default_factory=dict)
    choices: Mapping[str, str] = field(default_factory=dict)
    cylinders: tuple[int, ...] = ()

    def by_cylinder(self, key: str) -> dict[str, Value]:
        """One row as files write it, cylinders as text."""
        row = self.values.get(key, {})
        return {str(c): row[c] for c in self.cylinders if c in row}


@dataclass(frozen=True, slots=True, kw_only=True)
class Form:
    """How one test is written down.

    Parameters
    ----------
    title, hint, kept : Message
        Its name, what to heed, and what the button keeps.
    readings : callable (Filled) -> sequence of dict
        Data of the observations it makes.
    stage : Stage
    caution : Message
    rows, choices, entries
        What is asked.
    least : int or None
        Cylinders needed; all of them where None.
    usual_by : str or None
        Choice that tells which usual reading is shown; empty: the test has one; None: it has none.
    along : tuple of str
        Values of the first choice for which a place along the injector circuit may be named.
    between : bool
        It is taken from one place along the injector circuit to another.
    calculates : tuple of str
        Values of the first choice for which the calculator of currents and resistances helps.
    """

    title: Message
    hint: Message
    kept: Message
    readings: Callable[[Filled], Sequence[Data]]
    stage: Stage = Stage.LOOK
    caution: Message = NOTHING
    rows: tuple[Row, ...] = ()
    choices: tuple[Choice, ...] = ()
    entries: tuple[Entry, ...] = ()
    least: int | None = None
    usual_by: str | None = None
    along: tuple[str, ...] = ()
    between: bool = False
    calculates: tuple[str, ...] = ()

    def filled_at(self, values: Mapping[str, Mapping[int, Value]], order: Sequence[int]) -> tuple[int, ...]:
        """Cylinders, in firing order, with every needed row filled, or one that is enough alone."""
        needed = [row.key for row in self.rows if not (row.tick or row.optional or row.alone)]
        ticks = [row.key for row in self.rows if row.tick]
        alone = [row.key for row in self.rows if row.alone]
        return tuple(
            c
            for c in order
            if (all(c in values.get(key, {}) for key in needed) and bool(needed))
            or any(values.get(key, {}).get(c) is True for key in ticks)
            or any(c in values.get(key, {}) for key in alone)
        )

    def read(self, filled: Filled, order: Sequence[int]) -> list[Data]:
        """Observations of a filled form.

        Parameters
        ----------
        filled : Filled
        order : sequence of int
            Cylinders of the engine in firing order.

        Returns
        -------
        list of dict

        Raises
        ------
        ObservationError
            Too little was filled in, or a choice or word that the form does not offer.
        """
        self._check(filled)
        cylinders = self.filled_at(filled.values, order)
        least = len(order) if self.least is None else self.least
        if self.rows and len(cylinders) < least:
            raise ObservationError(
                f"{len(cylinders)} cylinders are filled in, {least} are needed.",
                where="form",
                remedy="Fill in the rest, or leave the form.",
            )
        choices = {c.key: filled.choices.get(c.key, c.options[0].value) for c in self.choices}
        more = {k: v for k, v in filled.choices.items() if k not in choices}
        return list(
            self.readings(
                Filled(values=filled.values, entries=filled.entries, choices={**more, **choices}, cylinders=cylinders)
            )
        )

    def _check(self, filled: Filled) -> None:
        for choice in self.choices:
            given = filled.choices.get(choice.key)
            if given is not None and given not in {o.value for o in choice.options}:
                raise ObservationError(f"{given!r} is not offered.", where=choice.key)
        for row in self.rows:
            known = {o.value for o in row.options}
            strange = [v for v in filled.values.get(row.key, {}).values() if known and v not in known]
            if strange:
                raise ObservationError(f"{strange[0]!r} is not offered.", where=row.key)
        missing = [e.key for e in self.entries if not e.optional and filled.entries.get(e.key) in (None, "")]
        if missing:
            raise ObservationError("An entry is missing.", where=missing[0], remedy="Fill it in.")


def options(prefix: str, **words: str) -> tuple[Option, ...]:
    """Options of a row or a choice, value by value, with their English words."""
    return tuple(Option(value, phrase(f"{prefix}.{value}", text)) for value, text in words.items())


def same_words(prefix: str, *values: str) -> tuple[Option, ...]:
    """Options whose words are their values, underscores read as spaces."""
    return options(prefix, **{value: value.replace("_", " ") for value in values})


def each(filled: Filled, make: Callable[[int], Data]) -> list[Data]:
    """One observation for every cylinder that was filled in."""
    return [make(c) for c in filled.cylinders]


WHICH_HOT = Choice(
    key="temperature",
    words=phrase("form.temperature", "Measured"),
    options=options("form.temperature", cold="Cold", hot="Hot"),
)
WHICH_END = Choice(
    key="measured_at",
    words=phrase("form.measured_at", "Where"),
    options=options("form.measured_at", part="At the part", control_unit="At the control unit"),
)

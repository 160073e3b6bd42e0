"""What each symbol of the signature table and each outcome by hand weighs: numbers estimated over simulated worlds.

They stand in ``densities.txt`` beside this module, which ``fairwitness fit`` writes and nobody edits but under
``[by hand]``, where each line says why. What the file does not name is as the first guesses have it.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import DensitiesError
from fairwitness.core.reason.knowledge.fault_spec import FaultMode
from fairwitness.core.reason.knowledge.first_guesses import FORMS, Form, first_guess
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES, chance, outcomes_of
from fairwitness.core.reason.knowledge.signatures import COLUMNS, LEFT_ALONE, SIGNATURES, WAYS_SHOWN, cell

FloatArray = NDArray[np.float64]
WeighedCell = tuple[tuple[str, float], ...]
"""Symbols of a cell with how often each; empty for no statement."""

TOLD = "told, not used"
"""Section that people read: how far faults went in the worlds, which is how far somebody drew them."""
ANYTHING = "?"
"""A reading that no symbol of its cell foresaw: any share as likely as any other."""
ANYTHING_RANGE = 2.0
SURPRISE = 0.001
"""[M] share kept for the unforeseen where nothing was estimated: no finding multiplies by zero."""
TEMPER = 0.85
"""[M] what numbers of one capture count beside independent ones, where nothing was estimated: they share clamp,
battery and operator."""
VIEWS_COUNT_AS = 0.6
"""[M] several views of one source (breakdown, line and duration of the same sparks) count as this power of their
number, where nothing was estimated."""
FLOOR = 0.02
"""[M] share of an estimated table of outcomes kept for the unforeseen."""


@dataclass(frozen=True, eq=False, kw_only=True)
class Densities:
    """Everything the weighing takes from data.

    Compared by identity, so that what was looked up once under them can be kept.

    Parameters
    ----------
    forms : mapping of (column, symbol) to tuple of Form
    cells : mapping of (row, column) to WeighedCell
    outcomes : mapping of (test, row) to mapping of outcome to float
    temper, views_count_as : float
    provenance : tuple of str
        How they were made.
    """

    forms: Mapping[tuple[str, str], tuple[Form, ...]] = field(default_factory=dict)
    cells: Mapping[tuple[str, str], WeighedCell] = field(default_factory=dict)
    outcomes: Mapping[tuple[str, str], Mapping[str, float]] = field(default_factory=dict)
    temper: float = TEMPER
    views_count_as: float = VIEWS_COUNT_AS
    provenance: tuple[str, ...] = ()

    def forms_of(self, column: str, symbol: str) -> tuple[Form, ...]:
        """Ways a symbol may turn out in a column."""
        return self.forms.get((column, symbol)) or first_guess(column, symbol)

    def weighed(self, faults: tuple[FaultMode, ...], column: str) -> WeighedCell:
        """What a column shows at a cylinder with some faults, and how often.

        Of two faults nothing was estimated: their symbols are equally likely.
        """
        if len(faults) == 1 and (known := self.cells.get((faults[0].row, column))):
            return known
        return evenly(cell(faults, column))

    def chance(self, test: str, outcome: str, row: str) -> float:
        """Chance of an outcome of a test under a row of the table, never zero."""
        known = self.outcomes.get((test, row))
        if known is None:
            return chance(test, outcome, row)
        return (1 - FLOOR) * known.get(outcome, 0.0) + FLOOR / max(len(outcomes_of(test)), 1)

    def log_density(self, shares: FloatArray, sigmas: FloatArray, weighed: WeighedCell, column: str) -> FloatArray:
        """Log density of measured shares under one cell.

        Parameters
        ----------
        shares, sigmas : (n,) float, 1
        weighed : WeighedCell
            Empty: no statement, every share as likely as any other.
        column : str

        Returns
        -------
        (n,) float
        """
        even = 1.0 / ANYTHING_RANGE
        if not weighed:
            return np.full(shares.shape, np.log(even))
        density = np.full(shares.shape, SURPRISE * even)
        for symbol, often in weighed:
            if symbol == ANYTHING:
                density += often * even
                continue
            for form in self.forms_of(column, symbol):
                width = np.hypot(sigmas, form.width)
                scaled = (shares - form.centre) / width
                density += (1 - SURPRISE) * often * form.weight * np.exp(-0.5 * scaled**2) / (width * ROOT_2PI)
        return np.asarray(np.log(density))


ROOT_2PI = float(np.sqrt(2 * np.pi))


def evenly(symbols: tuple[str, ...]) -> WeighedCell:
    """Symbols that are equally likely."""
    return tuple((symbol, 1 / len(symbols)) for symbol in symbols)


def read(text: str) -> Densities:
    """Read a file of densities.

    Parameters
    ----------
    text : str

    Returns
    -------
    Densities
        What stands under ``[by hand]`` comes before what was estimated.

    Raises
    ------
    DensitiesError
        A line does not say what its section should say.
    """
    forms: dict[tuple[str, str], tuple[Form, ...]] = {}
    cells: dict[tuple[str, str], WeighedCell] = {}
    outcomes: dict[tuple[str, str], Mapping[str, float]] = {}
    dependence = {"captures": TEMPER, "views": VIEWS_COUNT_AS}
    provenance = tuple(line[1:].strip() for line in text.splitlines() if line.startswith("#"))
    for number, section, line in _lines(text):
        name, _, rest = line.partition("|")
        values = rest.partition("|")[0].strip()
        try:
            first, second = name.strip().rsplit(" ", 1)
            if section == "forms":
                forms[_known_symbol(first, second)] = _forms(values)
            elif section == "cells":
                cells[_known_row(first, second)] = _shares(values)
            elif section == "outcomes":
                kind, row = name.strip().split(" ", 1)
                outcomes[_known_test(kind, row)] = _known_outcomes(kind, _shares(values))
            elif section == "dependence" and second in dependence:
                dependence[second] = float(values)
            else:
                raise ValueError(section)
        except (ValueError, KeyError) as error:
            raise DensitiesError(
                f"{line.strip()!r} is no line of [{section}].",
                where=f"line {number}",
                remedy="Let fairwitness fit write the file again, or mend what was added by hand.",
            ) from error
    return Densities(
        forms=forms,
        cells=cells,
        outcomes=outcomes,
        temper=dependence["captures"],
        views_count_as=dependence["views"],
        provenance=provenance,
    )


def _lines(text: str) -> Iterator[tuple[int, str, str]]:
    """Number, section and text of each line that says something; a line by hand names its section itself."""
    section = ""
    for number, line in enumerate(text.splitlines(), start=1):
        if line.startswith("[") and line.rstrip().endswith("]"):
            section = line.strip()[1:-1]
        elif line.strip() and not line.startswith("#") and section != TOLD:
            if section == "by hand":
                own, _, rest = line.partition(" ")
                yield number, own, rest
            else:
                yield number, section, line


def _forms(values: str) -> tuple[Form, ...]:
    forms = [Form(*(float(number) for number in part.split())) for part in values.split(",")]
    if any(form.width < 0 or form.weight < 0 for form in forms) or not forms:
        raise ValueError(values)
    return tuple(forms)


def _shares(values: str) -> WeighedCell:
    shares = [(part.split()[0], float(part.split()[1])) for part in values.split(",")]
    total = sum(share for _, share in shares)
    if total <= 0 or any(share < 0 for _, share in shares):
        raise ValueError(values)
    return tuple((name, share / total) for name, share in shares)


def _known_symbol(column: str, symbol: str) -> tuple[str, str]:
    if column not in COLUMNS or symbol not in FORMS:
        raise KeyError(column, symbol)
    return column, symbol


def _known_row(row: str, column: str) -> tuple[str, str]:
    if column not in COLUMNS or row not in {**SIGNATURES, **WAYS_SHOWN}:
        raise KeyError(row, column)
    return row, column


def _known_test(kind: str, row: str) -> tuple[str, str]:
    if kind not in OUTCOMES or row not in OUTCOMES[kind]:
        raise KeyError(kind, row)
    return kind, row


def _known_outcomes(kind: str, shares: WeighedCell) -> Mapping[str, float]:
    if strange := {outcome for outcome, _ in shares} - set(outcomes_of(kind)):
        raise KeyError(kind, *strange)
    return dict(shares)


FIRST_GUESSES = Densities()
"""Without anything estimated."""
SOUND_CELL: WeighedCell = ((LEFT_ALONE, 1.0),)
SHIPPED = read(files(__package__).joinpath("densities.txt").read_text(encoding="utf-8"))
"""Estimated over all worlds; what the product weighs by."""

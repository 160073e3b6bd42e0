"""Densities from readings: expectation and maximisation, held near the first guesses where readings are few.

Every cell is a mixture of the symbols the signature table lists, each symbol a mixture of normals that all faults of a
column share. Weights carry a Dirichlet prior, centres and widths a prior worth a few readings, so that the table of the
trade decides what may be and readings only how often and how far.

References
----------
Dempster, Laird, Rubin, JRSS B 39 (1977): the algorithm; Gelman et al., Bayesian Data Analysis, ch. 3 and 22: priors of
mixtures [P].
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.reason.inference.likelihood import BESIDE
from fairwitness.core.reason.knowledge.densities import ANYTHING, ANYTHING_RANGE, WeighedCell
from fairwitness.core.reason.knowledge.first_guesses import Form, first_guess
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES, SOUND, outcomes_of
from fairwitness.core.reason.knowledge.signatures import COLUMNS, LEFT_ALONE, SIGNATURES, WAYS_SHOWN
from fairwitness.study.fitting.labels import Reading

FloatArray = NDArray[np.float64]

ROUNDS = 40
GUESS_WEIGHS = 10.0
"""[M] a first guess of a centre, a width or a weight counts as so many readings, and readings as no more than it."""
CELL_WEIGHS = 10.0
"""[M] the even weights of a cell count as so many readings, and readings as no more than they: what the trade has seen
and no world shows keeps its place."""
UNLISTED = 0.004
"""[M] share that a cell gives to what the table does not list, before any reading: as its peers, or anything."""
TABLE_WEIGHS = 40.0
"""[M] a row of the table of outcomes counts as so many readings, and readings as no more than the row: a simulated hand
slips less often than a real one, however often it is asked."""
TAIL = (Form(1.0, 0.0, 0.98), Form(1.0, 0.25, 0.02))
"""[M] a sound cylinder, and how far it is off now and then."""
TAIL_LEAST, ANYTHING_LEAST = 0.004, 0.001
"""[M] how often a sound cylinder is far off at least, and a reading of an ill one none that the table foresaw: the
worlds are not all the world. That a capture was misread is weighed elsewhere."""
NARROWEST = 0.005
FIXED = (LEFT_ALONE, BESIDE)
"""Symbols whose centre is that of the peers by what they mean."""


@dataclass(slots=True)
class ColumnFit:
    """Forms of one column and weights of its cells while they are being estimated.

    Parameters
    ----------
    forms : mapping of symbol to list of Form
    cells : mapping of row to mapping of symbol to weight
    counts : mapping of symbol or row to number of readings
    """

    forms: dict[str, list[Form]]
    cells: dict[str, dict[str, float]]
    counts: dict[str, float] = field(default_factory=dict)


def fit_column(column: str, readings: Sequence[Reading], *, at_most: float = GUESS_WEIGHS) -> ColumnFit:
    """Estimate one column.

    Parameters
    ----------
    column : str
    readings : sequence of Reading
        Of this column.
    at_most : float
        As so many readings all of them count, beside a guess; infinite: as many as there are.

    Returns
    -------
    ColumnFit
    """
    groups: dict[str, list[tuple[float, float]]] = defaultdict(list)
    for reading in readings:
        groups[reading.row].append((reading.share, reading.sigma))
    data = {row: np.array(values) for row, values in groups.items() if row in _rows_of(column)}
    cells = {row: _first_cell(_rows_of(column)[row]) for row in data}
    symbols = {LEFT_ALONE, BESIDE, *(s for cell in cells.values() for s in cell if s != ANYTHING)}
    first = {s: list(TAIL if s == LEFT_ALONE else first_guess(column, s)) for s in symbols}
    fit = ColumnFit(forms={s: list(forms) for s, forms in first.items()}, cells=cells)
    for _ in range(ROUNDS):
        _one_round(fit, first, data, _rows_of(column), at_most)
    for row, values in data.items():
        fit.counts[row] = float(len(values))
    return fit


def _rows_of(column: str) -> dict[str, tuple[str, ...]]:
    """What the table lists for each row of a column; sound cylinders and those beside an ill one are rows too."""
    rows = {row: cells[column] for row, cells in {**SIGNATURES, **WAYS_SHOWN}.items() if cells[column]}
    return {**rows, SOUND: (LEFT_ALONE,), BESIDE: (BESIDE,)}


def _first_cell(listed: tuple[str, ...]) -> dict[str, float]:
    cell = {s: (1 - UNLISTED) / len(listed) for s in listed}
    if listed not in ((LEFT_ALONE,), (BESIDE,)):
        cell.setdefault(LEFT_ALONE, UNLISTED / 2)
    cell[ANYTHING] = UNLISTED / 2
    total = sum(cell.values())
    return {s: w / total for s, w in cell.items()}


def _one_round(
    fit: ColumnFit,
    first: Mapping[str, Sequence[Form]],
    data: Mapping[str, FloatArray],
    listed: Mapping[str, tuple[str, ...]],
    at_most: float,
) -> None:
    """Who made which reading, and what follows from that."""
    taken: dict[tuple[str, int], list[FloatArray]] = defaultdict(list)
    for row, values in data.items():
        shares, sigmas = values[:, 0], values[:, 1]
        parts = [
            (s, j, fit.cells[row][s] * form.weight * _normal(shares, sigmas, form))
            for s in fit.cells[row]
            if s != ANYTHING
            for j, form in enumerate(fit.forms[s])
        ]
        parts.append((ANYTHING, 0, np.full(shares.size, fit.cells[row][ANYTHING] / ANYTHING_RANGE)))
        total = np.sum([density for _, _, density in parts], axis=0)
        often: dict[str, float] = defaultdict(float)
        for s, j, density in parts:
            responsible = density / total
            often[s] += float(responsible.sum())
            if s != ANYTHING:
                taken[(s, j)].append(np.column_stack([shares, sigmas, responsible]))
        start = _first_cell(listed[row])
        heard = min(float(shares.size), at_most)
        fit.cells[row] = _with_tail(
            {s: (CELL_WEIGHS * w + heard * often[s] / shares.size) / (CELL_WEIGHS + heard) for s, w in start.items()}
        )
    for s, forms in fit.forms.items():
        gathered = [np.vstack(taken[(s, j)]) if taken[(s, j)] else np.zeros((0, 3)) for j in range(len(forms))]
        fit.counts[s] = float(sum(g[:, 2].sum() for g in gathered))
        fit.forms[s] = _moved(s, first[s], gathered, at_most)


def _with_tail(cell: dict[str, float]) -> dict[str, float]:
    """A cell that keeps the least share for anything."""
    rest = 1 - cell[ANYTHING]
    least = max(cell[ANYTHING], ANYTHING_LEAST)
    return {s: least if s == ANYTHING else w * (1 - least) / rest for s, w in cell.items()}


def _moved(symbol: str, first: Sequence[Form], gathered: Sequence[FloatArray], at_most: float) -> list[Form]:
    """Forms of a symbol after what they were responsible for."""
    whole = sum(float(g[:, 2].sum()) for g in gathered)
    moved = []
    for guess, own in zip(first, gathered, strict=True):
        shares, sigmas, responsible = own.T
        count = float(responsible.sum())
        if symbol != LEFT_ALONE:  # other engines break in other measure: worlds move a guess half way at most
            responsible = responsible * min(1.0, at_most / max(count, 1e-9))
        weighs = float(responsible.sum())
        centre = guess.centre
        if symbol not in FIXED:
            centre = (GUESS_WEIGHS * guess.centre + float(responsible @ shares)) / (GUESS_WEIGHS + weighs)
        beyond = max(0.0, float(responsible @ ((shares - centre) ** 2 - sigmas**2)))
        off = GUESS_WEIGHS * (guess.width**2 + (centre - guess.centre) ** 2)
        width = float(np.sqrt((off + beyond) / (GUESS_WEIGHS + weighs)))
        heard = whole if symbol == LEFT_ALONE else min(whole, at_most)  # as in a cell
        share = count / whole if whole else 0.0
        weight = (GUESS_WEIGHS * guess.weight + heard * share) / (GUESS_WEIGHS + heard)
        moved.append(Form(round(centre, 4), round(max(width, NARROWEST if symbol != LEFT_ALONE else 0.0), 4), weight))
    if symbol == LEFT_ALONE and moved[1].weight < TAIL_LEAST:
        moved = [replace(moved[0], weight=1 - TAIL_LEAST), replace(moved[1], weight=TAIL_LEAST)]
    return moved


def _normal(shares: FloatArray, sigmas: FloatArray, form: Form) -> FloatArray:
    width = np.hypot(np.maximum(sigmas, NARROWEST), form.width)
    return np.asarray(np.exp(-0.5 * ((shares - form.centre) / width) ** 2) / (width * np.sqrt(2 * np.pi)))


def fit_columns(readings: Sequence[Reading]) -> dict[str, ColumnFit]:
    """Estimate every column that was read."""
    by_column: dict[str, list[Reading]] = defaultdict(list)
    for reading in readings:
        by_column[reading.column].append(reading)
    return {column: fit_column(column, by_column[column]) for column in COLUMNS if by_column[column]}


def cell_of(fit: ColumnFit, row: str) -> WeighedCell:
    """Weights of one cell, the likeliest first."""
    return tuple(sorted(fit.cells[row].items(), key=lambda item: -item[1]))


def fit_outcomes(
    seen: Sequence[tuple[str, str, str]], kept: Sequence[str]
) -> dict[tuple[str, str], tuple[int, dict[str, float]]]:
    """Tables of outcomes: what the table of the trade says, moved by what came out.

    Parameters
    ----------
    seen : sequence of (test, row, outcome)
    kept : sequence of str
        Tests that no world simulates from physics; their tables stay as they are.

    Returns
    -------
    OutcomeTables
    """
    counted: dict[tuple[str, str], Counter[str]] = defaultdict(Counter)
    for test, row, outcome in seen:
        if row in OUTCOMES.get(test, {}) and outcome in outcomes_of(test) and test.split(":")[0] not in kept:
            counted[(test, row)][outcome] += 1
    tables = {}
    for (test, row), counts in sorted(counted.items()):
        total = sum(counts.values())
        heard = min(float(total), TABLE_WEIGHS)
        start = OUTCOMES[test][row]
        shares = {
            outcome: (TABLE_WEIGHS * start.get(outcome, 0.0) + heard * counts[outcome] / total) / (TABLE_WEIGHS + heard)
            for outcome in {**start, **counts}
        }
        tables[(test, row)] = (total, shares)
    return tables

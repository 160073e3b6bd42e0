"""What a test would show under each hypothesis, as outcomes that a reader tells apart."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import product
from math import prod

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.procedures.spec import Offer
from fairwitness.core.reason.inference.hypotheses import Hypothesis, Placed
from fairwitness.core.reason.inference.likelihood import SHOWS_INTERMITTENT, WAITS
from fairwitness.core.reason.knowledge.densities import SHIPPED
from fairwitness.core.reason.knowledge.fault_spec import FaultMode
from fairwitness.core.reason.knowledge.faults import OTHER, OTHER_MECHANICAL
from fairwitness.core.reason.knowledge.outcomes import SOUND, chances, faults_of, of_all

FloatArray = NDArray[np.float64]

RARE = 0.03
"""[M] outcomes of a test by hand rarer than this under a fault are not told apart when planning."""
COARSE_COLUMNS = ("CON", "EX")
"""Read as weak or not: absent, low and disturbed are not reliably told apart there."""
FORM_READ_AS = {"+-": "~", "<": "=", "++": "+", "--": "-"}
"""Forms that a reader does not tell apart for planning."""
RELATIVE = ("RC",)
"""Columns in which an engine ill all over looks even."""

Mark = tuple[tuple[int, ...], str]
"""Cylinders and what is seen at them; no cylinders: nowhere in particular."""
Outcome = tuple[Mark, ...]
"""One entry for each thing the test reads; a cylinder without a mark is as its peers."""
EVEN: Mark = ((), "=")


@dataclass(frozen=True, slots=True)
class PredictiveDistribution:
    """Outcomes of one test under many hypotheses.

    Parameters
    ----------
    outcomes : tuple of Outcome
    row_of : (hypotheses,) int
        Hypotheses that foretell the same share a row.
    table : (rows, outcomes) float
        Chance of each outcome, misreadings included.
    """

    outcomes: tuple[Outcome, ...]
    row_of: NDArray[np.intp]
    table: FloatArray

    def information_bits(self, probabilities: FloatArray) -> float:
        """Mutual information between hypotheses and outcome.

        Parameters
        ----------
        probabilities : (hypotheses,) float
            Summing to 1.

        Returns
        -------
        float, bits
        """
        if len(self.outcomes) < 2:
            return 0.0
        weights = np.bincount(self.row_of, weights=probabilities, minlength=self.table.shape[0])
        mixed = weights @ self.table
        within = -(self.table * np.log2(self.table)).sum(axis=1)
        return max(0.0, float(-(mixed * np.log2(mixed)).sum() - weights @ within))

    def apart(self, one: int, other: int) -> float:
        """How far two hypotheses foretell different outcomes: 0 the same, 1 never the same."""
        a, b = self.table[self.row_of[one]], self.table[self.row_of[other]]
        return float(np.abs(a - b).sum() / 2)


Claims = tuple[tuple[str, tuple[Placed, ...]], ...]
"""What hypotheses claim: the name of an unlisted one, or faults and places."""


def claims_of(hypotheses: Sequence[Hypothesis]) -> Claims:
    """What hypotheses claim, as ``foretell`` takes it; made once for many tests."""
    return tuple((h.fault if h.fault in (OTHER, OTHER_MECHANICAL) else "", h.placed) for h in hypotheses)


def predict(test: Offer, claims: Claims, scope: tuple[int, ...]) -> PredictiveDistribution:
    """What a test on some cylinders would show.

    Parameters
    ----------
    test : Offer
    claims : Claims
        Of the hypotheses, in their order.
    scope : tuple of int
        Cylinders the test looks at.

    Returns
    -------
    PredictiveDistribution
    """
    rows: dict[tuple[tuple[Outcome, float], ...], int] = {}
    row_of = np.zeros(len(claims), dtype=np.intp)
    for i, (unlisted, placed) in enumerate(claims):
        shown = _shown(test, unlisted, placed, scope)
        row_of[i] = rows.setdefault(shown, len(rows))
    outcomes = {outcome: i for i, outcome in enumerate({o: None for shown in rows for o, _ in shown})}
    table = np.zeros((len(rows), len(outcomes)))
    for row, shown in enumerate(rows):
        for outcome, chance in shown:
            table[row, outcomes[outcome]] += chance
    table = (1 - test.misread) * table + test.misread / max(len(outcomes), 1)
    return PredictiveDistribution(outcomes=tuple(outcomes), row_of=row_of, table=table)


@lru_cache(maxsize=65_536)
def _shown(
    test: Offer, unlisted: str, placed: tuple[Placed, ...], scope: tuple[int, ...]
) -> tuple[tuple[Outcome, float], ...]:
    if unlisted and test.columns:
        return (((((), "?"),) * (len(test.columns) + len(test.kinds)), 1.0),)
    parts = [_of_column(column, placed, scope) for column in test.columns]
    parts += [_of_kind(kind, placed, scope) for kind in test.kinds]
    shown: dict[Outcome, float] = {}
    for combination in product(*parts):
        outcome = tuple(mark for mark, _ in combination)
        chance = prod(share for _, share in combination)
        shown[outcome] = shown.get(outcome, 0.0) + chance
    return tuple(shown.items())


def _of_column(column: str, placed: tuple[Placed, ...], scope: tuple[int, ...]) -> list[tuple[Mark, float]]:
    """Of two faults the one that leaves a mark in this column is read."""
    for fault in placed:
        ill = tuple(c for c in fault.cylinders if c in scope)
        forms = _forms(fault.shown, column)
        if not ill or set(forms) == {"="} or (column in RELATIVE and len(ill) == len(scope) > 1):
            continue
        return [(EVEN if f == "=" else (ill, f), often) for f, often in forms.items()]
    return [(EVEN, 1.0)]


@lru_cache(maxsize=4_096)
def _forms(shown: FaultMode, column: str) -> Mapping[str, float]:
    """Forms that a column may show of a fault as people tell them apart, and how often each; without what is rare."""
    told: dict[str, float] = {}
    for form, often in SHIPPED.weighed((shown,), column) or (("?", 1.0),):
        as_read = FORM_READ_AS.get(form, form)
        if column in COARSE_COLUMNS and as_read in ("0", "~"):
            as_read = "-"
        if often >= RARE:
            told[as_read] = told.get(as_read, 0.0) + often
    total = sum(told.values())
    return {form: often / total for form, often in told.items()}


def _of_kind(kind: str, placed: tuple[Placed, ...], scope: tuple[int, ...]) -> list[tuple[Mark, float]]:
    known = faults_of(kind)
    here = [p for p in placed if not p.cylinders or set(p.cylinders) & set(scope)]
    touching = [p for p in here if {p.shown.row, p.fault, of_all(p.fault)} & set(known)]
    first = touching[0] if touching else None
    rows = () if first is None else (first.shown.row, first.fault)
    if first is not None and set(first.cylinders) >= set(scope):
        rows = (of_all(first.fault), *rows)
    row = chances(kind, next((r for r in rows if r in known), SOUND))
    if first is not None and first.is_intermittent and first.shown.row not in known and kind not in WAITS:
        sound = chances(kind, SOUND)
        row = {
            o: SHOWS_INTERMITTENT * row.get(o, 0.0) + (1 - SHOWS_INTERMITTENT) * sound.get(o, 0.0)
            for o in {**row, **sound}
        }
    reported = {outcome: share for outcome, share in row.items() if share >= RARE}
    total = sum(reported.values())
    return [(((), outcome), share / total) for outcome, share in reported.items()]

"""What each outcome of a test not taken yet would mean, in words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.messages.words import outcome_word
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.planning.prediction import EVEN, Mark, PredictiveDistribution

AT = template("implications.at", "{words} at {cylinders}")
CAUSE_LEADS = template("implications.cause_leads", "{cause} {percent:chance}")
FAULT_LEADS = template("implications.fault_leads", ", {fault} {percent:chance}")

FloatArray = NDArray[np.float64]

OUTCOMES_NAMED = 4
CHANCE_NAMED = 0.03
"""[M] outcomes less probable than this are not spelled out."""
FAULT_NAMED = 0.5
"""[M] from which chance a fault is named as what an outcome would mean; below it only the cause is."""
FORM_WORDS = {
    "=": phrase("form_word.alike", "all alike"),
    "-": phrase("form_word.low", "low"),
    "0": phrase("form_word.absent", "absent"),
    "+": phrase("form_word.high", "high"),
    "~": phrase("form_word.unsteady", "unsteady"),
    "?": phrase("form_word.out_of_line", "out of line"),
}
FORM_IDS = {"=": "alike", "-": "low", "0": "absent", "+": "high", "~": "unsteady"}
CAUSE_NAMES = {
    Cause.IGNITION: phrase("implications.ignition", "ignition"),
    Cause.FUEL: phrase("implications.fuel", "fuel"),
    Cause.MECHANICAL: phrase("implications.mechanical", "mechanical"),
    Cause.CONTROL: phrase("implications.control", "the control unit"),
    Cause.NONE: phrase("implications.none", "nobody ill"),
    Cause.OTHER: phrase("implications.other", "something unlisted"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Implication:
    """One outcome.

    Parameters
    ----------
    outcome : str
        Its name, for imagining it.
    cylinders : tuple of int
        Where it would be seen; empty for nowhere in particular.
    words : Message
    chance : float
        How probable it is now.
    then : Message
        What would lead.
    """

    outcome: str
    cylinders: tuple[int, ...]
    words: Message
    chance: float
    then: Message


def implications(
    test: Offer, seen: PredictiveDistribution, hypotheses: Sequence[Hypothesis], probabilities: FloatArray
) -> tuple[Implication, ...]:
    """What the most probable outcomes of a test would mean.

    Outcomes that share what is read first are told together.

    Parameters
    ----------
    test : Offer
    seen : PredictiveDistribution
        Of these hypotheses.
    hypotheses : sequence of Hypothesis
    probabilities : (hypotheses,) float

    Returns
    -------
    tuple of Implication
        Most probable first.
    """
    joint = seen.table[seen.row_of] * probabilities[:, None]
    merged: dict[Mark, FloatArray] = {}
    for i, outcome in enumerate(seen.outcomes):
        first = outcome[0]
        if first[1] != "?":
            merged[first] = merged.get(first, np.zeros(len(hypotheses))) + joint[:, i]
    total = sum(float(column.sum()) for column in merged.values()) or 1.0
    ranked = sorted(merged.items(), key=lambda item: -float(item[1].sum()))[:OUTCOMES_NAMED]
    return tuple(
        Implication(
            outcome=_name(test, mark),
            cylinders=mark[0],
            words=_words(mark),
            chance=round(float(column.sum()) / total, 3),
            then=_then(column, hypotheses),
        )
        for mark, column in ranked
        if float(column.sum()) / total >= CHANCE_NAMED
    )


def _name(test: Offer, mark: Mark) -> str:
    return FORM_IDS.get(mark[1], mark[1]) if test.columns else mark[1]


def _words(mark: Mark) -> Message:
    if mark == EVEN:
        return FORM_WORDS["="]
    words = FORM_WORDS.get(mark[1]) or outcome_word(mark[1])
    return AT(words=words, cylinders=mark[0]) if mark[0] else words


def _then(column: FloatArray, hypotheses: Sequence[Hypothesis]) -> Message:
    """The cause that would lead with its chance, and the fault where one stands out."""
    total = float(column.sum()) or 1.0
    causes: dict[Cause, float] = {}
    faults: dict[str, float] = {}
    for h, p in zip(hypotheses, column, strict=True):
        causes[h.cause] = causes.get(h.cause, 0.0) + float(p) / total
        faults[h.fault] = faults.get(h.fault, 0.0) + float(p) / total
    cause = max(causes, key=lambda c: causes[c])
    fault = max(faults, key=lambda f: faults[f])
    reported = CAUSE_LEADS(cause=CAUSE_NAMES[cause], percent=100 * causes[cause])
    if fault in FAULTS and faults[fault] >= FAULT_NAMED:
        reported += FAULT_LEADS(fault=FAULTS[fault].words, percent=100 * faults[fault])
    return reported

"""A case as a film: what was kept, one after the other, and what follows from all that was there by then."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message, verbatim
from fairwitness.core.model.phase_words import phase_words
from fairwitness.core.procedures.specs import SPECS
from fairwitness.formats.diagnosis_document import diagnosis_data
from fairwitness.server.cases.evidence import concluded, phases_of
from fairwitness.server.cases.models import StoredCase

OPENED = phrase("replay.opened", "Case opened")
WITHDRAWN = template("replay.withdrawn", "Withdrawn: {what}")
READINGS = template("replay.readings", "{what}, {count} readings")
STEPS_MOST = 400


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One thing that happened to the evidence of a case.

    Parameters
    ----------
    at : datetime
    by : str
    kind : str
        ``opened``, ``capture``, ``reading``, ``work`` or ``withdrawn``.
    words : Message
    count : int
        Readings written down together.
    """

    at: datetime
    by: str
    kind: str
    words: Message
    count: int = 1

    @property
    def said(self) -> Message:
        """With the number of readings, where there were several."""
        return READINGS(what=self.words, count=self.count) if self.count > 1 else self.words


def steps_of(case: StoredCase) -> list[Step]:
    """Everything that changed what a case stands on, in the order it happened.

    Parameters
    ----------
    case : StoredCase

    Returns
    -------
    list of Step
        The opening first; no more than ``STEPS_MOST``.
    """
    happened = [Step(at=case.opened_at, by=case.opened_by.shown_name, kind="opened", words=OPENED)]
    happened += sorted([*_captures(case), *_readings(case), *_work(case)], key=lambda step: step.at)
    return _together(happened)[:STEPS_MOST]


def said_at(case: StoredCase, at: datetime) -> dict[str, Any]:
    """The statement over what was in force at a moment, as this version makes it.

    Parameters
    ----------
    case : StoredCase
    at : datetime

    Returns
    -------
    dict
        ``verdict``, ``causes``, ``next_tests``, ``repairs`` and ``changed_over`` of the diagnosis document.
    """
    document = diagnosis_data(concluded(case, at=at))
    return {key: document[key] for key in ("verdict", "causes", "next_tests", "repairs", "changed_over")}


def _captures(case: StoredCase) -> Iterable[Step]:
    for capture in case.captures.select_related("kept_by", "withdrawn_by"):
        test = capture.set_up.get("test", "")
        words = SPECS[test].title if test in SPECS else verbatim(capture.name)
        yield Step(at=capture.kept_at, by=capture.kept_by.shown_name, kind="capture", words=words)
        if capture.withdrawn_at is not None and capture.withdrawn_by is not None:
            gone = WITHDRAWN(what=words)
            yield Step(at=capture.withdrawn_at, by=capture.withdrawn_by.shown_name, kind="withdrawn", words=gone)


def _readings(case: StoredCase) -> Iterable[Step]:
    for reading in case.observations.select_related("kept_by", "withdrawn_by"):
        if reading.test not in SPECS:
            continue
        words = SPECS[reading.test].title
        yield Step(at=reading.kept_at, by=reading.kept_by.shown_name, kind="reading", words=words)
        if reading.withdrawn_at is not None and reading.withdrawn_by is not None:
            gone = WITHDRAWN(what=words)
            yield Step(at=reading.withdrawn_at, by=reading.withdrawn_by.shown_name, kind="withdrawn", words=gone)


def _work(case: StoredCase) -> Iterable[Step]:
    rows = case.phases.select_related("begun_by")
    for phase, row in zip(phases_of(case), rows, strict=True):
        yield Step(at=row.begun_at, by=row.begun_by.shown_name, kind="work", words=phase_words(phase))


def _together(steps: list[Step]) -> list[Step]:
    """Readings of one test written down at one moment are one step."""
    kept: list[Step] = []
    for step in steps:
        last = kept[-1] if kept else None
        if last and step.kind == "reading" and (last.at, last.by, last.kind, last.words) == (
            step.at, step.by, step.kind, step.words,
        ):  # fmt: skip
            kept[-1] = Step(at=last.at, by=last.by, kind=last.kind, words=last.words, count=last.count + 1)
        else:
            kept.append(step)
    return kept

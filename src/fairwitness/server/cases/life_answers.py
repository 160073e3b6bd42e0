"""The life of a case as its board shows it: states, change-overs, proofs, what was found, what is left to do."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import Message, joined, verbatim
from fairwitness.core.model.decision import AGREEMENT_WORDS, EVERYTHING, WAY_WORDS, Agreement
from fairwitness.core.model.phase import AS_ARRIVED, misplaced
from fairwitness.core.model.phase_words import AS_ARRIVED_WORDS, PART_WORDS, phase_words
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.phases.changes import CHANGE_WORDS, Change
from fairwitness.server.cases.evidence import phases_of
from fairwitness.server.cases.life import left_to_do
from fairwitness.server.cases.models import CaseStatus, StoredCase
from fairwitness.server.cases.standing import STAGE_WORDS, decision_of, stage_of

_say = scope("decided")
YES, NO = _say("yes", "Agreed"), _say("no", "Not agreed")
UP_TO_MINUTES = template("decided.up_to_minutes", "up to {minutes:g} min of labour")
UP_TO = template("decided.up_to", "up to {amount}")


def life_of(case: StoredCase, document: Mapping[str, Any]) -> dict[str, Any]:
    """Everything the board shows of the life of a case.

    Parameters
    ----------
    case : StoredCase
    document : mapping
        Its diagnosis, as ``diagnosis_of`` gives it.

    Returns
    -------
    dict
    """
    stage = stage_of(case, document)
    return {
        "stage": stage.value,
        "stage_words": STAGE_WORDS[stage],
        "decided": decided(case),
        "phase": case.phase,
        "phases": [_arrived(case), *_phases(case)],
        "changed_over": [
            {"phase": c["phase"], "went": c["went"], "words": c["words"]} for c in document.get("changed_over", [])
        ],
        "repairs": [_repair(r) for r in document.get("repairs", [])],
        "misplaced": [
            {"part": PART_WORDS[part], "places": [{"cylinder": c, "of": of} for c, of in sorted(where.items())]}
            for part, where in misplaced(phases_of(case)).items()
        ],
        "left_to_do": list(left_to_do(case, document).values()) if case.status == CaseStatus.OPEN else [],
        "outcomes": [
            {
                "found": o.found,
                "cylinders": o.cylinders,
                "seen_by": o.seen_by,
                "agreed": o.agreed,
                "lesson": o.lesson,
                "said": o.said.get("headline", ""),
                "version": o.said.get("version", ""),
                "by": o.by.shown_name,
                "at": o.at,
            }
            for o in case.outcomes.select_related("by")
        ],
        "follow_ups": [
            {
                "id": f.pk,
                "words": f.words,
                "due": f.due,
                "overdue": f.done_at is None and f.due <= date.today(),
                "done": f.done_at is not None,
            }
            for f in case.follow_ups.all()
        ],
    }


def decided(case: StoredCase) -> Message | str:
    """What the owner decided last, in a line."""
    told = decision_of(case)
    if told is None:
        return ""
    said = [verbatim(word) for word in (told.option, told.note) if word]
    agreed = [AGREEMENT_WORDS[a] for a in Agreement if a in told.agreed and told.agreed != EVERYTHING]
    limits = [UP_TO_MINUTES(minutes=told.up_to_minutes)] if told.up_to_minutes else []
    limits += [UP_TO(amount=told.up_to)] if told.up_to else []
    who = [verbatim(told.who)] if told.who else []
    who += [WAY_WORDS[told.way]] if told.way else []
    return joined(YES if told.agreed else NO, *who, *agreed, *said, *limits, by=", ")


def _arrived(case: StoredCase) -> dict[str, Any]:
    return {
        "number": AS_ARRIVED,
        "kind": "as_arrived",
        "words": AS_ARRIVED_WORDS,
        "note": "",
        "by": case.opened_by.shown_name,
        "at": case.opened_at,
    }


def _phases(case: StoredCase) -> list[dict[str, Any]]:
    rows = case.phases.select_related("begun_by")
    return [
        {
            "number": phase.number,
            "kind": phase.kind.value,
            "words": phase_words(phase),
            "note": phase.words,
            "by": row.begun_by.shown_name,
            "at": row.begun_at,
        }
        for phase, row in zip(phases_of(case), rows, strict=True)
    ]


def _repair(proof: dict[str, Any]) -> dict[str, Any]:
    return {
        "phase": proof["phase"],
        "status": proof["status"],
        "words": proof["words"],
        "missing": [SPECS[t].title for t in proof["missing"]],
        "compared": [
            {
                "test": k["test"],
                "title": SPECS[k["test"]].title,
                "why_not": k["why_not"],
                "changes": [
                    {"cylinder": c["cylinder"], "change": c["change"], "words": CHANGE_WORDS[Change(c["change"])]}
                    for c in k["changes"]
                ],
            }
            for k in proof["compared"]
        ],
    }

"""What a case looks like from outside: its line in the list, and its board with everything on it."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from fairwitness.core.model.circumstances import read_circumstances
from fairwitness.core.model.tools import TOOL_WORDS
from fairwitness.core.model.work import read_work, work_words
from fairwitness.core.procedures.safety import barred
from fairwitness.core.procedures.specs import CARDS, FORMS, OFFERS
from fairwitness.core.reason.knowledge.signs import SIGNS
from fairwitness.formats.approach_block import approach_block, read_approach
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import ALLOWED
from fairwitness.server.cases.board import board
from fairwitness.server.cases.changing import diagnosis_of
from fairwitness.server.cases.evidence import access_of
from fairwitness.server.cases.life_answers import life_of
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.cases.visit_answers import code_rows, visit_of
from fairwitness.server.engines.records import engine_of

AT_BENCH = {test.value for test in CARDS}


def whole_board(case: StoredCase, reader: User) -> dict[str, Any]:
    """A case with its board, verdict and plan, as one person may see and use it."""
    document = diagnosis_of(case)
    return {
        "case": _whole(case, reader),
        **board(case),
        "life": life_of(case, document),
        "visit": visit_of(case, reader, timezone.now(), document),
        "verdict": document["verdict"],
        "causes": document["causes"],
        "findings": document["findings"],
        "questions": document.get("questions", []),
        "learned_from": document.get("learned", {}).get("outcomes", 0),
        "next_tests": [_with_ways(n) for n in document["next_tests"]],
        "plan": document["plan"],
        "approach": approach_block(read_approach(case.approach)),
        "tools": [{"id": tool.value, "words": words} for tool, words in TOOL_WORDS.items()],
        "access": _access(case),
    }


def _with_ways(offer: dict[str, Any]) -> dict[str, Any]:
    """An offer of the plan with the ways to take it here."""
    return {**offer, "at_bench": offer["test"] in AT_BENCH, "has_form": offer["test"] in FORMS}


def _access(case: StoredCase) -> list[dict[str, Any]]:
    """Usual and own minutes of every test that fits the engine."""
    own, engine = access_of(case), engine_of(case)
    return [
        {"test": t.id, "title": t.title, "usual": t.minutes, "own": own.get(t.id)}
        for t in OFFERS.values()
        if barred(t, engine) is None
    ]


def _custody(case: StoredCase) -> dict[str, Any] | None:
    """What the last check of the case's evidence found; None where there was none yet."""
    check = getattr(case, "evidence_check", None)
    if check is None:
        return None
    return {"at": check.at, "captures": check.captures, "readings": check.readings, "changed": check.changed}


def _whole(case: StoredCase, reader: User) -> dict[str, Any]:
    engine = engine_of(case)
    ignition = engine.ignition.value.replace("_", " ")
    injection = "" if engine.injection.value == "carburettor" else " injection"
    name = engine.label or f"{engine.cylinders} cylinders"
    words = f"{name}, {ignition}, {engine.injection.value.replace('_', ' ')}{injection}"
    return {
        "id": case.pk,
        "title": case.title,
        "vehicle": case.vehicle,
        "engine": case.engine,
        "engine_words": f"{words}, fires {' '.join(map(str, engine.firing_order))}",
        "complaint": case.complaint,
        "complaint_verified": case.complaint_verified,
        "symptom": case.symptom,
        "complaint_when": list(read_circumstances(case.complaint_when).words),
        "happening": case.happening,
        "signs": [SIGNS[sign].words for sign in case.signs if sign in SIGNS],
        "work_done": [work_words(work) for work in read_work(case.work_done)],
        "codes": code_rows(case),
        "status": case.status,
        "fuel_state": case.fuel_state,
        "fuel_note": case.fuel_note,
        "minutes": int((case.touched_at - case.opened_at).total_seconds() // 60),
        "opened_by": case.opened_by.shown_name,
        "opened_at": case.opened_at,
        "may": sorted(ALLOWED.get(reader.role, frozenset())),
        "custody": _custody(case),
        "journal": [
            {"verb": e.verb, "detail": e.detail, "by": e.by.shown_name, "at": e.at}
            for e in case.journal.select_related("by")
        ],
    }

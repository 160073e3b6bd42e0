"""A visit as its board shows it: intake, who tried the complaint, labour, codes, parts, and the visits before."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import NOTHING, Message, joined, verbatim
from fairwitness.core.model.case import CodeOrigin, read_code
from fairwitness.core.model.circumstances import circumstances_block, read_circumstances
from fairwitness.core.model.fitted_part import CONDITION_WORDS, BesidePeers, PartCondition, beside_peers, beside_words
from fairwitness.core.model.phase import PartState
from fairwitness.core.model.phase_words import FITTED_WORDS, PART_WORDS
from fairwitness.core.model.visit import PastVisit, read_visits, visit_block
from fairwitness.core.model.work import read_work
from fairwitness.core.reason.knowledge.codes import meaning_of
from fairwitness.server.accounts.models import User
from fairwitness.server.cases.intake import next_origin
from fairwitness.server.cases.labour import ceiling_words, labour_minutes
from fairwitness.server.cases.models import CaseStatus, StoredCase, StoredPart, Vehicle
from fairwitness.server.cases.parts import CLAIMED
from fairwitness.server.cases.standing import STAGE_WORDS, CaseStage
from fairwitness.server.cases.vehicles import history_of
from fairwitness.server.learning.models import ShopCode

_say = scope("visit")
ORIGIN_WORDS = {
    CodeOrigin.AS_ARRIVED: _say("as_arrived", "as it arrived"),
    CodeOrigin.AFTER_CLEARING: _say("after_clearing", "came back after clearing"),
    CodeOrigin.OWN_TESTING: _say("own_testing", "set by our own testing"),
}
SEEN = template("visit.seen", "Seen by {by}: {under}")
NOT_PROVOKED = template("visit.not_provoked", "Could not be provoked by {by}: {under}")
NOTHING_FOUND = _say("nothing_found", "nothing written down of what was found")


def visit_of(case: StoredCase, reader: User, now: datetime, document: Mapping[str, Any]) -> dict[str, Any]:
    """Everything the board shows of a visit.

    Parameters
    ----------
    case : StoredCase
    reader : User
        Whose clock is told apart.
    now : datetime
        Up to which clocks that run are counted.
    document : mapping
        The diagnosis, as ``diagnosis_of`` gives it.

    Returns
    -------
    dict
    """
    minutes = labour_minutes(case, now)
    running = [span for span in case.labour.select_related("by") if span.ended_at is None]
    vehicle = case.visit_of
    return {
        "vehicle": case.visit_of_id,
        "notes": vehicle.notes if vehicle else "",
        "said": _said(case),
        "provoked": case.provoked,
        "tried": _tried(case),
        "labour_minutes": minutes,
        "working": [span.by.shown_name for span in running],
        "own_clock": any(span.by_id == reader.pk for span in running),
        "ceiling_words": ceiling_words(case, minutes, _next_minutes(case, document)),
        "code_reads": [_read(row) for row in case.code_reads],
        "next_origin": next_origin(case).value,
        "history": _history(case),
        "parts": [part_told(part) for part in case.parts.select_related("by")],
    }


def code_rows(case: StoredCase) -> list[dict[str, Any]]:
    """Codes of a case with where they come from."""
    codes = [code for row in case.codes if (code := read_code(row)) is not None]
    own = dict(ShopCode.objects.values_list("code", "words")) if codes else {}
    return [
        {
            "code": c.code,
            "status": c.status,
            "origin": c.origin.value,
            "origin_words": ORIGIN_WORDS[c.origin],
            "meaning": _meaning(c.code, own),
        }
        for c in codes
    ]


def _meaning(code: str, own: Mapping[str, str]) -> Message:
    """What a code means: as this shop wrote it down, else as it is published; nothing of what has not its form."""
    known = meaning_of(code)
    if known is None:
        return NOTHING
    return verbatim(own[known.code]) if known.code in own else known.words


def part_told(part: StoredPart) -> dict[str, Any]:
    """A part as the board and the claim sheet show it."""
    found = _beside(part)
    condition = PartCondition(part.condition)
    return {
        "id": part.pk,
        "part": PART_WORDS[part.part],
        "cylinder": part.cylinder,
        "fitted": FITTED_WORDS[PartState(part.fitted)],
        "condition": condition.value,
        "condition_words": CONDITION_WORDS[condition],
        "reading": beside_words(found, part.unit) if found else "",
        "peers": part.peers,
        "supplier": part.supplier,
        "words": part.words,
        "claim": condition in CLAIMED,
        "by": part.by.shown_name,
        "at": part.at,
    }


def vehicle_told(vehicle: Vehicle) -> dict[str, Any]:
    """A known vehicle as it is offered at intake."""
    last = vehicle.visits.order_by("-opened_at").first()
    return {
        "id": vehicle.pk,
        "name": vehicle.name,
        "engine": vehicle.engine,
        "visits": vehicle.visits.count(),
        "last": last.headline if last else "",
    }


def record_blocks(case: StoredCase) -> dict[str, Any]:
    """What a package carries of the record beside the evidence: vehicle, this visit, parts, and what was found."""
    outcomes = [
        {"found": o.found, "fault": o.fault, "cylinders": o.cylinders, "seen_by": o.seen_by, "agreed": o.agreed,
         "lesson": o.lesson, "said": o.said, "by": o.by.shown_name, "at": o.at.isoformat()}
        for o in case.outcomes.select_related("by")
    ]  # fmt: skip
    parts = [
        {"part": p.part, "cylinder": p.cylinder, "fitted": p.fitted, "condition": p.condition, "value": p.value,
         "unit": p.unit, "peers": p.peers, "supplier": p.supplier, "words": p.words, "by": p.by.shown_name,
         "at": p.at.isoformat()}
        for p in case.parts.select_related("by")
    ]  # fmt: skip
    visit = visit_block(PastVisit(odometer_km=case.odometer_km, stage=case.closed_as))
    blocks = {"vehicle": case.vehicle, "visit": visit, "outcomes": outcomes, "parts": parts}
    return {key: block for key, block in blocks.items() if block}


def _said(case: StoredCase) -> dict[str, Any]:
    return {
        "complaint": case.complaint,
        "symptom": case.symptom,
        "complaint_when": circumstances_block(read_circumstances(case.complaint_when)),
        "signs": case.signs,
        "work_done": [
            {
                "part": w.part,
                "cylinders": list(w.cylinders),
                "fitted": w.fitted.value if w.fitted else None,
                "by": w.by,
                "when": w.when,
                "helped": w.helped,
                "words": w.words,
            }
            for w in read_work(case.work_done)
        ],
        "believed": case.believed,
        "asked_for": case.asked_for,
        "odometer_km": case.odometer_km,
        "ceiling_minutes": case.ceiling_minutes,
    }


def _tried(case: StoredCase) -> Message | str:
    if case.provoked is None or case.verified_by is None:
        return case.complaint_verified
    words = SEEN if case.provoked else NOT_PROVOKED
    return words(by=case.verified_by.shown_name, under=case.complaint_verified)


def _next_minutes(case: StoredCase, document: Mapping[str, Any]) -> float | None:
    asked = document["next_tests"]
    return float(asked[0]["minutes"]) if asked and case.status == CaseStatus.OPEN else None


def _read(row: dict[str, Any]) -> dict[str, Any]:
    return {
        "kind": row["kind"],
        "codes": row["codes"],
        "origin_words": ORIGIN_WORDS[CodeOrigin(row["origin"])],
        "by": row["by"],
        "at": row["at"],
    }


def _history(case: StoredCase) -> list[dict[str, Any]]:
    own = [(visit.case, visit.past, visit.headline) for visit in history_of(case)]
    brought = [(None, past, "") for past in read_visits(case.extra.get("visits"))]
    return [
        {"case": number, "on": past.on, "odometer_km": past.odometer_km, "words": _in_a_line(past, headline)}
        for number, past, headline in [*own, *brought]
    ]


def _in_a_line(past: PastVisit, headline: str) -> Message:
    """Complaint, what was found or at least said, and how far it was."""
    stage = STAGE_WORDS[CaseStage(past.stage)] if past.stage in list(CaseStage) else None
    found = verbatim(past.found or headline) if past.found or headline else NOTHING_FOUND
    said = [verbatim(past.complaint.rstrip("."))] if past.complaint else []
    return joined(*said, found, *([stage] if stage else []), by="; ")


def _beside(part: StoredPart) -> BesidePeers | None:
    return beside_peers(part.value, part.peers) if part.value is not None and len(part.peers) > 1 else None

"""The intake after the case was opened: what was said is mended, the complaint tried, codes read; each with its name.

Nothing is lost: the journal holds what stood there before.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from django.db import transaction

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import CodeOrigin, TroubleCode, code_block
from fairwitness.core.model.circumstances import circumstances_block, read_circumstances
from fairwitness.core.model.work import read_work, work_block, work_words
from fairwitness.core.reason.knowledge.signs import SIGNS
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.changing import changing, note, refuse_closed, touch
from fairwitness.server.cases.models import StoredCase, Vehicle

CODES_MOST = 200
SAID_MOST = 200
TEXTS = {"complaint": 4000, "believed": 300, "asked_for": 300}
NUMBERS = ("odometer_km", "ceiling_minutes")
AMENDABLE = (*TEXTS, *NUMBERS, "symptom", "complaint_when", "signs", "work_done")
"""Fields of a case that may be mended; the engine is not one: its captures were read by it."""


def amend(case: StoredCase, changes: Mapping[str, Any], *, by: User, at: datetime) -> StoredCase:
    """Mend what was said at intake; what is left out stays.

    Parameters
    ----------
    case : StoredCase
    changes : mapping
        Of ``AMENDABLE`` fields, as they are kept.

    Raises
    ------
    PermissionDenied
    ObservationError
        The case is closed.
    """
    require(by, "add_evidence")
    with changing(case) as held:
        refuse_closed(held)
        for name in AMENDABLE:
            if name not in changes:
                continue
            before, after = getattr(held, name), _kept(name, changes[name])
            if before == after:
                continue
            setattr(held, name, after)
            said = f"{name.replace('_', ' ')}: {_said(name, before)} → {_said(name, after)}"
            note(held, "intake amended", said, by=by, at=at)
        held.save(update_fields=list(AMENDABLE))
        touch(held, at)
    return case


def _kept(name: str, value: Any) -> Any:
    if name in TEXTS:
        return str(value).strip()[: TEXTS[name]]
    if name == "complaint_when":
        return circumstances_block(read_circumstances(value))
    if name == "signs":
        return [sign for sign in SIGNS if sign in value]
    if name == "work_done":
        return [work_block(work) for work in read_work(value)]
    return value


def _said(name: str, value: Any) -> str:
    """A field in a few words, for the journal."""
    if name == "complaint_when":
        words = ", ".join(render(word) for word in read_circumstances(value).words)
    elif name == "signs":
        words = ", ".join(render(SIGNS[sign].words) for sign in value if sign in SIGNS)
    elif name == "work_done":
        words = "; ".join(render(work_words(work)) for work in read_work(value))
    else:
        words = "" if value is None else str(value).replace("_", " ")
    return f"“{words[:SAID_MOST]}”" if words else "nothing"


def verify_complaint(case: StoredCase, *, provoked: bool, under: str, by: User, at: datetime) -> StoredCase:
    """Record that somebody of the shop saw the complaint, or could not bring it about, and under which conditions.

    Raises
    ------
    PermissionDenied
    ObservationError
        The case is closed, or nobody said what was tried.
    """
    require(by, "add_evidence")
    if not under.strip():
        raise ObservationError("How was it tried?", where="under", remedy="Cold, idle, under load, for how long.")
    with changing(case, conclude=False) as held:
        refuse_closed(held)
        held.provoked, held.complaint_verified = provoked, under.strip()[:200]
        held.verified_by, held.verified_at = by, at
        held.save(update_fields=["provoked", "complaint_verified", "verified_by", "verified_at"])
        touch(held, at)
        verb = "complaint seen" if provoked else "complaint could not be provoked"
        note(held, verb, held.complaint_verified, by=by, at=at)
    return case


def record_codes(
    case: StoredCase, codes: Sequence[tuple[str, str]], origin: CodeOrigin, *, by: User, at: datetime
) -> StoredCase:
    """Keep what a scan showed; none at all is kept too.

    Parameters
    ----------
    case : StoredCase
    codes : sequence of (code, status)
    origin : CodeOrigin
        Codes that the own testing set say nothing of the vehicle.

    Raises
    ------
    PermissionDenied
    ObservationError
        The case is closed, or holds too many.
    """
    require(by, "add_evidence")
    with changing(case) as held:
        refuse_closed(held)
        held.codes = _joined(held.codes, [TroubleCode(c.strip().upper()[:16], s[:32], origin) for c, s in codes], at)
        read = [c.strip().upper()[:16] for c, _ in codes]
        held.code_reads = [*held.code_reads, _read_row("read", read, origin, by, at)][-CODES_MOST:]
        held.save(update_fields=["codes", "code_reads"])
        touch(held, at)
        words = " ".join(read) or "none stored"
        note(held, "codes read", f"{words}, {origin.value.replace('_', ' ')}", by=by, at=at)
    return case


def record_clearing(case: StoredCase, *, words: str = "", by: User, at: datetime) -> StoredCase:
    """Record that the codes were cleared; those read from now on came after it.

    Raises
    ------
    PermissionDenied
    ObservationError
        The case is closed.
    """
    require(by, "add_evidence")
    with changing(case, conclude=False) as held:
        refuse_closed(held)
        row = {**_read_row("cleared", [], CodeOrigin.AFTER_CLEARING, by, at), "words": words.strip()[:200]}
        held.code_reads = [*held.code_reads, row][-CODES_MOST:]
        held.save(update_fields=["code_reads"])
        note(held, "codes cleared", words.strip(), by=by, at=at)
    return case


def next_origin(case: StoredCase) -> CodeOrigin:
    """Where codes read now come from, unless somebody says that the own testing set them."""
    cleared = any(row.get("kind") == "cleared" for row in case.code_reads)
    return CodeOrigin.AFTER_CLEARING if cleared else CodeOrigin.AS_ARRIVED


def note_on(vehicle: Vehicle, notes: str, *, by: User, at: datetime) -> Vehicle:
    """Keep notes on a vehicle; the journal of its latest visit says who wrote them.

    Raises
    ------
    PermissionDenied
    """
    require(by, "add_evidence")
    with transaction.atomic():
        held = Vehicle.objects.select_for_update().get(pk=vehicle.pk)
        held.notes = notes.strip()
        held.save(update_fields=["notes"])
        last = held.visits.order_by("-opened_at").first()
        if last is not None:
            note(last, "vehicle noted", held.notes, by=by, at=at)
    vehicle.notes = held.notes
    return vehicle


def _joined(kept: Sequence[Mapping[str, str]], new: Sequence[TroubleCode], at: datetime) -> list[dict[str, str]]:
    rows = [dict(row) for row in kept]
    known = {(row["code"], row.get("status", "stored"), row.get("origin", CodeOrigin.AS_ARRIVED.value)) for row in rows}
    for code in new:
        if code.code and (code.code, code.status, code.origin.value) not in known:
            known.add((code.code, code.status, code.origin.value))
            rows.append({**code_block(code), "at": at.isoformat()})
    if len(rows) > CODES_MOST:
        raise ObservationError(f"{CODES_MOST} codes of one vehicle are enough.", where="codes")
    return rows


def _read_row(kind: str, codes: list[str], origin: CodeOrigin, by: User, at: datetime) -> dict[str, Any]:
    return {"kind": kind, "codes": codes, "origin": origin.value, "by": by.shown_name, "at": at.isoformat()}

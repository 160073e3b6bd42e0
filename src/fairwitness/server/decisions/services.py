"""Keeping the owner's decision: an observation like any other, its signature a picture, its ceiling on the clock."""

from __future__ import annotations

import hashlib
from datetime import datetime

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.decision import AGREEMENT_WORDS, DECISION, MINUTES_MOST, WORDS_MOST, Agreement, Decision
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.changing import changing, note, refuse_closed, touch
from fairwitness.server.cases.models import StoredCase, StoredObservation
from fairwitness.server.pictures.checking import Checked, PictureKind, check
from fairwitness.server.pictures.services import KEPT_LINES, write

SIGNATURE_BYTES_MAX = 400_000
SIGNATURE_SIDE_MAX = 2000


def decide(
    case: StoredCase, decision: Decision, *, signature: bytes = b"", by: User, at: datetime
) -> StoredObservation:
    """Keep a decision; the last one holds. Labour that was agreed becomes the ceiling of the clock.

    Parameters
    ----------
    case : StoredCase
    decision : Decision
    signature : bytes
        A small picture, where one was drawn.

    Raises
    ------
    PermissionDenied
    ObservationError
        Nobody decided it, or it has neither a signature nor a note; the case is closed.
    PackageError
        The signature is no picture.
    """
    require(by, "add_evidence")
    refuse_closed(case)
    if not decision.who.strip():
        raise ObservationError("Who decided it?", where="who")
    if not signature and not decision.note.strip():
        raise ObservationError(
            "A decision has a signature or a note.", where="note", remedy="Let them sign, or write down what was said."
        )
    if decision.up_to_minutes is not None and not 0 < decision.up_to_minutes <= MINUTES_MOST:
        raise ObservationError(f"{decision.up_to_minutes} minutes cannot be.", where="up_to_minutes")
    drawn = _signed(signature) if signature else None
    with changing(case) as held:
        refuse_closed(held)
        data = _data(held, decision)
        if drawn is not None:
            data["signature"] = _kept_signature(held, drawn, decision.who.strip(), by=by, at=at)
        kept = StoredObservation.objects.create(case=held, test=DECISION, data=data, kept_by=by, kept_at=at)
        if decision.up_to_minutes is not None:
            held.ceiling_minutes = decision.up_to_minutes
            held.save(update_fields=["ceiling_minutes"])
        touch(held, at)
        note(held, "decision kept", _said(decision), by=by, at=at)
    return kept


def _kept_signature(case: StoredCase, drawn: Checked, who: str, *, by: User, at: datetime) -> str:
    """Hash of a signature among the pictures of the case; the same strokes again are the same picture."""
    sha256 = hashlib.sha256(drawn.data).hexdigest()
    if not case.pictures.filter(sha256=sha256).exists():
        words = f"Signature of {who}"[:WORDS_MOST]
        write(case, drawn, words=words, by=by, at=at)
        note(case, KEPT_LINES[PictureKind.PHOTO], words, by=by, at=at, about=sha256)
    return sha256


def _signed(signature: bytes) -> Checked:
    """A signature as a picture that may be kept."""
    if len(signature) <= SIGNATURE_BYTES_MAX:
        drawn = check(signature)
        if drawn.kind is PictureKind.PHOTO and max(drawn.width, drawn.height) <= SIGNATURE_SIDE_MAX:
            return drawn
    raise ObservationError("A signature is a small picture.", where="signature")


def _data(case: StoredCase, decision: Decision) -> dict[str, object]:
    data = {
        "who": decision.who.strip()[:WORDS_MOST],
        "way": decision.way.value if decision.way else "",
        "option": decision.option.strip()[:WORDS_MOST],
        "agreed": [a.value for a in Agreement if a in decision.agreed],
        "up_to_minutes": decision.up_to_minutes,
        "amount": decision.up_to.strip()[:WORDS_MOST],
        "note": decision.note.strip()[:WORDS_MOST],
        "phase": case.phase,
        "test": DECISION,
    }
    empty: tuple[object, ...] = ("", None, 0)
    return {key: value for key, value in data.items() if value not in empty}


def _said(decision: Decision) -> str:
    what = ", ".join(render(AGREEMENT_WORDS[a]) for a in Agreement if a in decision.agreed)
    return f"{decision.who.strip()}: {what or 'no'}"

"""Changing a case: one short transaction over its locked row, concluded anew from what is in force by then."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from typing import Any

from django.db import transaction

from fairwitness.core.errors import ObservationError
from fairwitness.server.accounts.models import User
from fairwitness.server.cases.evidence import is_current, refresh_diagnosis
from fairwitness.server.cases.journal import seal_of
from fairwitness.server.cases.models import CaseStatus, JournalEntry, StoredCase


@contextmanager
def changing(case: StoredCase, *, conclude: bool = True) -> Iterator[StoredCase]:
    """Hold a case for one change; whoever else wants to change it waits.

    The diagnosis is made inside, of evidence read after the lock was had, so that of two changes at once the later one
    sees what the earlier one kept.

    Parameters
    ----------
    case : StoredCase
        Brought up to date afterwards.
    conclude : bool
        Whether the change may move the diagnosis.

    Yields
    ------
    StoredCase
        As it stands in the database now.
    """
    with transaction.atomic():
        held = StoredCase.objects.select_for_update().get(pk=case.pk)
        yield held
        if conclude:
            refresh_diagnosis(held)
    case.refresh_from_db()


def diagnosis_of(case: StoredCase) -> dict[str, Any]:
    """The kept diagnosis of a case; made again first where another version made it, or the shop has learned since.

    Returns
    -------
    dict
        With its messages as data.
    """
    if not is_current(case):
        with changing(case):
            pass
    document: dict[str, Any] = case.diagnosis
    return document


def refuse_closed(case: StoredCase) -> None:
    """A closed case takes no more evidence.

    Raises
    ------
    ObservationError
    """
    if case.status == CaseStatus.CLOSED:
        raise ObservationError(
            "This case is closed.", where=case.title or case.name, remedy="Open a new case for the vehicle."
        )


def touch(case: StoredCase, at: datetime) -> None:
    """Move the case to the top of the list."""
    case.touched_at = at
    case.save(update_fields=["touched_at"])


def note(case: StoredCase, verb: str, detail: str = "", *, by: User, at: datetime, about: str = "") -> None:
    """Add a line to the journal, sealed to the one before it.

    Call it inside a transaction: only there do writers wait for each other.
    """
    line = JournalEntry(case=case, verb=verb, detail=detail[:500], about=about, by=by, at=at)
    before = JournalEntry.objects.order_by("-id").values_list("seal", flat=True).first()
    line.seal = seal_of(line, before or "")
    line.save()

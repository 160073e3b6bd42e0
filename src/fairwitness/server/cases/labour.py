"""The clock of a case: who works on it from when to when, and how that stands beside what the owner agreed to."""

from __future__ import annotations

from datetime import datetime, timedelta

from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.changing import changing, note, refuse_closed
from fairwitness.server.cases.models import LabourSpan, StoredCase

NEAR = 0.8
"""Share of the agreed labour from which its end is told. [M]"""
PASSED = template("labour.passed", "{over:g} min over the {agreed:g} agreed: ask the owner before going on.")
NEARLY = template("labour.nearly", "{left:g} min left of the {agreed:g} agreed.")
WOULD_PASS = template(
    "labour.would_pass", "{left:g} min left of the {agreed:g} agreed; the next test takes {next:g}: ask first."
)


def start_clock(case: StoredCase, *, by: User, at: datetime) -> StoredCase:
    """Begin to count one person's labour; a clock that runs goes on.

    Raises
    ------
    PermissionDenied
    ObservationError
        The case is closed.
    """
    require(by, "add_evidence")
    with changing(case, conclude=False) as held:
        refuse_closed(held)
        _, begun = LabourSpan.objects.get_or_create(case=held, by=by, ended_at=None, defaults={"begun_at": at})
        if begun:
            note(held, "clock started", by=by, at=at)
    return case


def stop_clock(case: StoredCase, *, by: User, at: datetime) -> StoredCase:
    """Stop counting one person's labour; where no clock of theirs runs nothing happens.

    Raises
    ------
    PermissionDenied
    """
    require(by, "add_evidence")
    with changing(case, conclude=False) as held:
        for span in LabourSpan.objects.filter(case=held, by=by, ended_at=None):
            end_span(span, at)
            note(held, "clock stopped", f"{_minutes(span, at):g} min", by=by, at=at)
    return case


def stop_all(case: StoredCase, at: datetime) -> None:
    """Stop every clock of a case, because it is closed; call it while the case is held."""
    for span in LabourSpan.objects.filter(case=case, ended_at=None):
        end_span(span, at)


def end_span(span: LabourSpan, at: datetime) -> None:
    """End one span, never before it began: clocks of two machines may differ."""
    span.ended_at = max(at, span.begun_at)
    span.save(update_fields=["ended_at"])


def labour_minutes(case: StoredCase, now: datetime) -> int:
    """Whole minutes of labour on a case, clocks that run counted up to now."""
    return int(sum(_minutes(span, now) for span in case.labour.all()))


def ceiling_words(case: StoredCase, minutes: int, next_minutes: float | None) -> Message:
    """What is to be said of the labour agreed with the owner; nothing while it is far.

    Parameters
    ----------
    case : StoredCase
    minutes : int
        Labour so far.
    next_minutes : float or None
        Of the test that is asked for.

    Returns
    -------
    Message
    """
    agreed = case.ceiling_minutes
    if agreed is None:
        return NOTHING
    left = agreed - minutes
    if left < 0:
        return PASSED(over=-left, agreed=agreed)
    if next_minutes is not None and next_minutes > left:
        return WOULD_PASS(left=left, agreed=agreed, next=next_minutes)
    return NEARLY(left=left, agreed=agreed) if minutes >= NEAR * agreed else NOTHING


def _minutes(span: LabourSpan, now: datetime) -> float:
    end = span.ended_at or max(now, span.begun_at)
    return round((end - span.begun_at) / timedelta(minutes=1), 1)

"""What is sent again is kept once; what was noted without a connection is kept only while it still holds."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta
from urllib.parse import unquote
from uuid import UUID

from django.db import IntegrityError, transaction
from django.utils import timezone
from django.utils.dateparse import parse_datetime
from rest_framework.request import Request

from fairwitness.core.errors import ObservationError
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import person
from fairwitness.server.cases.changing import note
from fairwitness.server.cases.models import KeptOnce, StoredCase

REMEMBERED = timedelta(days=60)
"""No browser holds something back for longer without somebody looking; from memory."""


@dataclass(frozen=True, slots=True)
class Sent:
    """How a browser sent something.

    Parameters
    ----------
    key : UUID
        The same at every try.
    noted_at : datetime, optional
        When it was written down, where it is sent later than that.
    noted_by : str
        Log-in name of whoever wrote it down.
    phase : int, optional
        Number of the state the vehicle was in then, where that matters.
    """

    key: UUID
    noted_at: datetime | None = None
    noted_by: str = ""
    phase: int | None = None


@contextmanager
def kept_once(request: Request, case: StoredCase) -> Iterator[bool]:
    """Hold what is kept of one request together with the key it came with: both, or neither.

    Yields
    ------
    bool
        Whether it is still to be kept; always where no key came with it.

    Raises
    ------
    ObservationError
        Somebody else is logged in by now, or the vehicle is no longer in the state it was noted in.
    """
    sent = _sent(request)
    if sent is None:
        yield True
        return
    by, now = person(request), timezone.now()
    with transaction.atomic():
        if not _first(sent, case, by=by, at=now):
            yield False
            return
        if sent.noted_at is not None:
            _refuse_outdated(sent, case, by)
        yield True
        if sent.noted_at is not None:
            held = StoredCase.objects.select_for_update().get(pk=case.pk)
            note(held, "noted without connection", _moment(sent.noted_at), by=by, at=now)


def _first(sent: Sent, case: StoredCase, *, by: User, at: datetime) -> bool:
    KeptOnce.objects.filter(at__lt=at - REMEMBERED).delete()
    try:
        with transaction.atomic():
            KeptOnce.objects.create(key=sent.key, case=case, by=by, at=at)
    except IntegrityError:
        return False
    return True


def _refuse_outdated(sent: Sent, case: StoredCase, by: User) -> None:
    where = _moment(sent.noted_at)
    if by.username != sent.noted_by:
        raise ObservationError(
            "Somebody else noted this.", where=where, remedy="Whoever noted it logs in here to send it."
        )
    held = StoredCase.objects.select_for_update().get(pk=case.pk)
    if sent.phase is not None and held.phase != sent.phase:
        raise ObservationError(
            "The vehicle was worked on since this was noted.", where=where, remedy="Take it again, or discard it."
        )


def _moment(at: datetime | None) -> str:
    return f"{timezone.localtime(at):%d %b %H:%M}" if at is not None else ""


def _sent(request: Request) -> Sent | None:
    key, noted, phase = (request.headers.get(f"X-{name}", "") for name in ("Once", "Noted-At", "Noted-In"))
    if not key:
        return None
    try:
        at = parse_datetime(noted) if noted else None
        if noted and (at is None or timezone.is_naive(at)):
            raise ValueError(noted)
        by = unquote(request.headers.get("X-Noted-By", ""))
        return Sent(key=UUID(key), noted_at=at, noted_by=by, phase=int(phase) if phase else None)
    except ValueError as fault:
        raise ObservationError(
            "This was sent without a proper key, moment or state.", where=str(fault), remedy="Enter it again."
        ) from fault

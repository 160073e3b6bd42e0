"""What was noted without a connection and sent later: kept once, with its moment, and only while it still holds."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from urllib.parse import unquote
from uuid import UUID

from django.db import IntegrityError, transaction
from django.utils import timezone
from django.utils.dateparse import parse_datetime
from rest_framework.request import Request

from fairwitness.core.errors import ObservationError
from fairwitness.server.accounts.permissions import person
from fairwitness.server.cases.changing import note
from fairwitness.server.cases.models import SentLate, StoredCase

HEADERS = ("X-Late-Key", "X-Late-Noted", "X-Late-Phase", "X-Late-By")


@dataclass(frozen=True, slots=True)
class Late:
    """What a browser says of something it held back.

    Parameters
    ----------
    key : UUID
        The same at every try.
    noted_at : datetime
    phase : int
        Number of the state the vehicle was in then.
    by : str
        Log-in name of whoever noted it.
    """

    key: UUID
    noted_at: datetime
    phase: int
    by: str


@contextmanager
def kept_once(request: Request, case: StoredCase) -> Iterator[bool]:
    """Hold what is kept of one request together with its key; an answer that got lost does not keep it twice.

    Yields
    ------
    bool
        Whether it is still to be kept: always, where nothing was held back.

    Raises
    ------
    ObservationError
        Somebody else is logged in by now, or the vehicle is no longer in the state it was noted in.
    """
    late = _late(request)
    if late is None:
        yield True
        return
    by, words = person(request), f"{timezone.localtime(late.noted_at):%d %b %H:%M}"
    if by.username != late.by:
        raise ObservationError(
            "Somebody else noted this.", where=words, remedy="Whoever noted it logs in here to send it."
        )
    with transaction.atomic():
        try:
            with transaction.atomic():
                SentLate.objects.create(key=late.key, case=case, by=by, noted_at=late.noted_at)
        except IntegrityError:
            yield False
            return
        held = StoredCase.objects.select_for_update().get(pk=case.pk)
        if held.phase != late.phase:
            raise ObservationError(
                "The vehicle was worked on since this was noted.",
                where=words,
                remedy="Take it again, or discard it.",
            )
        yield True
        note(held, "noted without connection", words, by=by, at=timezone.now())


def _late(request: Request) -> Late | None:
    key, noted, phase, by = (request.headers.get(name, "") for name in HEADERS)
    if not key:
        return None
    try:
        noted_at = parse_datetime(noted)
        if noted_at is None or timezone.is_naive(noted_at):
            raise ValueError(noted)
        return Late(key=UUID(key), noted_at=noted_at, phase=int(phase), by=unquote(by))
    except ValueError as fault:
        raise ObservationError(
            "What was noted without connection says not when, or by whom.", where=str(fault), remedy="Enter it again."
        ) from fault

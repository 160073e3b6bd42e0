"""Where a person is logged in: sessions with what they were opened on, and ending them."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.conf import settings
from django.contrib.auth import SESSION_KEY, login
from django.contrib.sessions.backends.db import SessionStore
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.utils import timezone

from fairwitness.core.errors import PeopleError
from fairwitness.server.accounts.models import User

SINCE, DEVICE, BY_CODE, BY_PASSWORD_AT = "since", "device", "by_code", "by_password_at"
DEVICE_LETTERS_MAX = 200


@dataclass(frozen=True, slots=True)
class OpenSession:
    """One place a person is logged in at.

    Parameters
    ----------
    id : str
        Names the session without giving it away.
    since : str
        ISO 8601.
    device : str
        As the browser names itself.
    by_code : bool
        Opened by the short code of a shared tablet.
    until : datetime
    here : bool
        It is the one that asks.
    """

    id: str
    since: str
    device: str
    by_code: bool
    until: datetime
    here: bool = False


def open_session(request: HttpRequest, person: User, *, by_code: bool = False) -> None:
    """Log a person in and note when, on what and how."""
    now = timezone.now().isoformat()
    by_password_at = request.session.get(BY_PASSWORD_AT, now) if by_code else now
    login(request, person)
    request.session[SINCE] = now
    request.session[BY_PASSWORD_AT] = by_password_at
    request.session[DEVICE] = request.headers.get("User-Agent", "")[:DEVICE_LETTERS_MAX]
    request.session[BY_CODE] = by_code


def opened_by_code(request: HttpRequest) -> bool:
    """Whether only a short code stands behind a session."""
    return bool(request.session.get(BY_CODE, False))


def refuse_too_old_a_day(request: HttpRequest) -> None:
    """Refuse to hand on by short code what nobody opened by password within a working day.

    Raises
    ------
    PeopleError
        However often it was handed on since.
    """
    said = request.session.get(BY_PASSWORD_AT, "")
    opened = datetime.fromisoformat(said) if said else None
    if opened is not None and timezone.now() - opened > timedelta(seconds=settings.SESSION_COOKIE_AGE):
        raise PeopleError("Nobody came in by password today.", remedy="Log in with a password once.")


def is_somebodys(session_key: str) -> bool:
    """Whether somebody is logged in under a session."""
    return SESSION_KEY in SessionStore(session_key)


def sessions_of(person: User, *, asking: str | None = None) -> list[OpenSession]:
    """Every place a person is logged in at, the newest first; ``asking`` names the one that asks."""
    found = [
        OpenSession(
            id=_name_of(session.session_key),
            since=str(held.get(SINCE, "")),
            device=str(held.get(DEVICE, "")),
            by_code=bool(held.get(BY_CODE, False)),
            until=session.expire_date,
            here=session.session_key == asking,
        )
        for session, held in _held_by(person)
    ]
    return sorted(found, key=lambda s: s.since, reverse=True)


def end_session(person: User, session_id: str) -> None:
    """Log a person out at one place.

    Raises
    ------
    PeopleError
        It has ended already.
    """
    for session, _ in _held_by(person):
        if _name_of(session.session_key) == session_id:
            session.delete()
            return
    raise PeopleError("This session has ended already.", where=person.username)


def end_sessions(person: User, *, but: str | None = None) -> int:
    """Log a person out everywhere, or everywhere but in one session; how many sessions that were."""
    ended = 0
    for session, _ in _held_by(person):
        if session.session_key != but:
            session.delete()
            ended += 1
    return ended


def _held_by(person: User) -> Iterator[tuple[Session, dict[str, object]]]:
    for session in Session.objects.filter(expire_date__gte=timezone.now()).iterator():
        held = session.get_decoded()
        if held.get(SESSION_KEY) == str(person.pk):
            yield session, held


def _name_of(session_key: str) -> str:
    return hashlib.sha256(session_key.encode()).hexdigest()[:16]

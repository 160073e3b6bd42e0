"""Handing over by a link: a secret long enough that nobody guesses it, until it expires or is revoked."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime, timedelta

from fairwitness.core.errors import ObservationError
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.changing import changing, note
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.sheets.models import SheetLink, SheetOpening
from fairwitness.server.sheets.workshop import workshop

SECRET_BYTES = 32
TOKEN_LENGTH = 43
"""Letters of such a secret in an address."""
DAYS_MOST = 90
LINKS_MAX = 50
OPENINGS_KEPT = 500
RIGHT = "hand_over"
MADE_LINE, REVOKED_LINE = "sheet link made", "sheet link revoked"


def make_link(case: StoredCase, *, words: str, whole: bool, days: int, by: User, at: datetime) -> tuple[SheetLink, str]:
    """Make a link.

    Parameters
    ----------
    case : StoredCase
    words : str
        For whom it is.
    whole : bool
        With the annex.
    days : int
    by : User
    at : datetime

    Returns
    -------
    (SheetLink, str)
        The second is the secret, told once and never kept.

    Raises
    ------
    PermissionDenied
    ObservationError
        The shop hands out no links, nobody is named, or the time is too long.
    """
    require(by, RIGHT)
    if not workshop().links_on:
        raise ObservationError("This shop hands out no links.", where="links", remedy="A lead turns them on.")
    if not words.strip():
        raise ObservationError("For whom is it?", where="words")
    if not 1 <= days <= DAYS_MOST:
        raise ObservationError(f"A link is good for 1 to {DAYS_MOST} days.", where="days")
    secret = secrets.token_urlsafe(SECRET_BYTES)
    with changing(case, conclude=False) as held:
        if held.sheet_links.filter(revoked_at__isnull=True, expires_at__gt=at).count() >= LINKS_MAX:
            raise ObservationError("Too many links are open.", where="links", remedy="Revoke some.")
        link = SheetLink.objects.create(
            case=held, digest=digest_of(secret), whole=whole, words=words.strip()[:120],
            expires_at=at + timedelta(days=days), made_by=by, made_at=at,
        )  # fmt: skip
        what = "sheet and annex" if whole else "sheet"
        note(held, MADE_LINE, f"{what} for {link.words}, until {link.expires_at:%Y-%m-%d}", by=by, at=at)
    return link, secret


def revoke(link: SheetLink, *, by: User, at: datetime) -> None:
    """Make a link worthless at once; again changes nothing.

    Raises
    ------
    PermissionDenied
    """
    require(by, RIGHT)
    with changing(link.case, conclude=False) as held:
        if SheetLink.objects.filter(pk=link.pk, revoked_at__isnull=True).update(revoked_at=at, revoked_by=by):
            note(held, REVOKED_LINE, link.words, by=by, at=at)


def opened(secret: str, *, at: datetime) -> SheetLink | None:
    """The link of a secret while it is good; None says the same of a wrong, an old and a revoked one."""
    if len(secret) != TOKEN_LENGTH or not workshop().links_on:
        return None
    rows = SheetLink.objects.select_related("case", "case__opened_by", "case__verified_by", "made_by")
    return rows.filter(digest=digest_of(secret), revoked_at__isnull=True, expires_at__gt=at).first()


def write_opening(link: SheetLink, *, what: str, address: str, at: datetime) -> None:
    """Write down who looked; of very many only the last are kept."""
    SheetOpening.objects.create(link=link, at=at, address=address[:64], what=what)
    old = list(link.openings.values_list("pk", flat=True)[OPENINGS_KEPT : OPENINGS_KEPT + 50])
    if old:
        SheetOpening.objects.filter(pk__in=old).delete()


def digest_of(secret: str) -> str:
    """What is kept of a secret."""
    return hashlib.sha256(secret.encode()).hexdigest()

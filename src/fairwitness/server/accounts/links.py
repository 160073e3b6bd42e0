"""One-time links and codes: a password is chosen by whoever reads it, and by nobody else.

Only the hash of a secret is stored, so that a copy of the database opens nothing.
"""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from fairwitness.core.errors import PeopleError
from fairwitness.server.accounts import people
from fairwitness.server.accounts.models import OneTimeSecret, Role, User, Workshop

LINK_LIVES = timedelta(hours=48)
CODE_LIVES = timedelta(hours=24)
SPENT = "This link was used already, or is too old."
ASK_LEAD = "Ask a lead for a new one."
ALPHABET = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
"""No letter that is taken for a digit when read from a terminal."""


@transaction.atomic
def make_link(person: User, *, by: User | None) -> str:
    """A secret that lets a person choose a password once; earlier ones of the person are void.

    Returns
    -------
    str
        Told now, and never again.
    """
    OneTimeSecret.objects.filter(person=person, used_at=None).delete()
    secret = secrets.token_urlsafe(24)
    OneTimeSecret.objects.create(person=person, hash=_hash(secret), expires_at=timezone.now() + LINK_LIVES, made_by=by)
    return secret


def person_behind(secret: str) -> User:
    """Whom a link is for.

    Raises
    ------
    PeopleError
        It was used, is too old, or never was one.
    """
    person = _unspent(secret).person
    if person is None or not person.is_active:
        raise PeopleError(SPENT, remedy=ASK_LEAD)
    return person


@transaction.atomic
def spend_link(secret: str, password: str) -> User:
    """Choose the password a link allows; the link is void after.

    Raises
    ------
    PeopleError
        As ``person_behind``, or the password is too weak: then the link stays good.
    """
    person = person_behind(secret)
    people.set_password(person.username, password)
    OneTimeSecret.objects.filter(hash=_hash(secret)).update(used_at=timezone.now())
    return people.known(person.username)


def nobody_leads() -> bool:
    """Whether the workshop waits for its first lead."""
    return not User.objects.filter(role=Role.LEAD, is_active=True).exists()


@transaction.atomic
def make_first_code() -> str:
    """The code the first lead types, as it is printed where the program was started."""
    OneTimeSecret.objects.filter(person=None, used_at=None).delete()
    code = "-".join("".join(secrets.choice(ALPHABET) for _ in range(4)) for _ in range(3))
    OneTimeSecret.objects.create(person=None, hash=_hash(code), expires_at=timezone.now() + CODE_LIVES)
    return code


@transaction.atomic
def spend_first_code(code: str, *, workshop: str, username: str, name: str, password: str) -> User:
    """Make the first lead and name the workshop.

    Raises
    ------
    PeopleError
        Somebody leads already, the code is not the one printed, or the person cannot be made.
    """
    if not nobody_leads():
        raise PeopleError("Somebody leads this workshop already.", remedy=ASK_LEAD)
    secret = _unspent(code.strip().upper())
    if secret.person is not None:
        raise PeopleError(SPENT, remedy=ASK_LEAD)
    made = people.add(username, role=Role.LEAD, password=password, name=name)
    Workshop.objects.update_or_create(pk=1, defaults={"name": workshop.strip()})
    secret.used_at = timezone.now()
    secret.save(update_fields=["used_at"])
    return made


def _unspent(secret: str) -> OneTimeSecret:
    found = OneTimeSecret.objects.filter(hash=_hash(secret), used_at=None, expires_at__gt=timezone.now()).first()
    if found is None:
        raise PeopleError(SPENT, remedy=ASK_LEAD)
    return found


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode(errors="replace")).hexdigest()

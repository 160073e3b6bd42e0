"""Who works here: people added, given roles, blocked, and their passwords set, with the same rules from every door."""

from __future__ import annotations

from django.contrib.auth import SESSION_KEY
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.backends.db import SessionStore
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone

from fairwitness.core.errors import PeopleError
from fairwitness.server.accounts.models import Role, User

ROLES = f"Use {', '.join(Role.values[:-1])} or {Role.values[-1]}."


@transaction.atomic
def add(username: str, *, role: str, password: str, name: str = "") -> User:
    """A new person.

    Raises
    ------
    PeopleError
        The name is taken or cannot be one, there is no such role, or the password is too weak.
    """
    first, _, last = name.strip().partition(" ")
    person = User(username=username.strip(), first_name=first[:150], last_name=last[:150], role=_role(role))
    if User.objects.filter(username__iexact=person.username).exists():
        raise PeopleError("This name is taken.", where=person.username, remedy="Choose another one.")
    _give(person, password)
    try:
        person.full_clean(exclude=["password"])
    except ValidationError as error:
        raise PeopleError(" ".join(error.messages), where="name") from None
    person.save()
    return person


@transaction.atomic
def set_role(username: str, role: str) -> User:
    """Another role for a person.

    Raises
    ------
    PeopleError
        Nobody has this name, there is no such role, or nobody would lead any more.
    """
    person = known(username)
    chosen = _role(role)
    if person.role == Role.LEAD and chosen is not Role.LEAD:
        _keep_a_lead(person)
    person.role = chosen
    person.save(update_fields=["role"])
    return person


@transaction.atomic
def set_password(username: str, password: str) -> User:
    """Another password for a person; whoever is logged in under the name is logged out.

    Raises
    ------
    PeopleError
        Nobody has this name, or the password is too weak.
    """
    person = known(username)
    _give(person, password)
    person.save(update_fields=["password"])
    end_sessions(person)
    return person


@transaction.atomic
def set_blocked(username: str, *, blocked: bool) -> User:
    """Keep a person out, or let them in again. What they recorded stays theirs.

    Raises
    ------
    PeopleError
        Nobody has this name, or nobody would lead any more.
    """
    person = known(username)
    if blocked and person.role == Role.LEAD:
        _keep_a_lead(person)
    person.is_active = not blocked
    person.save(update_fields=["is_active"])
    if blocked:
        end_sessions(person)
    return person


def known(username: str) -> User:
    """A person by name.

    Raises
    ------
    PeopleError
    """
    person = User.objects.filter(username=username.strip()).first()
    if person is None:
        raise PeopleError(
            "Nobody has this name.", where=username, remedy="See who works here with: fairwitness users list"
        )
    return person


def is_somebodys(session_key: str) -> bool:
    """Whether somebody is logged in under a session."""
    return SESSION_KEY in SessionStore(session_key)


def end_sessions(person: User) -> int:
    """Log a person out everywhere; how many sessions that were."""
    ended = 0
    for session in Session.objects.filter(expire_date__gte=timezone.now()).iterator():
        if session.get_decoded().get(SESSION_KEY) == str(person.pk):
            session.delete()
            ended += 1
    return ended


def _give(person: User, password: str) -> None:
    try:
        validate_password(password, person)
    except ValidationError as error:
        raise PeopleError(" ".join(error.messages), where="password", remedy="Choose a longer one.") from None
    person.set_password(password)


def _role(role: str) -> Role:
    if role not in Role.values:
        raise PeopleError(f"There is no role {role!r}.", where="role", remedy=ROLES)
    return Role(role)


def _keep_a_lead(person: User) -> None:
    if not User.objects.filter(role=Role.LEAD, is_active=True).exclude(pk=person.pk).exists():
        raise PeopleError(
            "Nobody would lead any more.", where=person.username, remedy="Give somebody else the role of a lead first."
        )

"""Who works here: people added, given roles, blocked, and their passwords set, with the same rules from every door."""

from __future__ import annotations

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction

from fairwitness.core.errors import PeopleError
from fairwitness.server.accounts.models import Role, User
from fairwitness.server.accounts.sessions import end_sessions

ROLES = f"Use {', '.join(Role.values[:-1])} or {Role.values[-1]}."


@transaction.atomic
def add(username: str, *, role: str, password: str | None, name: str = "") -> User:
    """A new person; without a password nobody gets in under the name before a link was used.

    Raises
    ------
    PeopleError
        The name is taken or cannot be one, there is no such role, or the password is too weak.
    """
    first, _, last = name.strip().partition(" ")
    person = User(username=username.strip(), first_name=first[:150], last_name=last[:150], role=_role(role))
    if User.objects.filter(username__iexact=person.username).exists():
        raise PeopleError("This name is taken.", where=person.username, remedy="Choose another one.")
    if password is None:
        person.set_unusable_password()
    else:
        _give(person, password)
    try:
        person.full_clean(exclude=["password"])
    except ValidationError as error:
        raise PeopleError(" ".join(error.messages), where="name") from None
    person.save()
    return person


def invite(username: str, *, role: str, name: str = "") -> User:
    """A new person who chooses the password at a one-time link.

    Raises
    ------
    PeopleError
        As ``add``.
    """
    return add(username, role=role, password=None, name=name)


@transaction.atomic
def change(username: str, *, role: str | None = None, blocked: bool | None = None) -> User:
    """Another role, kept out or let in, at once or not at all.

    Raises
    ------
    PeopleError
        As ``set_role`` and ``set_blocked``.
    """
    if role is not None:
        set_role(username, role)
    if blocked is not None:
        set_blocked(username, blocked=blocked)
    return known(username)


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

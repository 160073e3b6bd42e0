"""What each role may do. Whatever is not named here is denied."""

from __future__ import annotations

from django.core.exceptions import PermissionDenied
from rest_framework.exceptions import NotAuthenticated
from rest_framework.request import Request

from fairwitness.server.accounts.models import Role, User

ALLOWED: dict[str, frozenset[str]] = {
    Role.READER: frozenset({"read"}),
    Role.TECHNICIAN: frozenset({"read", "open_case", "add_evidence", "withdraw_own", "fuel_state", "close_case"}),
    Role.LEAD: frozenset(
        {"read", "open_case", "add_evidence", "withdraw_own", "withdraw_any", "fuel_state", "close_case"}
    ),
}


def person(request: Request) -> User:
    """Who sent a request.

    Raises
    ------
    NotAuthenticated
    """
    user = request.user
    if not isinstance(user, User):
        raise NotAuthenticated
    return user


def may(user: User, verb: str) -> bool:
    """Whether a person's role allows a verb."""
    return bool(user.is_authenticated and user.is_active and verb in ALLOWED.get(user.role, frozenset()))


def require(user: User, verb: str) -> None:
    """Refuse where the role does not allow it.

    Raises
    ------
    PermissionDenied
    """
    if not may(user, verb):
        raise PermissionDenied(f"A {user.role} may not {verb.replace('_', ' ')}.")


def require_withdraw(user: User, kept_by_id: int | None) -> None:
    """One's own evidence, or anyone's for a lead.

    Raises
    ------
    PermissionDenied
    """
    if kept_by_id == user.pk and may(user, "withdraw_own"):
        return
    if not may(user, "withdraw_any"):
        raise PermissionDenied("Only a lead may withdraw what somebody else kept.")

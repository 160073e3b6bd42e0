"""What each role may do. Whatever is not named here is denied."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from django.core.exceptions import PermissionDenied
from rest_framework.exceptions import NotAuthenticated
from rest_framework.permissions import SAFE_METHODS, BasePermission
from rest_framework.request import Request

if TYPE_CHECKING:
    from rest_framework.views import APIView

from fairwitness.server.accounts.models import Role, User
from fairwitness.server.accounts.sessions import opened_by_code

UNNAMED = "do that"
ALLOWED: dict[str, frozenset[str]] = {
    Role.READER: frozenset({"read"}),
    Role.TECHNICIAN: frozenset(
        {"read", "open_case", "add_evidence", "withdraw_own", "fuel_state", "close_case", "hand_over"}
    ),
    Role.LEAD: frozenset(
        {
            "read",
            "open_case",
            "add_evidence",
            "withdraw_own",
            "withdraw_any",
            "fuel_state",
            "close_case",
            "manage_people",
            "see_record",
            "set_prices",
            "hand_over",
            "set_workshop",
            "set_record",
        }
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


class RoleAllows(BasePermission):
    """Asked before anything of a request is read: a view says in ``needs`` what each method takes.

    Reading is what a method takes that nothing is said of, if it changes nothing; any other one is refused.
    """

    def has_permission(self, request: Request, view: APIView) -> bool:
        """Whether somebody is known; raises where the role does not allow it.

        Raises
        ------
        PermissionDenied
        """
        if not isinstance(request.user, User):
            return False
        needs: Mapping[str, str] = getattr(view, "needs", {})
        require(request.user, needs.get(request.method or "", "read" if request.method in SAFE_METHODS else UNNAMED))
        return True


def require_password_session(request: Request) -> None:
    """Refuse what a short code is too short for.

    Raises
    ------
    PermissionDenied
    """
    if opened_by_code(request._request):
        raise PermissionDenied("You came in by the short code. Log in with your password for this.")


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

"""Log in, log out, who am I."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import authenticate, logout
from django.middleware.csrf import get_token
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.messages.rendering import QUANTITIES
from fairwitness.server.accounts.demo import DEMO_ACCOUNTS
from fairwitness.server.accounts.display import set_units
from fairwitness.server.accounts.links import nobody_leads
from fairwitness.server.accounts.models import User, Workshop
from fairwitness.server.accounts.permissions import person
from fairwitness.server.accounts.schemas import LoginSerializer, SessionSerializer, UnitsSerializer
from fairwitness.server.accounts.sessions import open_session, opened_by_code
from fairwitness.server.accounts.throttling import ATTEMPTS, count_wrong
from fairwitness.server.parsing import validated


class UnitsView(APIView):
    """The units a person reads in."""

    needs = {"POST": "read"}

    @extend_schema(request=UnitsSerializer, responses=SessionSerializer, operation_id="units_set")
    def post(self, request: Request) -> Response:
        """Choose units; what is left out stays."""
        given = validated(UnitsSerializer, request.data)
        set_units(person(request), given)
        return Response(session_answer(request))


class SessionView(APIView):
    """The session of this browser."""

    permission_classes = [AllowAny]
    throttle_classes = ATTEMPTS

    @extend_schema(responses=SessionSerializer, operation_id="session_read")
    def get(self, request: Request) -> Response:
        """Who is logged in, and the demo accounts in demo mode."""
        get_token(request)
        return Response(session_answer(request))

    @extend_schema(request=LoginSerializer, responses=SessionSerializer, operation_id="session_open")
    def post(self, request: Request) -> Response:
        """Log in."""
        given = validated(LoginSerializer, request.data)
        user = authenticate(request, **given)
        if user is None:
            count_wrong(request, self)
            raise ValidationError({"password": "Name and password do not match."})
        open_session(request._request, user)
        return Response(session_answer(request))

    @extend_schema(responses={200: SessionSerializer}, operation_id="session_close")
    def delete(self, request: Request) -> Response:
        """Log out."""
        logout(request)
        return Response(session_answer(request))


def session_answer(request: Request) -> dict[str, object]:
    """What a browser is told about who is logged in."""
    user = request._request.user
    known = user if isinstance(user, User) else None
    shop = Workshop.objects.only("name", "currency").first()
    return {
        "logged_in": known is not None,
        "username": known.username if known else "",
        "name": known.shown_name if known else "",
        "role": known.role if known else "",
        "units": _units(known),
        "demo_accounts": list(DEMO_ACCOUNTS) if settings.DEMO else [],
        "workshop": shop.name if shop else "",
        "currency": shop.currency if shop else "",
        "by_code": known is not None and opened_by_code(request._request),
        "has_code": bool(known and known.bay_code),
        "needs_first_lead": known is None and nobody_leads(),
    }


def _units(user: User | None) -> dict[str, str]:
    """Chosen unit of every quantity, the usual one where none was chosen."""
    chosen = user.units if user else {}
    return {quantity: chosen.get(quantity, next(iter(units))) for quantity, units in QUANTITIES.items()}

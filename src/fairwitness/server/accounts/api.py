"""Log in, log out, who am I."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.middleware.csrf import get_token
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.exceptions import ValidationError
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.messages.rendering import QUANTITIES
from fairwitness.server.accounts.demo import DEMO_ACCOUNTS
from fairwitness.server.accounts.display import set_units
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import person
from fairwitness.server.accounts.throttling import ATTEMPTS


class DemoAccountSerializer(serializers.Serializer):
    username = serializers.CharField()
    password = serializers.CharField()
    name = serializers.CharField()
    role = serializers.CharField()


class SessionSerializer(serializers.Serializer):
    logged_in = serializers.BooleanField()
    username = serializers.CharField(allow_blank=True)
    name = serializers.CharField(allow_blank=True)
    role = serializers.CharField(allow_blank=True)
    units = serializers.DictField(child=serializers.CharField())
    demo_accounts = DemoAccountSerializer(many=True)


class LoginSerializer(serializers.Serializer):
    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=256, trim_whitespace=False)


class UnitsSerializer(serializers.Serializer):
    """Unit by quantity."""

    pressure = serializers.ChoiceField(choices=list(QUANTITIES["pressure"]), required=False)
    vacuum = serializers.ChoiceField(choices=list(QUANTITIES["vacuum"]), required=False)
    temperature = serializers.ChoiceField(choices=list(QUANTITIES["temperature"]), required=False)


class UnitsView(APIView):
    """The units a person reads in."""

    @extend_schema(request=UnitsSerializer, responses=SessionSerializer, operation_id="units_set")
    def post(self, request: Request) -> Response:
        """Choose units; what is left out stays."""
        given = UnitsSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        set_units(person(request), given.validated_data)
        return Response(_session(request))


class SessionView(APIView):
    """The session of this browser."""

    permission_classes = [AllowAny]
    throttle_classes = ATTEMPTS

    @extend_schema(responses=SessionSerializer, operation_id="session_read")
    def get(self, request: Request) -> Response:
        """Who is logged in, and the demo accounts in demo mode."""
        get_token(request)
        return Response(_session(request))

    @extend_schema(request=LoginSerializer, responses=SessionSerializer, operation_id="session_open")
    def post(self, request: Request) -> Response:
        """Log in."""
        given = LoginSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        user = authenticate(request, **given.validated_data)
        if user is None:
            for throttle in ATTEMPTS:
                throttle().failed(request, self)
            raise ValidationError({"password": "Name and password do not match."})
        login(request, user)
        return Response(_session(request))

    @extend_schema(responses=SessionSerializer, operation_id="session_close")
    def delete(self, request: Request) -> Response:
        """Log out."""
        logout(request)
        return Response(_session(request))


def _session(request: Request) -> dict[str, object]:
    user = request._request.user
    known = user if isinstance(user, User) else None
    return {
        "logged_in": known is not None,
        "username": known.username if known else "",
        "name": known.shown_name if known else "",
        "role": known.role if known else "",
        "units": _units(known),
        "demo_accounts": list(DEMO_ACCOUNTS) if settings.DEMO else [],
    }


def _units(user: User | None) -> dict[str, str]:
    """Chosen unit of every quantity, the usual one where none was chosen."""
    chosen = user.units if user else {}
    return {quantity: chosen.get(quantity, next(iter(units))) for quantity, units in QUANTITIES.items()}

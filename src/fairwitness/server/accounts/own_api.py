"""What a person does about the own way in: password, short code, sessions; links; the first lead."""

from __future__ import annotations

from django.contrib.auth import authenticate
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.server.accounts import bay_codes, links, people
from fairwitness.server.accounts.api import session_answer
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import person, require_password_session
from fairwitness.server.accounts.schemas import (
    ByCodeSerializer,
    FirstLeadSerializer,
    LinkSerializer,
    NamedSerializer,
    OpenSessionSerializer,
    OwnCodeSerializer,
    OwnPasswordSerializer,
    SessionSerializer,
    SpendLinkSerializer,
)
from fairwitness.server.accounts.sessions import end_session, open_session, refuse_too_old_a_day, sessions_of
from fairwitness.server.accounts.throttling import ATTEMPTS, count_wrong, counted
from fairwitness.server.parsing import validated


class OwnPasswordView(APIView):
    """The password of whoever asks."""

    needs = {"POST": "read"}

    throttle_classes = ATTEMPTS

    @extend_schema(request=OwnPasswordSerializer, responses=SessionSerializer, operation_id="password_change")
    def post(self, request: Request) -> Response:
        """Change it; every other session of the person ends."""
        given = validated(OwnPasswordSerializer, request.data)
        one = self_with(request, self, given["old"], field="old")
        people.set_password(one.username, given["new"])
        open_session(request._request, people.known(one.username))
        return Response(session_answer(request))


class OwnCodeView(APIView):
    """The short code of whoever asks."""

    needs = {"POST": "read"}

    throttle_classes = ATTEMPTS

    @extend_schema(request=OwnCodeSerializer, responses=SessionSerializer, operation_id="code_set")
    def post(self, request: Request) -> Response:
        """Set it, or take it away by an empty one."""
        given = validated(OwnCodeSerializer, request.data)
        one = self_with(request, self, given["password"], field="password")
        bay_codes.set_code(one, given["code"])
        request._request.user = one
        return Response(session_answer(request))


class OwnSessionsView(APIView):
    """Where whoever asks is logged in."""

    @extend_schema(responses=OpenSessionSerializer(many=True), operation_id="sessions_list")
    def get(self, request: Request) -> Response:
        """Every place, the newest first."""
        return _places(request)


class OwnSessionView(APIView):
    """One place whoever asks is logged in at."""

    needs = {"DELETE": "read"}

    @extend_schema(responses={200: OpenSessionSerializer(many=True)}, operation_id="sessions_end")
    def delete(self, request: Request, session_id: str) -> Response:
        """Log out there."""
        end_session(person(request), session_id)
        return _places(request)


class SwitchView(APIView):
    """A shared tablet changes hands."""

    needs = {"POST": "read"}

    throttle_classes = ATTEMPTS

    @extend_schema(responses=NamedSerializer(many=True), operation_id="switch_people")
    def get(self, request: Request) -> Response:
        """Who has a short code."""
        able = User.objects.filter(is_active=True).exclude(bay_code="").order_by("first_name", "username")
        return Response([{"username": one.username, "name": one.shown_name} for one in able])

    @extend_schema(request=ByCodeSerializer, responses=SessionSerializer, operation_id="switch")
    def post(self, request: Request) -> Response:
        """Go on as somebody else, by name and short code."""
        given = validated(ByCodeSerializer, request.data)
        refuse_too_old_a_day(request._request)
        with counted(request, self):
            one = bay_codes.person_with(**given)
        open_session(request._request, one, by_code=True)
        return Response(session_answer(request))


class LinkView(APIView):
    """A one-time link to choose a password."""

    permission_classes = [AllowAny]
    throttle_classes = ATTEMPTS

    @extend_schema(request=LinkSerializer, responses=NamedSerializer, operation_id="link_look")
    def post(self, request: Request) -> Response:
        """Whom a link is for. Sent as a body: an address would stay in logs."""
        given = validated(LinkSerializer, request.data)
        with counted(request, self):
            one = links.person_behind(given["secret"])
        return Response({"username": one.username, "name": one.shown_name})


class SpendLinkView(APIView):
    """The password chosen at a one-time link."""

    permission_classes = [AllowAny]
    throttle_classes = ATTEMPTS

    @extend_schema(request=SpendLinkSerializer, responses=SessionSerializer, operation_id="link_spend")
    def post(self, request: Request) -> Response:
        """Choose the password, and be logged in with it."""
        given = validated(SpendLinkSerializer, request.data)
        with counted(request, self):
            one = links.spend_link(**given)
        open_session(request._request, one)
        return Response(session_answer(request))


class FirstLeadView(APIView):
    """The first start of a workshop."""

    permission_classes = [AllowAny]
    throttle_classes = ATTEMPTS

    @extend_schema(request=FirstLeadSerializer, responses=SessionSerializer, operation_id="first_lead")
    def post(self, request: Request) -> Response:
        """Make the first lead, by the code printed where the program was started."""
        given = validated(FirstLeadSerializer, request.data)
        with counted(request, self):
            made = links.spend_first_code(**given)
        open_session(request._request, made)
        return Response(session_answer(request))


def _places(request: Request) -> Response:
    asking = request._request.session.session_key
    return Response(OpenSessionSerializer(sessions_of(person(request), asking=asking), many=True).data)


def self_with(request: Request, view: APIView, password: str, *, field: str) -> User:
    """Whoever asks, having given the own password again.

    Raises
    ------
    ValidationError
        It is wrong, which is counted.
    PermissionDenied
        Only a short code stands behind the session.
    """
    require_password_session(request)
    one = authenticate(request, username=person(request).username, password=password)
    if not isinstance(one, User):
        count_wrong(request, view)
        raise ValidationError({field: "This is not your password."})
    return one

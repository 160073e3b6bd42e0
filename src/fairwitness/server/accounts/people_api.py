"""Who works here, as a lead manages it: people added, given roles, blocked, sent a link, logged out."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.server.accounts import people
from fairwitness.server.accounts.links import make_link
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import person, require_password_session
from fairwitness.server.accounts.schemas import (
    NewPersonSerializer,
    OpenSessionSerializer,
    PersonChangeSerializer,
    PersonSerializer,
    PersonWithLinkSerializer,
)
from fairwitness.server.accounts.sessions import end_sessions, sessions_of
from fairwitness.server.parsing import validated


class PeopleView(APIView):
    """Everybody who works here."""

    needs = {"GET": "manage_people", "POST": "manage_people"}

    @extend_schema(responses=PersonSerializer(many=True), operation_id="people_list")
    def get(self, request: Request) -> Response:
        """Everybody, with the places they are logged in at."""
        require_password_session(request)
        return Response([_shown(one) for one in User.objects.order_by("-is_active", "username")])

    @extend_schema(request=NewPersonSerializer, responses={201: PersonWithLinkSerializer}, operation_id="people_add")
    def post(self, request: Request) -> Response:
        """Add a person; the answer holds the link at which the person chooses a password, once."""
        require_password_session(request)
        given = validated(NewPersonSerializer, request.data)
        made = people.invite(**given)
        return Response(_with_link(made, by=person(request)), status=status.HTTP_201_CREATED)


class PersonView(APIView):
    """One person."""

    needs = {"POST": "manage_people"}

    @extend_schema(request=PersonChangeSerializer, responses=PersonSerializer, operation_id="people_change")
    def post(self, request: Request, person_id: int) -> Response:
        """Give another role, block or let in again."""
        require_password_session(request)
        given = validated(PersonChangeSerializer, request.data)
        one = get_object_or_404(User, pk=person_id)
        people.change(one.username, **given)
        one.refresh_from_db()
        return Response(_shown(one))


class PersonLinkView(APIView):
    """A link at which a person chooses a password."""

    needs = {"POST": "manage_people"}

    @extend_schema(request=None, responses=PersonWithLinkSerializer, operation_id="people_link")
    def post(self, request: Request, person_id: int) -> Response:
        """Make a new link; it works once, for 48 hours, and voids those before."""
        require_password_session(request)
        return Response(_with_link(get_object_or_404(User, pk=person_id, is_active=True), by=person(request)))


class PersonSessionsView(APIView):
    """Where a person is logged in."""

    needs = {"DELETE": "manage_people"}

    @extend_schema(responses={200: PersonSerializer}, operation_id="people_log_out")
    def delete(self, request: Request, person_id: int) -> Response:
        """Log a person out everywhere."""
        require_password_session(request)
        one = get_object_or_404(User, pk=person_id)
        end_sessions(one)
        return Response(_shown(one))


def _shown(one: User) -> dict[str, Any]:
    return {
        "id": one.pk,
        "username": one.username,
        "name": one.shown_name,
        "role": one.role,
        "blocked": not one.is_active,
        "last_login": one.last_login,
        "sessions": OpenSessionSerializer(sessions_of(one), many=True).data,
    }


def _with_link(one: User, *, by: User) -> dict[str, Any]:
    return {"person": _shown(one), "link": f"/link/{make_link(one, by=by)}"}

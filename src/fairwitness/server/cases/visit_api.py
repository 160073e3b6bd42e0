"""A visit over HTTP: intake mended, complaint tried, codes, clock, parts, vehicles. Parse, one service call, answer."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.model.case import CodeOrigin
from fairwitness.core.model.phase import PartState
from fairwitness.server.accounts.permissions import person
from fairwitness.server.cases import intake, labour, parts, vehicles, visit_schemas
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.models import StoredCase, Vehicle
from fairwitness.server.cases.schemas import BoardSerializer
from fairwitness.server.cases.visit_answers import vehicle_told
from fairwitness.server.parsing import validated


class VehiclesView(APIView):
    """Vehicles a few letters bring up."""

    @extend_schema(
        operation_id="vehicle_suggest",
        parameters=[OpenApiParameter("letters", OpenApiTypes.STR)],
        responses=visit_schemas.VehicleSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """Known vehicles whose name holds the letters."""
        letters = request.query_params.get("letters", "")[:60]
        return Response([vehicle_told(v) for v in vehicles.suggest_vehicles(letters)])


class VehicleView(APIView):
    """One vehicle."""

    needs = {"POST": "add_evidence"}

    @extend_schema(
        operation_id="vehicle_notes",
        request=visit_schemas.VehicleNotesSerializer,
        responses=visit_schemas.VehicleSerializer,
    )
    def post(self, request: Request, vehicle_id: int) -> Response:
        """Keep notes on it."""
        given = validated(visit_schemas.VehicleNotesSerializer, request.data)
        vehicle = get_object_or_404(Vehicle, pk=vehicle_id)
        intake.note_on(vehicle, given["notes"], by=person(request), at=timezone.now())
        return Response(vehicle_told(vehicle))


class SaidView(APIView):
    """What was said at intake."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="intake_amend", request=visit_schemas.SaidSerializer, responses=BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Mend some of it; what is left out stays."""
        given = validated(visit_schemas.SaidSerializer, request.data)
        case = _case(case_id)
        intake.amend(case, given, by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)))


class TriedView(APIView):
    """The complaint tried by the shop."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="complaint_tried", request=visit_schemas.TriedSerializer, responses=BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Record that it was seen, or could not be provoked."""
        given = validated(visit_schemas.TriedSerializer, request.data)
        case = _case(case_id)
        intake.verify_complaint(
            case, provoked=given["provoked"], under=given["under"], by=person(request), at=timezone.now()
        )
        return Response(whole_board(case, person(request)))


class CodesReadView(APIView):
    """Codes read from the vehicle."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="codes_read", request=visit_schemas.CodesReadSerializer, responses=BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Keep what a scan showed, also that it showed none."""
        given = validated(visit_schemas.CodesReadSerializer, request.data)
        case = _case(case_id)
        origin = CodeOrigin(given["origin"]) if given["origin"] else intake.next_origin(case)
        codes = [(c["code"], c["status"]) for c in given["codes"]]
        intake.record_codes(case, codes, origin, by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)))


class CodesClearedView(APIView):
    """Codes cleared."""

    needs = {"POST": "add_evidence"}

    @extend_schema(
        operation_id="codes_cleared", request=visit_schemas.CodesClearedSerializer, responses=BoardSerializer
    )
    def post(self, request: Request, case_id: int) -> Response:
        """Record that they were cleared."""
        given = validated(visit_schemas.CodesClearedSerializer, request.data)
        case = _case(case_id)
        intake.record_clearing(case, words=given["words"], by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)))


class ClockView(APIView):
    """The own clock of a case."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="clock_set", request=visit_schemas.ClockSerializer, responses=BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Start or stop it."""
        given = validated(visit_schemas.ClockSerializer, request.data)
        case = _case(case_id)
        turn = labour.start_clock if given["running"] else labour.stop_clock
        turn(case, by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)))


class PartsView(APIView):
    """Parts that were to be fitted."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="part_add", request=visit_schemas.PartGivenSerializer, responses={201: BoardSerializer})
    def post(self, request: Request, case_id: int) -> Response:
        """Keep a part with its reading beside its peers."""
        given = validated(visit_schemas.PartGivenSerializer, request.data)
        case = _case(case_id)
        part = parts.PartGiven(**{**given, "fitted": PartState(given["fitted"])})
        parts.record_part(case, part, by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)), status=201)


def _case(case_id: int) -> StoredCase:
    return get_object_or_404(StoredCase.objects.select_related("opened_by", "visit_of", "verified_by"), pk=case_id)

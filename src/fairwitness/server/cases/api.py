"""Cases over HTTP: parse, one service call, answer."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.errors import EngineError, ObservationError
from fairwitness.core.model.case import TroubleCode
from fairwitness.core.model.circumstances import read_circumstances
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.model.work import read_work
from fairwitness.formats.engine_block import read_engine
from fairwitness.server.accounts.permissions import person
from fairwitness.server.cases import form_schemas, schemas, services
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.circumstance_schemas import HappeningSerializer
from fairwitness.server.cases.crank_circle import check_engine
from fairwitness.server.cases.forms import filled_of, forms_of
from fairwitness.server.cases.kept_once import kept_once
from fairwitness.server.cases.models import FuelState, StoredCase, StoredObservation
from fairwitness.server.cases.visit_schemas import IntakeSerializer
from fairwitness.server.cases.yard import STANDINGS, cases_in_yard
from fairwitness.server.engines.records import engine_of
from fairwitness.server.parsing import validated


class CasesView(APIView):
    """The yard."""

    needs = {"POST": "open_case"}

    @extend_schema(
        operation_id="cases_list",
        parameters=[
            OpenApiParameter("search", OpenApiTypes.STR),
            OpenApiParameter("status", OpenApiTypes.STR, enum=STANDINGS),
            OpenApiParameter("verdict", OpenApiTypes.STR),
            OpenApiParameter("cause", OpenApiTypes.STR),
            OpenApiParameter("waits", OpenApiTypes.STR, description="Id of the test that is on offer."),
            OpenApiParameter("page", OpenApiTypes.INT),
        ],
        responses=schemas.CaseListSerializer,
    )
    def get(self, request: Request) -> Response:
        """Cases, latest touched first."""
        return Response(cases_in_yard(request.query_params))

    @extend_schema(operation_id="cases_open", request=IntakeSerializer, responses={201: schemas.KeptSerializer})
    def post(self, request: Request) -> Response:
        """Start a case."""
        given = validated(IntakeSerializer, request.data)
        data = given
        checked = check_engine(data["engine"] if isinstance(data["engine"], dict) else {})
        if not checked["valid"]:
            raise EngineError(checked["problem"])
        intake = services.Intake(
            title=data["title"],
            vehicle=data["vehicle"],
            engine=read_engine(checked["engine"]),
            complaint=data["complaint"],
            complaint_verified=data["complaint_verified"],
            symptom=Symptom(data["symptom"]),
            complaint_when=read_circumstances(data["complaint_when"]),
            signs=data["signs"],
            work_done=read_work(data["work_done"]),
            codes=[TroubleCode(c["code"], c["status"]) for c in data["codes"]],
            **{key: data[key] for key in ("believed", "asked_for", "odometer_km", "ceiling_minutes", "visit_of")},
        )
        case = services.open_case(intake, by=person(request), at=timezone.now())
        return Response({"id": case.pk}, status=201)


class BoardView(APIView):
    """One case, whole."""

    @extend_schema(operation_id="board_read", responses=schemas.BoardSerializer)
    def get(self, request: Request, case_id: int) -> Response:
        """The board of a case with its statement."""
        return Response(whole_board(_case(case_id), person(request)))


class FuelView(APIView):
    """The fuel state of a case."""

    needs = {"POST": "fuel_state"}

    @extend_schema(operation_id="fuel_set", request=schemas.FuelSerializer, responses=schemas.BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Record that fuel was disabled or enabled again."""
        given = validated(schemas.FuelSerializer, request.data)
        case = _case(case_id)
        services.set_fuel_state(
            case,
            state=FuelState(given["state"]),
            how=given["how"],
            by=person(request),
            at=timezone.now(),
        )
        return Response(whole_board(case, person(request)))


class HappeningView(APIView):
    """Whether the complaint is there now."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="happening_set", request=HappeningSerializer, responses=schemas.BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Record that it does it now, or no more."""
        given = validated(HappeningSerializer, request.data)
        case, happening = _case(case_id), given["happening"]
        services.set_happening(case, happening=happening, by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)))


class ApproachView(APIView):
    """Where people of the trade differ, and what the bay owns."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="approach_set", request=schemas.ApproachSerializer, responses=schemas.BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Change some settings of a case; what is left out stays."""
        given = validated(schemas.ApproachSerializer, request.data)
        case = _case(case_id)
        services.set_approach(case, changes=given, by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)))


class AccessView(APIView):
    """How long a test takes on this kind of engine."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="access_set", request=schemas.AccessSerializer, responses=schemas.BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Keep own minutes of a test for the engine of this case."""
        given = validated(schemas.AccessSerializer, request.data)
        case = _case(case_id)
        services.set_access(
            case,
            test=given["test"],
            minutes=given["minutes"],
            by=person(request),
            at=timezone.now(),
        )
        return Response(whole_board(case, person(request)))


class ImagineView(APIView):
    """What if."""

    needs = {"POST": "read"}

    @extend_schema(operation_id="imagine", request=schemas.ImagineSerializer, responses=schemas.ImaginedSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """The statement as it would be; nothing is kept."""
        given = validated(schemas.ImagineSerializer, request.data)
        case = _case(case_id)
        outcomes = [services.Imagined(**{**o, "cylinders": tuple(o["cylinders"])})
                    for o in given["outcomes"]]  # fmt: skip
        document = services.imagine(case, outcomes=outcomes, by=person(request))
        return Response({"verdict": document["verdict"], "causes": document["causes"],
                         "next_title": document["next_tests"][0]["title"] if document["next_tests"] else "",
                         "plan": document["plan"]})  # fmt: skip


class ObservationsView(APIView):
    """Hand-entered evidence."""

    needs = {"POST": "add_evidence"}

    @extend_schema(
        operation_id="observation_add", request=schemas.ObservationSerializer, responses={201: schemas.BoardSerializer}
    )
    def post(self, request: Request, case_id: int) -> Response:
        """Keep an observation."""
        given = validated(schemas.ObservationSerializer, request.data)
        data = given["data"]
        readings = data if isinstance(data, list) else [data]
        if not readings or len(readings) > READINGS_MAX or not all(isinstance(r, dict) for r in readings):
            raise ObservationError(
                "An observation holds named fields.",
                where="data",
                remedy=f"Send one, or up to {READINGS_MAX} of a row.",
            )
        case = _case(case_id)
        services.add_observations(
            case,
            test=given["test"],
            readings=readings,
            by=person(request),
            at=timezone.now(),
        )
        return Response(whole_board(case, person(request)), status=201)


class FormsView(APIView):
    """What can be written down by hand."""

    @extend_schema(operation_id="forms_list", responses=form_schemas.FormSerializer(many=True))
    def get(self, request: Request, case_id: int) -> Response:
        """Forms for the engine of a case, in the order of the board."""
        return Response(forms_of(engine_of(_case(case_id))))


class FormView(APIView):
    """One form, filled in."""

    needs = {"POST": "add_evidence"}

    @extend_schema(
        operation_id="form_fill", request=form_schemas.FilledSerializer, responses={201: schemas.BoardSerializer}
    )
    def post(self, request: Request, case_id: int, test: str) -> Response:
        """Keep the observations that a filled form makes."""
        given = validated(form_schemas.FilledSerializer, request.data)
        case = _case(case_id)
        filled, under = filled_of(given), given["circumstances"]
        with kept_once(request, case) as wanted:
            if wanted:
                services.fill_form(case, test=test, filled=filled, under=under, by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)), status=201)


class ObservationWithdrawView(APIView):
    """A wrong entry."""

    needs = {"POST": "withdraw_own"}

    @extend_schema(
        operation_id="observation_withdraw", request=schemas.WithdrawSerializer, responses=schemas.BoardSerializer
    )
    def post(self, request: Request, observation_id: int) -> Response:
        """Withdraw an observation with a reason."""
        given = validated(schemas.WithdrawSerializer, request.data)
        kept = get_object_or_404(StoredObservation.objects.select_related("case"), pk=observation_id)
        services.withdraw_observation(
            kept,
            reason=given["reason"],
            by=person(request),
            at=timezone.now(),
        )
        return Response(whole_board(kept.case, person(request)))


def _case(case_id: int) -> StoredCase:
    return get_object_or_404(StoredCase.objects.select_related("opened_by", "visit_of", "verified_by"), pk=case_id)


READINGS_MAX = 64
"""More than any row of one test has."""

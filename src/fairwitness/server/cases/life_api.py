"""The life of a case over HTTP: parse, one service call, answer."""

from __future__ import annotations

from datetime import date

from django.http import Http404
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.model.phase import PartState, PhaseKind
from fairwitness.server.accounts.permissions import person
from fairwitness.server.cases import life, life_schemas, replay
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.models import FollowUp, StoredCase, StoredOutcome
from fairwitness.server.cases.schemas import BoardSerializer
from fairwitness.server.parsing import validated

DUE_MOST = 50
WRONG_MOST = 50


class WorkView(APIView):
    """What was done to the vehicle."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="work_add", request=life_schemas.WorkSerializer, responses={201: BoardSerializer})
    def post(self, request: Request, case_id: int) -> Response:
        """Record a change-over, putting back, or a repair."""
        given = validated(life_schemas.WorkSerializer, request.data)
        work = life.Work(
            kind=PhaseKind(given["kind"]),
            part=given["part"],
            cylinders=given["cylinders"],
            fitted=PartState(given["fitted"]) if given["fitted"] else None,
            words=given["words"],
        )
        case = _case(case_id)
        life.begin_phase(case, work, by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)), status=201)


class OutcomeView(APIView):
    """What was really found."""

    needs = {"POST": "close_case"}

    @extend_schema(operation_id="outcome_add", request=life_schemas.FoundSerializer, responses={201: BoardSerializer})
    def post(self, request: Request, case_id: int) -> Response:
        """Keep what was found beside what is said now."""
        given = validated(life_schemas.FoundSerializer, request.data)
        case = _case(case_id)
        life.record_outcome(case, life.Found(**given), by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)), status=201)


class CloseView(APIView):
    """The end of a case."""

    needs = {"POST": "close_case"}

    @extend_schema(operation_id="case_close", request=life_schemas.ClosingSerializer, responses=BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Close a case."""
        given = validated(life_schemas.ClosingSerializer, request.data)
        case = _case(case_id)
        life.close_case(case, codes_cleared=given["codes_cleared"], by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)))


class ReopenView(APIView):
    """A closed case taken up again."""

    needs = {"POST": "close_case"}

    @extend_schema(operation_id="case_reopen", request=life_schemas.ReopenSerializer, responses=BoardSerializer)
    def post(self, request: Request, case_id: int) -> Response:
        """Open it again, with the reason."""
        given = validated(life_schemas.ReopenSerializer, request.data)
        case = _case(case_id)
        life.reopen_case(case, reason=given["reason"], by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)))


class FollowUpsView(APIView):
    """What is to be done later on one vehicle."""

    needs = {"POST": "add_evidence"}

    @extend_schema(
        operation_id="follow_up_add", request=life_schemas.FollowUpSerializer, responses={201: BoardSerializer}
    )
    def post(self, request: Request, case_id: int) -> Response:
        """Set something to be done, with a date."""
        given = validated(life_schemas.FollowUpSerializer, request.data)
        case = _case(case_id)
        life.add_follow_up(case, given["words"], given["due"], by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)), status=201)


class FollowUpView(APIView):
    """One of them."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="follow_up_done", request=None, responses=BoardSerializer)
    def post(self, request: Request, follow_up_id: int) -> Response:
        """Say that it is done."""
        follow_up = get_object_or_404(FollowUp.objects.select_related("case"), pk=follow_up_id)
        life.finish_follow_up(follow_up, by=person(request), at=timezone.now())
        return Response(whole_board(follow_up.case, person(request)))


class DueView(APIView):
    """What is due in the whole shop."""

    @extend_schema(operation_id="due_list", responses=life_schemas.DueSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Follow-ups whose day has come, the oldest first."""
        due = FollowUp.objects.filter(done_at=None, due__lte=date.today()).select_related("case")
        return Response(
            [
                {"id": f.pk, "case": f.case_id, "title": f.case.title or f.case.name, "words": f.words, "due": f.due}
                for f in due[:DUE_MOST]
            ]
        )


class OutcomesView(APIView):
    """What was really found in this shop, beside what was said."""

    needs = {"GET": "see_record"}

    @extend_schema(operation_id="outcomes_read", responses=life_schemas.OwnRecordSerializer)
    def get(self, request: Request) -> Response:
        """How many were as stated, and each that was not, the latest first, with what misled."""
        every = StoredOutcome.objects.all()
        wrong = every.filter(agreed=False).select_related("case", "by").order_by("-at")
        return Response(
            {
                "count": every.count(),
                "agreed": every.filter(agreed=True).count(),
                "wrong": [
                    {
                        "case": o.case_id,
                        "title": o.case.title or o.case.name,
                        "said": o.said.get("headline", ""),
                        "probability": o.said.get("probability", 0.0),
                        "found": o.found,
                        "seen_by": o.seen_by,
                        "lesson": o.lesson,
                        "at": o.at,
                    }
                    for o in wrong[:WRONG_MOST]
                ],
            }
        )


class ReplayView(APIView):
    """A case as a film."""

    @extend_schema(operation_id="replay_read", responses=life_schemas.ReplaySerializer)
    def get(self, request: Request, case_id: int) -> Response:
        """What happened to its evidence, step by step."""
        case = _case(case_id)
        steps = replay.steps_of(case)
        return Response(
            {
                "title": case.title,
                "steps": [{"at": s.at, "by": s.by, "kind": s.kind, "words": s.said} for s in steps],
            }
        )


class ReplayStepView(APIView):
    """One picture of it."""

    @extend_schema(operation_id="replay_step", responses=life_schemas.ReplayedSerializer)
    def get(self, request: Request, case_id: int, step: int) -> Response:
        """What this version says of all that was there by a step."""
        case = _case(case_id)
        steps = replay.steps_of(case)
        if step >= len(steps):
            raise Http404
        return Response(replay.said_at(case, steps[step].at))


def _case(case_id: int) -> StoredCase:
    return get_object_or_404(StoredCase.objects.select_related("opened_by"), pk=case_id)

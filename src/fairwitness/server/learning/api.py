"""What was learned, over HTTP: lines to read, export and switch; own figures; codes."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.messages.rendering import render
from fairwitness.core.reason.knowledge.codes import CodeMeaning, meaning_of
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.learned import MOST_FACTOR, SHIPPED_COUNTS_AS
from fairwitness.server.accounts.permissions import may, person
from fairwitness.server.learning import schemas, services
from fairwitness.server.learning.instruments import leads_read
from fairwitness.server.learning.models import ShopCode
from fairwitness.server.learning.record import Tally, own_figures
from fairwitness.server.parsing import validated

EXPORTED = ("kind", "of", "shipped", "here", "from", "used")


class LearnedView(APIView):
    """Everything that was learned."""

    @extend_schema(operation_id="learned_read", responses=schemas.LearnedSerializer)
    def get(self, request: Request) -> Response:
        """Line by line, with from how much."""
        return Response(_told(request))


class LearnedSwitchView(APIView):
    """Whether a line is used."""

    needs = {"POST": "set_record"}

    @extend_schema(
        operation_id="learned_switch", request=schemas.LearnedSwitchSerializer, responses=schemas.LearnedSerializer
    )
    def post(self, request: Request) -> Response:
        """Switch one line on or off."""
        given = validated(schemas.LearnedSwitchSerializer, request.data)
        services.switch(given["key"], on=given["on"], by=person(request), at=timezone.now())
        return Response(_told(request))


class FreshStartView(APIView):
    """From when on outcomes teach."""

    needs = {"POST": "set_record"}

    @extend_schema(
        operation_id="learned_reset", request=schemas.FreshStartSerializer, responses=schemas.LearnedSerializer
    )
    def post(self, request: Request) -> Response:
        """Go back to what ships, or count again what was before."""
        if validated(schemas.FreshStartSerializer, request.data)["again"]:
            services.count_again(by=person(request))
        else:
            services.start_afresh(by=person(request), at=timezone.now())
        return Response(_told(request))


class LearnedExportView(APIView):
    """Everything learned, as a table."""

    @extend_schema(operation_id="learned_export", responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request) -> HttpResponse:
        """Comma-separated, one line each."""
        text = io.StringIO()
        table = csv.writer(text)
        table.writerow(EXPORTED)
        for line in services.lines():
            table.writerow(
                (line.kind, render(line.words), f"{line.shipped:.4g}", f"{line.here:.4g}", render(line.source), line.on)
            )
        answer = HttpResponse(text.getvalue(), content_type="text/csv; charset=utf-8")
        answer["Content-Disposition"] = 'attachment; filename="learned.csv"'
        return answer


class OwnFiguresView(APIView):
    """How often the answers were right in this shop."""

    needs = {"GET": "see_record"}

    @extend_schema(operation_id="own_figures_read", responses=schemas.OwnFiguresSerializer)
    def get(self, request: Request) -> Response:
        """In all, by test, by engine; by person where the lead turned it on."""
        figures = own_figures()
        return Response(
            {
                "overall": _tally(figures.overall),
                "established": _tally(figures.established),
                "tests": [_tally(t) for t in figures.tests],
                "engines": [_tally(t) for t in figures.engines],
                "leads": [
                    {
                        "words": one.words,
                        "share": round(one.share, 4),
                        "low": round(one.low, 4),
                        "high": round(one.high, 4),
                        "captures": one.captures,
                        "is_off": one.is_off,
                    }
                    for one in leads_read()
                ],
                "people": None if figures.people is None else [_tally(t) for t in figures.people],
            }
        )


class CodesView(APIView):
    """What codes mean."""

    needs = {"POST": "add_evidence"}

    @extend_schema(
        operation_id="code_book_read",
        parameters=[OpenApiParameter("code", OpenApiTypes.STR, description="To look up.")],
        responses=schemas.CodeBookSerializer,
    )
    def get(self, request: Request) -> Response:
        """The shop's own codes, and the meaning of one that is asked for."""
        return Response(_book(request, request.query_params.get("code", "")[:12]))

    @extend_schema(
        operation_id="code_book_add", request=schemas.NewCodeSerializer, responses=schemas.CodeBookSerializer
    )
    def post(self, request: Request) -> Response:
        """Write down what a code of the maker means here."""
        given = validated(schemas.NewCodeSerializer, request.data)
        services.add_code(**given, by=person(request), at=timezone.now())
        return Response(_book(request, given["code"]))


class CodeView(APIView):
    """One code of the shop."""

    needs = {"DELETE": "add_evidence"}

    @extend_schema(operation_id="code_book_drop", request=None, responses={200: schemas.CodeBookSerializer})
    def delete(self, request: Request, code_id: int) -> Response:
        """Take it off the list."""
        services.drop_code(get_object_or_404(ShopCode, pk=code_id), by=person(request))
        return Response(_book(request, ""))


def _told(request: Request) -> dict[str, Any]:
    every = services.lines()
    return {
        "outcomes": services.learned().knowledge.outcomes,
        "weight": SHIPPED_COUNTS_AS,
        "most": MOST_FACTOR,
        "since": services.fresh_from(),
        "may": may(person(request), "set_record"),
        "lines": [
            {
                "key": line.key,
                "kind": line.kind,
                "words": line.words,
                "shipped": round(line.shipped, 4),
                "here": round(line.here, 4),
                "from_what": line.source,
                "on": line.on,
            }
            for line in every
        ],
    }


def _tally(of: Tally) -> dict[str, Any]:
    low, high = of.interval
    return {"words": of.words, "hits": of.hits, "count": of.count, "low": round(low, 4), "high": round(high, 4)}


def _book(request: Request, asked: str) -> dict[str, Any]:
    meaning = meaning_of(asked)
    return {
        "asked": None if meaning is None else _meaning(meaning),
        "own": [
            {
                "id": row.pk,
                "code": row.code,
                "words": row.words,
                "fault": row.fault,
                "fault_words": FAULTS[row.fault].words if row.fault in FAULTS else "",
                "factor": row.factor,
                "by": row.by.shown_name,
                "at": row.at,
            }
            for row in ShopCode.objects.select_related("by")
        ],
        "faults": [{"fault": fault.id, "words": fault.words} for fault in FAULTS.values()],
        "may": may(person(request), "add_evidence"),
    }


def _meaning(meaning: CodeMeaning) -> Mapping[str, Any]:
    return {
        "code": meaning.code,
        "kind": meaning.kind.value,
        "words": meaning.words,
        "cylinder": meaning.cylinder,
        "beware": meaning.beware,
        "published": meaning.published,
        "likelier": [FAULTS[fault].words for fault in meaning.nudges if fault in FAULTS],
    }

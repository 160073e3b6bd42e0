"""Captures over HTTP. Samples travel as binary, everything else as JSON."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.model.lead import read_lead
from fairwitness.formats.case_package import read_package
from fairwitness.formats.package_pictures import read_pictures
from fairwitness.formats.recordings import SUFFIXES, WRITERS
from fairwitness.server.accounts.permissions import may, person
from fairwitness.server.captures import comparing, looking, schemas, services
from fairwitness.server.captures.custody import watched
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.captures.uploads import upload_of
from fairwitness.server.captures.views import moment
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.cases.schemas import KeptSerializer, WithdrawSerializer
from fairwitness.server.parsing import CarefulJSONParser, validated

BINARY = OpenApiResponse(OpenApiTypes.BINARY)


class PackageImportView(APIView):
    """A whole case from a file."""

    needs = {"POST": "open_case"}

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="package_import",
        request={"multipart/form-data": schemas.FileSerializer},
        responses={201: KeptSerializer},
    )
    def post(self, request: Request) -> Response:
        """Import a case package as a new case."""
        name, data = upload_of(request)
        case = read_package(name, keep_bytes=data)
        pictures = read_pictures(case.extra, name, data)
        stored = services.import_case(case, file_name=name, pictures=pictures, by=person(request), at=timezone.now())
        return Response({"id": stored.pk}, status=201)


class PackageExportView(APIView):
    """A whole case as a file."""

    @extend_schema(operation_id="package_export", responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request, case_id: int) -> HttpResponse:
        """Export a case as a package."""
        case = get_object_or_404(StoredCase, pk=case_id)
        answer = HttpResponse(services.export_case(case), content_type="application/zip")
        answer["Content-Disposition"] = f'attachment; filename="case-{case.pk}.zip"'
        return answer


class CaptureView(APIView):
    """One capture."""

    @extend_schema(operation_id="capture_read", responses=schemas.CaptureSerializer)
    def get(self, request: Request, capture_id: int) -> Response:
        """What a capture holds."""
        return Response(_about(_capture(capture_id), request))


class CaptureWithdrawView(APIView):
    """A wrong import."""

    needs = {"POST": "withdraw_own"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(operation_id="capture_withdraw", request=WithdrawSerializer, responses=schemas.CaptureSerializer)
    def post(self, request: Request, capture_id: int) -> Response:
        """Withdraw a capture with a reason."""
        given = validated(WithdrawSerializer, request.data)
        stored = _capture(capture_id)
        services.withdraw_capture(stored, reason=given["reason"], by=person(request), at=timezone.now())
        return Response(_about(stored, request))


class CaptureExportView(APIView):
    """A capture as a file."""

    @extend_schema(
        operation_id="capture_export",
        parameters=[
            OpenApiParameter("kind", OpenApiTypes.STR, enum=list(WRITERS)),
            OpenApiParameter("from_s", OpenApiTypes.FLOAT),
            OpenApiParameter("to_s", OpenApiTypes.FLOAT),
        ],
        responses={(200, "application/octet-stream"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, capture_id: int) -> HttpResponse:
        """The whole of it or a stretch, in an open format."""
        stored = _capture(capture_id)
        kind = request.query_params.get("kind", "csv")
        stretch = None
        if "from_s" in request.query_params or "to_s" in request.query_params:
            stretch = (moment(request, "from_s"), moment(request, "to_s"))
        with watched(stored):
            data = looking.export_capture(stored, kind, stretch)
        answer = HttpResponse(data, content_type="application/octet-stream")
        answer["Content-Disposition"] = f'attachment; filename="capture-{stored.pk}{SUFFIXES[kind]}"'
        return answer


class ComparableView(APIView):
    """What a capture can be laid beside."""

    @extend_schema(operation_id="comparable_list", responses=schemas.ComparableSerializer(many=True))
    def get(self, request: Request, capture_id: int) -> Response:
        """Other captures of the case, then what is known good for such an engine."""
        return Response([asdict(c) for c in comparing.comparable(_capture(capture_id))])


class KnownGoodView(APIView):
    """The mark that a capture shows how the engine ought to look."""

    needs = {"POST": "add_evidence", "DELETE": "add_evidence"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(
        operation_id="known_good_hold", request=schemas.KnownGoodSerializer, responses=schemas.CaptureSerializer
    )
    def post(self, request: Request, capture_id: int) -> Response:
        """Hold a capture as known good, with why."""
        given = validated(schemas.KnownGoodSerializer, request.data)
        stored = _capture(capture_id)
        why = given["why"]
        comparing.hold_as_known_good(stored, why=why, by=person(request), at=timezone.now())
        return Response(_about(_capture(capture_id), request))

    @extend_schema(operation_id="known_good_drop", request=None, responses={200: schemas.CaptureSerializer})
    def delete(self, request: Request, capture_id: int) -> Response:
        """Take the mark back."""
        comparing.no_longer_known_good(_capture(capture_id), by=person(request), at=timezone.now())
        return Response(_about(_capture(capture_id), request))


def _capture(capture_id: int) -> StoredCapture:
    rows = StoredCapture.objects.select_related("case", "kept_by", "known_good").prefetch_related(
        "channels", "measurements"
    )
    return get_object_or_404(rows, pk=capture_id)


def _about(stored: StoredCapture, request: Request) -> dict[str, Any]:
    documents = [m.document for m in stored.measurements.all()]
    own = stored.kept_by_id == person(request).pk and may(person(request), "withdraw_own")
    return {
        "id": stored.pk,
        "case": stored.case_id,
        "case_title": stored.case.title,
        "name": stored.name,
        "file_name": stored.file_name,
        "sha256": stored.sha256,
        "samples": stored.samples,
        "rate_hz": stored.rate_hz,
        "start_s": stored.start_s,
        "duration_s": (stored.samples - 1) / stored.rate_hz if stored.samples > 1 else 0.0,
        "set_up": stored.set_up,
        "kept_by": stored.kept_by.shown_name,
        "kept_at": stored.kept_at,
        "withdrawn": stored.withdrawn_at is not None,
        "withdrawn_reason": stored.withdrawn_reason,
        "channels": [
            {
                "position": c.position,
                "name": c.name,
                "role": c.role,
                "unit": c.unit,
                "cylinder": c.cylinder,
                "sync": c.sync,
                "lead": lead.said if (lead := read_lead(c.lead)) else "",
            }
            for c in stored.channels.all()
        ],
        "known_good": stored.known_good.why if hasattr(stored, "known_good") else "",
        "may_mark": stored.withdrawn_at is None and may(person(request), "add_evidence"),
        "cycle_starts_s": next((d["cycle_starts_s"] for d in documents if d["cycle_starts_s"]), []),
        "reasons": [r["statement"] for d in documents for r in d["reasons"]],
        "may_withdraw": stored.withdrawn_at is None and (own or may(person(request), "withdraw_any")),
    }

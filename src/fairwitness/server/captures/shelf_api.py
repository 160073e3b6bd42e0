"""Known good captures over HTTP: beside a capture, on the shelf, from a package, for practice."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.formats.case_package import read_package
from fairwitness.server.accounts.permissions import person
from fairwitness.server.captures import schemas
from fairwitness.server.captures.beside import Held, beside, held_line, told
from fairwitness.server.captures.models import CameFrom, KnownGood, StoredCapture
from fairwitness.server.captures.shelf import practise, shelve
from fairwitness.server.captures.uploads import upload_of
from fairwitness.server.parsing import CarefulJSONParser, validated

SHELF_MAX = 400


class BesideView(APIView):
    """A capture beside what is known good."""

    @extend_schema(operation_id="capture_beside", responses=schemas.BesideSerializer)
    def get(self, request: Request, capture_id: int) -> Response:
        """Which known good captures there are, and what lies outside their spread."""
        rows = StoredCapture.objects.select_related("case").prefetch_related("measurements", "channels")
        return Response(told(beside(get_object_or_404(rows, pk=capture_id))))


class ShelfView(APIView):
    """Everything that is held as known good."""

    @extend_schema(
        operation_id="known_goods_list",
        parameters=[OpenApiParameter("engine", OpenApiTypes.STR)],
        responses=schemas.HeldSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """Of one engine, or of all, the latest first."""
        return Response(_shelf(request.query_params.get("engine", "")[:200]))


class ShelfPackageView(APIView):
    """A colleague's package."""

    needs = {"POST": "add_evidence"}
    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="known_goods_import",
        request={"multipart/form-data": schemas.FileSerializer},
        responses={201: schemas.HeldSerializer(many=True)},
    )
    def post(self, request: Request) -> Response:
        """Hold its captures as known good, without a case."""
        name, data = upload_of(request)
        case = read_package(name, keep_bytes=data)
        kept = shelve(
            case,
            file_name=name,
            why=f"From a colleague's package, {name}"[:300],
            came_from=CameFrom.COLLEAGUE,
            by=person(request),
            at=timezone.now(),
        )
        return Response(_shelf(str(kept.engine.get("label", ""))), status=201)


class ShelfPracticeView(APIView):
    """A simulated vehicle."""

    needs = {"POST": "add_evidence"}
    parser_classes = [CarefulJSONParser]

    @extend_schema(
        operation_id="known_goods_practise",
        request=schemas.PracticeSerializer,
        responses={201: schemas.HeldSerializer(many=True)},
    )
    def post(self, request: Request) -> Response:
        """Hold captures of a sound simulated vehicle, marked as such."""
        given = validated(schemas.PracticeSerializer, request.data)
        practise(given["engine"], given["tests"], by=person(request), at=timezone.now())
        return Response(_shelf(given["engine"]), status=201)


def _shelf(label: str) -> list[dict[str, object]]:
    rows = (
        KnownGood.objects.filter(capture__withdrawn_at__isnull=True)
        .select_related("capture__case")
        .prefetch_related("capture__channels")
        .order_by("-said_at", "-id")
    )
    if label:
        rows = rows.filter(capture__case__engine__label=label)
    return [held_line(Held(good=row, warnings=(), used=True)) for row in rows[:SHELF_MAX]]

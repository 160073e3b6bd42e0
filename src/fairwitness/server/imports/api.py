"""Files on their way over HTTP: announced, sent in pieces, looked at, kept, taken back."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from typing import IO, Any

from django.conf import settings
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.parsers import BaseParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.formats.engine_block import read_engine
from fairwitness.server.accounts.models import Role
from fairwitness.server.accounts.permissions import may, person
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.imports import foreman, proposing, schemas, services, staging
from fairwitness.server.imports.models import IN_HAND, FileImport, ImportState
from fairwitness.server.imports.plans import uses_of
from fairwitness.server.imports.services import Sent
from fairwitness.server.parsing import CarefulJSONParser, read_within, validated

PIECE_BYTES_MAX = 4 * 1024 * 1024


class PieceParser(BaseParser):
    """Bytes as they are."""

    media_type = "application/octet-stream"

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        """Read a piece.

        Raises
        ------
        TooLarge
        """
        return read_within(stream, PIECE_BYTES_MAX)


class ImportsView(APIView):
    """Files on their way into a case."""

    needs = {"POST": "add_evidence"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(operation_id="imports_list", responses=schemas.FileImportSerializer(many=True))
    def get(self, request: Request, case_id: int) -> Response:
        """All that are not kept yet, of anybody."""
        case = get_object_or_404(StoredCase, pk=case_id)
        rows = case.imports.filter(state__in=IN_HAND).select_related("by")
        if any(row.state == ImportState.WAITING for row in rows):
            _wake()
        return Response([_about(row, request) for row in rows])

    @extend_schema(
        operation_id="import_begin",
        request=schemas.BeginImportSerializer,
        responses={201: schemas.FileImportSerializer},
    )
    def post(self, request: Request, case_id: int) -> Response:
        """Announce a file, or take one out of the inbox folder; the same one again goes on where it broke off."""
        case = get_object_or_404(StoredCase, pk=case_id)
        given = validated(schemas.BeginImportSerializer, request.data)
        by, now = person(request), timezone.now()
        if given["inbox"]:
            held = services.begin_waiting(case, given["name"], by=by, at=now)
        else:
            sent = Sent(name=given["name"], size=given["size"], modified=given["modified"])
            held = services.begin(case, sent, by=by, at=now)
        _wake()
        return Response(_about(held, request), status=201)


class ImportView(APIView):
    """One file on its way."""

    needs = {"DELETE": "add_evidence"}

    @extend_schema(operation_id="import_read", responses=schemas.FileImportSerializer)
    def get(self, request: Request, import_id: int) -> Response:
        """How far it is."""
        held = _import(import_id)
        if held.state in (ImportState.WAITING, ImportState.WORKING):
            _wake()
        return Response(_about(held, request))

    @extend_schema(operation_id="import_cancel", request=None, responses={200: schemas.FileImportSerializer})
    def delete(self, request: Request, import_id: int) -> Response:
        """Take it back, whatever is being done with it."""
        held = services.cancel(_import(import_id), by=person(request), at=timezone.now())
        return Response(_about(held, request))


class PieceView(APIView):
    """The bytes of a file."""

    needs = {"PUT": "add_evidence"}

    parser_classes = [PieceParser]

    @extend_schema(
        operation_id="import_piece",
        parameters=[OpenApiParameter("offset", OpenApiTypes.INT)],
        request={"application/octet-stream": OpenApiTypes.BINARY},
        responses=schemas.FileImportSerializer,
    )
    def put(self, request: Request, import_id: int) -> Response:
        """Send the next piece; where it does not follow, the answer says at which byte to go on."""
        offset = request.query_params.get("offset", "0")
        held = _import(import_id)
        place = int(offset) if offset.isdecimal() and len(offset) < 16 else -1
        piece = request.data if isinstance(request.data, bytes) else b""
        with suppress(staging.OutOfStepError):  # the sender goes on at what is received
            services.take(held, place, piece, by=person(request), at=timezone.now())
        held.refresh_from_db()
        return Response(_about(held, request))


class LookView(APIView):
    """A file before it is kept."""

    needs = {"POST": "add_evidence"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(operation_id="import_look", request=None, responses=schemas.TableGuessSerializer)
    def post(self, request: Request, import_id: int) -> Response:
        """Find out how it is written and what its columns probably are."""
        return Response(proposing.proposal(services.look(_import(import_id), by=person(request))))


class KeepFileView(APIView):
    """A file that shall become a capture."""

    needs = {"POST": "add_evidence"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(
        operation_id="import_keep", request=schemas.KeepPlanSerializer, responses={202: schemas.FileImportSerializer}
    )
    def post(self, request: Request, import_id: int) -> Response:
        """Have it kept, its columns used as said; it waits for its turn."""
        plan = validated(schemas.KeepPlanSerializer, request.data)
        held = _import(import_id)
        uses_of(plan, read_engine(held.case.engine))  # what cannot be is said at once
        held = services.ask(held, plan, by=person(request), at=timezone.now())
        _wake()
        return Response(_about(held, request), status=202)


def _wake() -> None:
    foreman.ensure(staging.folder(), settings.DATA)


def _import(import_id: int) -> FileImport:
    return get_object_or_404(FileImport.objects.select_related("case", "by"), pk=import_id)


def _about(held: FileImport, request: Request) -> dict[str, Any]:
    asking = person(request)
    own = held.by_id == asking.pk
    return {
        "id": held.pk,
        "file_name": held.file_name,
        "by": held.by.shown_name,
        "own": own,
        "may_cancel": held.state in IN_HAND and may(asking, "add_evidence") and (own or asking.role == Role.LEAD),
        "size": held.size,
        "received": staging.received(held.pk) if held.state in IN_HAND else held.size,
        "state": held.state,
        "stage": held.stage,
        "share": held.share,
        "before": services.before(held),
        "capture": held.capture_id,
        "problem": held.problem,
    }

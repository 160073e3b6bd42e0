"""Engine records over HTTP."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from django.db.models import Count
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.procedures.specs import OFFERS
from fairwitness.formats.engine_block import read_engine
from fairwitness.formats.wiring_block import wiring_block
from fairwitness.server.accounts.permissions import may, person
from fairwitness.server.cases.crank_circle import typed_block
from fairwitness.server.cases.models import EngineAccess, StoredCase
from fairwitness.server.engines import schemas
from fairwitness.server.engines.minutes import keep_minutes
from fairwitness.server.engines.models import EngineRecord
from fairwitness.server.engines.packing import packed, unpack
from fairwitness.server.engines.records import Described, describe, differences, suggested, value_words, whole_block
from fairwitness.server.parsing import validated


class RecordsView(APIView):
    """All engines of the shop."""

    needs = {"POST": "add_evidence"}

    @extend_schema(
        operation_id="engine_records_list",
        parameters=[OpenApiParameter("letters", OpenApiTypes.STR)],
        responses=schemas.RecordLineSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """Those whose name, code or years hold the letters."""
        return Response(_lines(request.query_params.get("letters", "")[:60]))

    @extend_schema(
        operation_id="engine_record_add",
        request=schemas.RecordWriteSerializer,
        responses={201: schemas.RecordSerializer},
    )
    def post(self, request: Request) -> Response:
        """Write an engine down."""
        record = describe(_told(request), by=person(request), at=timezone.now())
        return Response(_record(record, request), status=201)


class RecordView(APIView):
    """One engine."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="engine_record_read", responses=schemas.RecordSerializer)
    def get(self, request: Request, record_id: int) -> Response:
        """All that the shop knows of it."""
        return Response(_record(_one(record_id), request))

    @extend_schema(
        operation_id="engine_record_change",
        request=schemas.RecordWriteSerializer,
        responses=schemas.RecordSerializer,
    )
    def post(self, request: Request, record_id: int) -> Response:
        """Change what is written down; what stood there before is kept."""
        record = describe(_told(request), by=person(request), at=timezone.now(), record=_one(record_id))
        return Response(_record(record, request))


class RecordMinutesView(APIView):
    """Minutes of a test on one engine."""

    needs = {"POST": "add_evidence"}

    @extend_schema(
        operation_id="engine_record_minutes",
        request=schemas.MinutesWriteSerializer,
        responses=schemas.RecordSerializer,
    )
    def post(self, request: Request, record_id: int) -> Response:
        """Write down how long it really takes here."""
        given, record = validated(schemas.MinutesWriteSerializer, request.data), _one(record_id)
        keep_minutes(record.label, given["test"], given["minutes"], by=person(request), at=timezone.now())
        return Response(_record(record, request))


class PackageView(APIView):
    """The shop's engines as a file."""

    needs = {"POST": "add_evidence"}

    @extend_schema(operation_id="engine_records_export", responses={(200, "application/json"): OpenApiTypes.OBJECT})
    def get(self, request: Request) -> HttpResponse:
        """All of them, as a Data Package."""
        text = json.dumps(packed(EngineRecord.objects.select_related("variant_of")), ensure_ascii=False, indent=1)
        answer = HttpResponse(text, content_type="application/json; charset=utf-8")
        answer["Content-Disposition"] = 'attachment; filename="datapackage.json"'
        return answer

    @extend_schema(
        operation_id="engine_records_import",
        request=schemas.EnginePackageSerializer,
        responses=schemas.RecordLineSerializer(many=True),
    )
    def post(self, request: Request) -> Response:
        """Take in the engines of a Data Package, all or none."""
        given = validated(schemas.EnginePackageSerializer, request.data)
        unpack(given["descriptor"], by=person(request), at=timezone.now())
        return Response(_lines(""))


def _one(record_id: int) -> EngineRecord:
    return get_object_or_404(EngineRecord.objects.select_related("variant_of", "by"), pk=record_id)


def _told(request: Request) -> Described:
    given = validated(schemas.RecordWriteSerializer, request.data)
    return Described(
        label=given["label"],
        variant_of=given["variant_of"],
        years=given["years"],
        code=given["code"],
        notes=given["notes"],
        block=typed_block(given["engine"]),
        usual=given["usual"],
    )


def _lines(letters: str) -> list[dict[str, Any]]:
    seen = dict(StoredCase.objects.filter(shelf=False).values_list("engine__label").annotate(Count("id")))
    return [
        {
            "id": row.pk,
            "label": row.label,
            "variant_of": row.variant_of.label if row.variant_of else "",
            "years": row.years,
            "code": row.code,
            "words": engine_words(whole_block(row)),
            "circuits": len(whole_block(row).get("wiring", [])),
            "cases": seen.get(row.label, 0),
        }
        for row in suggested(letters)
    ]


def engine_words(block: Mapping[str, Any]) -> str:
    """An engine in a line: how many cylinders, in which order, what it burns and how."""
    order = " ".join(map(str, block.get("firing_order", [])))
    kinds = (str(block.get(key, "")).replace("_", " ") for key in ("fuel", "injection", "ignition"))
    return f"{block.get('cylinders', '?')} cylinders, fires {order}, {', '.join(kinds)}"


def _record(record: EngineRecord, request: Request) -> dict[str, Any]:
    whole = whole_block(record)
    own = dict(EngineAccess.objects.filter(engine_label=record.label).values_list("test", "minutes"))
    engine = read_engine(whole)
    return {
        "id": record.pk,
        "label": record.label,
        "variant_of": record.variant_of.label if record.variant_of else "",
        "years": record.years,
        "code": record.code,
        "notes": record.notes,
        "engine": record.block,
        "whole": whole,
        "wiring": wiring_block(engine.wiring),
        "usual": record.usual,
        "differences": [
            {"key": d.key.replace("_", " "), "here": value_words(d.here), "there": value_words(d.there)}
            for d in differences(record)
        ],
        "variants": list(record.variants.values_list("label", flat=True)),
        "minutes": [
            {"test": offer.id, "title": offer.title, "usual": offer.minutes, "minutes": own.get(offer.id)}
            for offer in OFFERS.values()
            if offer.fits(engine)
        ],
        "changed_by": record.by.shown_name,
        "changed_at": record.at,
        "changes": record.changes.count(),
        "may": may(person(request), "add_evidence"),
    }

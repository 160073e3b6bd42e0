"""All calculators, and what one of them finds."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.calculators import CALCULATORS, Calculator, calculated
from fairwitness.core.calculators.record import Quantity
from fairwitness.server.calculators import schemas
from fairwitness.server.calculators.from_case import case_values
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.parsing import validated


class CalculatorsView(APIView):
    """The shelf."""

    @extend_schema(
        operation_id="calculators_list",
        parameters=[OpenApiParameter("case", OpenApiTypes.INT, description="Fills what it knows.")],
        responses=schemas.CalculatorSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """Every calculator with its example, filled from a case where one is named."""
        number = request.query_params.get("case", "")
        known: Mapping[str, float] = {}
        if number:
            if not number.isdecimal():
                raise Http404
            known = case_values(get_object_or_404(StoredCase, pk=int(number)))
        return Response([_told(calculator, known) for calculator in CALCULATORS.values()])


class CalculatorView(APIView):
    """One calculator."""

    needs = {"POST": "read"}

    @extend_schema(operation_id="calculator_use", request=schemas.NumbersSerializer, responses=schemas.ResultSerializer)
    def post(self, request: Request, calculator: str) -> Response:
        """Do the sum; nothing is kept."""
        if calculator not in CALCULATORS:
            raise Http404
        given = {row["key"]: row["value"] for row in validated(schemas.NumbersSerializer, request.data)["given"]}
        found = calculated(CALCULATORS[calculator], given)
        return Response({"found": [{"key": key, "value": value} for key, value in found.items()]})


def _told(calculator: Calculator, known: Mapping[str, float]) -> dict[str, Any]:
    answer = calculated(calculator, calculator.example)
    return {
        "id": calculator.id,
        "title": calculator.title,
        "needed": calculator.needed,
        "formula": calculator.formula,
        "came_from": calculator.source,
        "beware": calculator.beware,
        "given": [_quantity(q, calculator.example, known) for q in calculator.given],
        "found": [_quantity(q, answer, {}) for q in calculator.found],
    }


def _quantity(quantity: Quantity, example: Mapping[str, float], known: Mapping[str, float]) -> dict[str, Any]:
    value = known.get(quantity.case) if quantity.case else None
    fits = value is not None and quantity.low <= value <= quantity.high
    return {
        "key": quantity.key,
        "words": quantity.words,
        "unit": quantity.unit,
        "example": example.get(quantity.key),
        "from_case": value if fits else None,
    }

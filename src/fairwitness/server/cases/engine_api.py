"""Engines as they are typed, and the calculator of an injector, over HTTP."""

from __future__ import annotations

import math

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.errors import ObservationError
from fairwitness.core.signal.injector.electrical import expected_current, expected_ohms
from fairwitness.server.cases import schemas
from fairwitness.server.cases.crank_circle import check_engine
from fairwitness.server.cases.known_engines import suggest
from fairwitness.server.parsing import validated


class InjectorCalculatorView(APIView):
    """Ohm's law of an injector, warm or cold."""

    @extend_schema(
        operation_id="injector_calculate",
        parameters=[
            OpenApiParameter("volts", OpenApiTypes.FLOAT, required=True),
            OpenApiParameter("celsius", OpenApiTypes.FLOAT, required=True),
            OpenApiParameter("ohms", OpenApiTypes.FLOAT, description="At 20 degrees C: gives the current."),
            OpenApiParameter("amps", OpenApiTypes.FLOAT, description="Gives the resistance at 20 degrees C."),
        ],
        responses=schemas.CalculatedSerializer,
    )
    def get(self, request: Request) -> Response:
        """Current from resistance, or resistance from current."""
        volts, celsius = _number(request, "volts"), _number(request, "celsius")
        if "amps" in request.query_params:
            found, unit = expected_ohms(_number(request, "amps"), volts, celsius), "ohm"
        else:
            found, unit = expected_current(_number(request, "ohms"), volts, celsius), "A"
        return Response({"value": found.value, "low": found.low, "high": found.high, "unit": unit})


class EngineCheckView(APIView):
    """An engine as it is typed."""

    needs = {"POST": "read"}

    @extend_schema(
        operation_id="engine_check", request=schemas.EngineTypedSerializer, responses=schemas.EngineCheckSerializer
    )
    def post(self, request: Request) -> Response:
        """Check an engine and place its cylinders on the crank circle."""
        given = validated(schemas.EngineTypedSerializer, request.data)
        block = given["engine"]
        return Response(check_engine(block if isinstance(block, dict) else {}))


class EngineSuggestView(APIView):
    """Engines a few letters bring up."""

    @extend_schema(
        operation_id="engine_suggest",
        parameters=[OpenApiParameter("letters", OpenApiTypes.STR)],
        responses=schemas.EngineSuggestionSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """Known engines whose label holds the letters."""
        return Response(suggest(request.query_params.get("letters", "")[:60]))


def _number(request: Request, key: str) -> float:
    text = request.query_params.get(key, "")
    try:
        value = float(text)
    except ValueError:
        raise ObservationError(f"{text!r} is not a number.", where=key, remedy="Give a plain number.") from None
    if not math.isfinite(value):
        raise ObservationError("The number is not finite.", where=key)
    return value

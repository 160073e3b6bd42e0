"""Engines as they are typed, over HTTP."""

from __future__ import annotations

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.server.cases import schemas
from fairwitness.server.cases.crank_circle import check_engine
from fairwitness.server.cases.known_engines import suggest, usual_orders
from fairwitness.server.parsing import validated


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
        typed = block if isinstance(block, dict) else {}
        cylinders = typed.get("cylinders")
        orders = usual_orders(cylinders) if isinstance(cylinders, int) else []
        return Response({**check_engine(typed), "orders": orders})


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

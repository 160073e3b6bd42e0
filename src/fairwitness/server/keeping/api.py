"""How the house stands, for a lead; whether it is alive and ready, for whatever watches it."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpRequest, JsonResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.server.keeping.house import house, why_not_ready


class ErrorLineSerializer(serializers.Serializer):
    """Something that went wrong."""

    at = serializers.CharField()
    number = serializers.CharField()
    what = serializers.CharField()


class HouseSerializer(serializers.Serializer):
    """How the house stands."""

    version = serializers.CharField()
    database_bytes = serializers.IntegerField()
    free_bytes = serializers.IntegerField()
    room_low = serializers.BooleanField()
    backups_into = serializers.CharField(allow_blank=True)
    last_backup = serializers.DateTimeField(allow_null=True)
    last_check = serializers.DateTimeField(allow_null=True)
    changed = serializers.ListField(child=serializers.CharField())
    last_errors = ErrorLineSerializer(many=True)


class HouseView(APIView):
    """How the house stands."""

    needs = {"GET": "manage_people"}

    @extend_schema(responses=HouseSerializer, operation_id="house_read")
    def get(self, request: Request) -> Response:
        """Version, disk, backups, the last check, the last errors."""
        return Response(asdict(house()))


def alive(request: HttpRequest) -> JsonResponse:
    """The process answers."""
    return JsonResponse({"alive": True})


def ready(request: HttpRequest) -> JsonResponse:
    """The database answers too."""
    why = why_not_ready()
    return JsonResponse({"ready": not why, "why": why}, status=503 if why else 200)

"""The owner's decision over HTTP."""

from __future__ import annotations

from django.core.files.uploadedfile import UploadedFile
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.model.decision import MINUTES_MOST, Agreement, Decision, Way
from fairwitness.server.accounts.permissions import person
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.cases.schemas import BoardSerializer
from fairwitness.server.decisions.services import SIGNATURE_BYTES_MAX, decide
from fairwitness.server.parsing import validated


class DecisionSerializer(serializers.Serializer):
    """A decision as it is sent, with a drawn signature where there is one."""

    who = serializers.CharField(max_length=300)
    way = serializers.ChoiceField(choices=[(w.value, w.value) for w in Way])
    option = serializers.CharField(max_length=300, allow_blank=True, default="")
    agreed = serializers.CharField(
        max_length=200, allow_blank=True, default="", help_text="What was agreed to, separated by commas; empty: a no."
    )
    up_to_minutes = serializers.IntegerField(min_value=1, max_value=MINUTES_MOST, allow_null=True, default=None)
    up_to = serializers.CharField(max_length=100, allow_blank=True, default="", help_text="A sum, as it was said.")
    note = serializers.CharField(max_length=300, allow_blank=True, default="")
    signature = serializers.FileField(required=False, allow_null=True, max_length=200)

    def validate_agreed(self, value: str) -> list[Agreement]:
        """Split what was agreed."""
        named = [word for word in value.split(",") if word]
        if any(word not in list(Agreement) for word in named):
            raise serializers.ValidationError("There is nothing of that name to agree to.")
        return [Agreement(word) for word in named]


class DecisionView(APIView):
    """What the owner decided."""

    needs = {"POST": "add_evidence"}

    parser_classes = [MultiPartParser]

    @extend_schema(
        operation_id="decision_add",
        request={"multipart/form-data": DecisionSerializer},
        responses={201: BoardSerializer},
    )
    def post(self, request: Request, case_id: int) -> Response:
        """Keep it; the last one holds."""
        given = validated(DecisionSerializer, request.data)
        file = request.FILES.get("signature")
        signature = file.read(SIGNATURE_BYTES_MAX + 1) if isinstance(file, UploadedFile) else b""
        decision = Decision(
            who=given["who"],
            way=Way(given["way"]),
            option=given["option"],
            agreed=frozenset(given["agreed"]),
            up_to_minutes=given["up_to_minutes"],
            up_to=given["up_to"],
            note=given["note"],
        )
        case = get_object_or_404(StoredCase.objects.select_related("opened_by", "visit_of", "verified_by"), pk=case_id)
        decide(case, decision, signature=signature, by=person(request), at=timezone.now())
        return Response(whole_board(case, person(request)), status=201)

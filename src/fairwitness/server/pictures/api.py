"""Pictures over HTTP. Files come in as multipart and go out as what their content is, never as anything that runs."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import Message, verbatim
from fairwitness.core.model.decision import DECISION
from fairwitness.core.model.phase_words import PART_WORDS
from fairwitness.core.procedures.specs import SPECS
from fairwitness.formats.engine_block import read_engine
from fairwitness.server.accounts.permissions import may, person
from fairwitness.server.captures.uploads import upload_of
from fairwitness.server.cases.kept_once import kept_once
from fairwitness.server.cases.models import CaseStatus, StoredCase, StoredObservation, StoredPart
from fairwitness.server.cases.schemas import WithdrawSerializer
from fairwitness.server.parsing import CarefulJSONParser, validated
from fairwitness.server.pictures import schemas, services
from fairwitness.server.pictures.checking import BYTES_MAX, SUFFIXES, PictureKind
from fairwitness.server.pictures.models import Picture

THUMB_MIME = "image/jpeg"
AT_CYLINDER = template("pictures.at_cylinder", "{what}, {which:cylinders}")


class PicturesView(APIView):
    """Pictures and sounds of a case."""

    needs = {"POST": "add_evidence"}

    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="pictures_list", responses=schemas.PicturesSerializer)
    def get(self, request: Request, case_id: int) -> Response:
        """All of them, the withdrawn too."""
        case = get_object_or_404(StoredCase, pk=case_id)
        rows = case.pictures.select_related("kept_by", "observation", "part", "outcome")
        return Response(
            {
                "case": case.pk,
                "title": case.title or case.name,
                "cylinders": list(read_engine(case.engine).firing_order),
                "may": case.status == CaseStatus.OPEN and may(person(request), "add_evidence"),
                "belongs": belongs(case),
                "pictures": [told(p) for p in rows],
            }
        )

    @extend_schema(
        operation_id="picture_add",
        request={"multipart/form-data": schemas.PictureGivenSerializer},
        responses={201: schemas.PictureSerializer},
    )
    def post(self, request: Request, case_id: int) -> Response:
        """Keep one."""
        _, sent = upload_of(request, most=BYTES_MAX)
        given = validated(schemas.PictureGivenSerializer, request.data)
        case = get_object_or_404(StoredCase, pk=case_id)
        about = services.About(observation=given["observation"], part=given["part"], outcome=given["outcome"])
        with kept_once(request, case) as wanted:
            if wanted:
                kept = services.keep_picture(
                    case, sent, words=given["words"], about=about, by=person(request), at=timezone.now()
                )
            else:
                kept = case.pictures.latest("pk")
        return Response(told(kept), status=201)


class PictureFileView(APIView):
    """The file itself."""

    @extend_schema(operation_id="picture_file", responses={(200, "image/*"): OpenApiTypes.BINARY})
    def get(self, request: Request, picture_id: int) -> HttpResponse:
        """As it was kept; not where it was withdrawn."""
        picture = _picture(picture_id)
        if picture.withdrawn_at is not None:
            raise Http404
        return _sent(services.whole_file(picture), picture.mime, f"picture-{picture.pk}{SUFFIXES[picture.mime]}")


class PictureThumbView(APIView):
    """A small copy."""

    @extend_schema(operation_id="picture_thumb", responses={(200, "image/jpeg"): OpenApiTypes.BINARY})
    def get(self, request: Request, picture_id: int) -> HttpResponse:
        """For lists; a sound has none."""
        picture = _picture(picture_id)
        if picture.withdrawn_at is not None or picture.kind != PictureKind.PHOTO:
            raise Http404
        return _sent(bytes(picture.file.thumb), THUMB_MIME, f"picture-{picture.pk}-small.jpg")


class MarksView(APIView):
    """What is drawn on top."""

    needs = {"POST": "add_evidence"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(operation_id="picture_mark", request=schemas.MarksSerializer, responses=schemas.PictureSerializer)
    def post(self, request: Request, picture_id: int) -> Response:
        """Draw it; what was drawn before is replaced."""
        given = validated(schemas.MarksSerializer, request.data)
        marks = [dict(mark) for mark in given["marks"]]
        kept = services.mark_picture(_picture(picture_id), marks, by=person(request), at=timezone.now())
        return Response(told(kept))


class PictureWithdrawView(APIView):
    """A wrong picture."""

    needs = {"POST": "withdraw_own"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(operation_id="picture_withdraw", request=WithdrawSerializer, responses=schemas.PictureSerializer)
    def post(self, request: Request, picture_id: int) -> Response:
        """Withdraw it with a reason."""
        given = validated(WithdrawSerializer, request.data)
        picture = _picture(picture_id)
        services.withdraw_picture(picture, reason=given["reason"], by=person(request), at=timezone.now())
        return Response(told(picture))


def told(picture: Picture) -> dict[str, Any]:
    """A picture as lists show it."""
    return {
        "id": picture.pk,
        "kind": picture.kind,
        "mime": picture.mime,
        "words": picture.words,
        "about": _about(picture),
        "width": picture.width,
        "height": picture.height,
        "seconds": picture.seconds,
        "marks": picture.marks,
        "sha256": picture.sha256,
        "by": picture.kept_by.shown_name,
        "at": picture.kept_at,
        "withdrawn": picture.withdrawn_at is not None,
        "withdrawn_reason": picture.withdrawn_reason,
    }


def belongs(case: StoredCase) -> list[dict[str, Any]]:
    """What a picture may be attached to, newest first: outcomes, parts, readings by hand."""
    readings = case.observations.filter(withdrawn_at__isnull=True).exclude(test=DECISION).order_by("-id")
    found = [{"kind": "outcome", "id": o.pk, "words": o.found} for o in case.outcomes.order_by("-id")]
    found += [{"kind": "part", "id": p.pk, "words": _part_words(p)} for p in case.parts.order_by("-id")]
    return found + [{"kind": "observation", "id": o.pk, "words": _reading_words(o)} for o in readings]


def _part_words(part: StoredPart) -> Message:
    return AT_CYLINDER(what=PART_WORDS[part.part], which=(part.cylinder,)) if part.cylinder else PART_WORDS[part.part]


def _reading_words(reading: StoredObservation) -> Message:
    title = SPECS[reading.test].title if reading.test in SPECS else verbatim(reading.test.replace("_", " "))
    cylinder = reading.data.get("cylinder")
    return AT_CYLINDER(what=title, which=(cylinder,)) if isinstance(cylinder, int) else title


def _about(picture: Picture) -> Any:
    if picture.observation is not None:
        test = picture.observation.test
        return SPECS[test].title if test in SPECS else test.replace("_", " ")
    if picture.part is not None:
        return PART_WORDS[picture.part.part]
    return picture.outcome.found if picture.outcome is not None else ""


def _picture(picture_id: int) -> Picture:
    rows = Picture.objects.select_related("case", "kept_by", "observation", "part", "outcome", "file")
    return get_object_or_404(rows, pk=picture_id)


def _sent(data: bytes, mime: str, name: str) -> HttpResponse:
    """A file that a browser shows and never runs."""
    answer = HttpResponse(data, content_type=mime)
    answer["Content-Disposition"] = f'inline; filename="{name}"'
    answer["X-Content-Type-Options"] = "nosniff"
    return answer

"""Sheets, figures and the shop over HTTP."""

from __future__ import annotations

import math
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fairwitness.core.errors import ObservationError, PackageError
from fairwitness.server.accounts.permissions import may, person
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.models import CaseStatus, StoredCase
from fairwitness.server.cases.schemas import WithdrawSerializer
from fairwitness.server.headers import framed_page
from fairwitness.server.parsing import CarefulJSONParser, validated
from fairwitness.server.pictures.models import Picture
from fairwitness.server.sheets import figures, languages, links, pages, schemas
from fairwitness.server.sheets import workshop as shops
from fairwitness.server.sheets.models import SheetLink, TraceFigure

WHOLE = OpenApiParameter("whole", OpenApiTypes.BOOL, description="With the annex.")


class SheetView(APIView):
    """The sheet as a page."""

    @extend_schema(operation_id="sheet_page", parameters=[WHOLE], responses={(200, "text/html"): OpenApiTypes.STR})
    def get(self, request: Request, case_id: int) -> HttpResponse:
        """For a browser, and for printing from it."""
        case = sheet_case(case_id)
        language = shops.workshop().language
        display = languages.display_in(language, person(request).units)
        html = pages.html_of(case, display, whole=wants_annex(request), language=language or languages.ENGLISH)
        return framed_page(HttpResponse(html, content_type="text/html; charset=utf-8"))


class SheetPdfView(APIView):
    """The sheet on paper."""

    @extend_schema(
        operation_id="sheet_pdf", parameters=[WHOLE], responses={(200, "application/pdf"): OpenApiTypes.BINARY}
    )
    def get(self, request: Request, case_id: int) -> HttpResponse:
        """One page of A4, and the annex behind it if asked for."""
        case = sheet_case(case_id)
        language = shops.workshop().language
        display = languages.display_in(language, person(request).units)
        pdf = pages.printed(case, display, whole=wants_annex(request), language=language or languages.ENGLISH)
        return pdf_answer(pdf, case)


class SheetAboutView(APIView):
    """What goes with a sheet."""

    @extend_schema(operation_id="sheet_about", responses=schemas.SheetAboutSerializer)
    def get(self, request: Request, case_id: int) -> Response:
        """Figures to choose from, and links that were made."""
        case = sheet_case(case_id)
        return Response(_about(case, request))


class SheetShownView(APIView):
    """What the sheet shows."""

    needs = {"POST": "add_evidence"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(
        operation_id="sheet_choose", request=schemas.SheetShownSerializer, responses=schemas.SheetAboutSerializer
    )
    def post(self, request: Request, case_id: int) -> Response:
        """Choose up to two pictures or figures."""
        given = validated(schemas.SheetShownSerializer, request.data)
        case = sheet_case(case_id)
        figures.choose(case, given["shown"], by=person(request), at=timezone.now())
        return Response(_about(case, request))


class SheetLinksView(APIView):
    """Links to a sheet."""

    needs = {"POST": links.RIGHT}

    parser_classes = [CarefulJSONParser]

    @extend_schema(
        operation_id="sheet_link_make",
        request=schemas.SheetLinkWantedSerializer,
        responses={201: schemas.SheetLinkMadeSerializer},
    )
    def post(self, request: Request, case_id: int) -> Response:
        """Make one; its address is told this once."""
        given = validated(schemas.SheetLinkWantedSerializer, request.data)
        case, now = sheet_case(case_id), timezone.now()
        link, secret = links.make_link(
            case, words=given["words"], whole=given["whole"], days=given["days"], by=person(request), at=now
        )
        return Response({"path": f"/shared/{secret}/", "link": _link(link)}, status=201)


class SheetLinkRevokeView(APIView):
    """A link that is good no more."""

    needs = {"POST": links.RIGHT}

    @extend_schema(operation_id="sheet_link_revoke", request=None, responses=schemas.SheetAboutSerializer)
    def post(self, request: Request, link_id: int) -> Response:
        """Revoke it; whoever has it open sees nothing new."""
        link = get_object_or_404(SheetLink.objects.select_related("case"), pk=link_id)
        links.revoke(link, by=person(request), at=timezone.now())
        return Response(_about(sheet_case(link.case_id), request))


class TraceFiguresView(APIView):
    """Figures made of a capture."""

    needs = {"POST": "add_evidence"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(operation_id="trace_figures_list", responses=schemas.TraceFigureSerializer(many=True))
    def get(self, request: Request, capture_id: int) -> Response:
        """Those in force."""
        stored = get_object_or_404(StoredCapture, pk=capture_id)
        return Response([_figure(f) for f in stored.figures.filter(withdrawn_at__isnull=True)])

    @extend_schema(
        operation_id="trace_figure_add",
        request=schemas.TraceFigureGivenSerializer,
        responses={201: schemas.TraceFigureSerializer},
    )
    def post(self, request: Request, capture_id: int) -> Response:
        """Keep a stretch with words."""
        given = validated(schemas.TraceFigureGivenSerializer, request.data)
        if not (math.isfinite(given["from_s"]) and math.isfinite(given["to_s"])):
            raise ObservationError("A moment is a number.", where="from_s")
        stored = get_object_or_404(StoredCapture.objects.select_related("case"), pk=capture_id)
        kept = figures.keep_figure(
            stored, given["from_s"], given["to_s"], words=given["words"], by=person(request), at=timezone.now()
        )
        return Response(_figure(kept), status=201)


class TraceFigureWithdrawView(APIView):
    """A wrong figure."""

    needs = {"POST": "withdraw_own"}

    parser_classes = [CarefulJSONParser]

    @extend_schema(
        operation_id="trace_figure_withdraw", request=WithdrawSerializer, responses=schemas.TraceFigureSerializer
    )
    def post(self, request: Request, figure_id: int) -> Response:
        """Withdraw it with a reason."""
        given = validated(WithdrawSerializer, request.data)
        figure = get_object_or_404(TraceFigure.objects.select_related("case", "kept_by"), pk=figure_id)
        figures.withdraw_figure(figure, reason=given["reason"], by=person(request), at=timezone.now())
        return Response(_figure(figure))


class WorkshopView(APIView):
    """The shop as its sheets show it."""

    needs = {"POST": shops.RIGHT}

    parser_classes = [CarefulJSONParser]

    @extend_schema(operation_id="workshop_read", responses=schemas.WorkshopSerializer)
    def get(self, request: Request) -> Response:
        """Letterhead and settings."""
        return Response(_shop(request))

    @extend_schema(
        operation_id="workshop_describe", request=schemas.WorkshopChangeSerializer, responses=schemas.WorkshopSerializer
    )
    def post(self, request: Request) -> Response:
        """Change them."""
        given = validated(schemas.WorkshopChangeSerializer, request.data)
        shops.describe(dict(given), by=person(request))
        return Response(_shop(request))


class LogoView(APIView):
    """The shop's logo."""

    needs = {"POST": shops.RIGHT, "DELETE": shops.RIGHT}

    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="logo_read", responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(self, request: Request) -> HttpResponse:
        """As it stands on the sheet."""
        logo = shops.workshop().logo
        if not logo:
            raise Http404
        answer = HttpResponse(bytes(logo), content_type="image/png")
        answer["X-Content-Type-Options"] = "nosniff"
        return answer

    @extend_schema(
        operation_id="logo_set",
        request={"multipart/form-data": schemas.LogoSerializer},
        responses=schemas.WorkshopSerializer,
    )
    def post(self, request: Request) -> Response:
        """Keep one; checked by its content and made small."""
        file = request.FILES.get("file")
        if not isinstance(file, UploadedFile):
            raise PackageError("No file was sent.", remedy="Choose a picture.")
        shops.set_logo(file.read(shops.LOGO_BYTES_MAX + 1), by=person(request))
        return Response(_shop(request))

    @extend_schema(operation_id="logo_drop", request=None, responses={200: schemas.WorkshopSerializer})
    def delete(self, request: Request) -> Response:
        """Take it off."""
        shops.set_logo(None, by=person(request))
        return Response(_shop(request))


def sheet_case(case_id: int) -> StoredCase:
    """A case with all that a sheet names.

    Raises
    ------
    Http404
    """
    return get_object_or_404(StoredCase.objects.select_related("opened_by", "verified_by"), pk=case_id)


def wants_annex(request: Request) -> bool:
    """Whether the annex was asked for."""
    return request.query_params.get("whole") in ("1", "true")


def pdf_answer(pdf: bytes, case: StoredCase) -> HttpResponse:
    """A PDF under a plain name."""
    answer = HttpResponse(pdf, content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="sheet-{case.pk}.pdf"'
    answer["X-Content-Type-Options"] = "nosniff"
    return answer


def _about(case: StoredCase, request: Request) -> dict[str, Any]:
    shown = figures.shown_on(case)
    rows = case.sheet_links.select_related("made_by").prefetch_related("openings")
    return {
        "title": case.title or case.name,
        "offered": [
            {"reference": reference, "words": _words(reference), "shown": reference in shown}
            for reference in figures.offered(case)
        ],
        "may": case.status == CaseStatus.OPEN and may(person(request), "add_evidence"),
        "may_hand_over": may(person(request), links.RIGHT),
        "links_on": shops.workshop().links_on,
        "links": [_link(link) for link in rows],
    }


def _words(reference: str) -> str:
    kind, _, number = reference.partition(":")
    row: Picture | TraceFigure | None
    if kind == figures.FIGURE:
        row = TraceFigure.objects.filter(pk=int(number)).first()
    else:
        row = Picture.objects.filter(pk=int(number)).first()
    return row.words if row is not None else ""


def _link(link: SheetLink) -> dict[str, Any]:
    state = "revoked" if link.revoked_at else "expired" if link.expires_at <= timezone.now() else "open"
    return {
        "id": link.pk,
        "words": link.words,
        "whole": link.whole,
        "by": link.made_by.shown_name,
        "made_at": link.made_at,
        "expires_at": link.expires_at,
        "state": state,
        "openings": [{"at": o.at, "address": o.address, "what": o.what} for o in list(link.openings.all())[:20]],
    }


def _figure(figure: TraceFigure) -> dict[str, Any]:
    return {
        "id": figure.pk,
        "capture": figure.capture_id,
        "from_s": figure.from_s,
        "to_s": figure.to_s,
        "words": figure.words,
        "by": figure.kept_by.shown_name,
        "at": figure.kept_at,
    }


def _shop(request: Request) -> dict[str, Any]:
    shop = shops.workshop()
    return {
        "name": shop.name,
        "address": shop.address,
        "currency": shop.currency,
        "language": shop.language,
        "languages": languages.offered(),
        "links_on": shop.links_on,
        "logo": bool(shop.logo),
        "may": may(person(request), shops.RIGHT),
    }

"""Headers every request is held to, and every answer carries."""

from __future__ import annotations

from collections.abc import Callable

from django.core.exceptions import DisallowedHost
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase

from fairwitness.server.problems import problem

POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)

PAGE_POLICY = (
    "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; base-uri 'none'; "
    "form-action 'none'; frame-ancestors 'self'"
)
"""Of a page that carries all it needs within itself: nothing runs, nothing is loaded."""

Answering = Callable[[HttpRequest], HttpResponseBase]


def content_security_policy(get_response: Answering) -> Answering:
    """Only what ships with the application may run or load. Inline styles are needed by the form components."""

    def answer(request: HttpRequest) -> HttpResponseBase:
        response = get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response

    return answer


def framed_page(response: HttpResponse) -> HttpResponse:
    """A whole page of its own that the interface may show in a frame."""
    response["Content-Security-Policy"] = PAGE_POLICY
    response["X-Frame-Options"] = "SAMEORIGIN"
    response["X-Content-Type-Options"] = "nosniff"
    return response


def nothing_left_behind(get_response: Answering) -> Answering:
    """What the API answered does not stay in a browser that the next person uses."""

    def answer(request: HttpRequest) -> HttpResponseBase:
        response = get_response(request)
        if request.path.startswith("/api/"):
            response["Cache-Control"] = "no-store"
        return response

    return answer


def known_hosts(get_response: Answering) -> Answering:
    """Only under its own names: another site whose name was pointed here reads nothing, not even the page."""

    def answer(request: HttpRequest) -> HttpResponseBase:
        try:
            request.get_host()
        except DisallowedHost:
            remedy = "Use one of the names in FAIRWITNESS_HOSTS, or add this one."
            return JsonResponse(problem("unknown_host", "This server has no such name.", remedy=remedy), status=400)
        return get_response(request)

    return answer

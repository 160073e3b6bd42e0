"""Headers every answer carries."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest
from django.http.response import HttpResponseBase

POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)

Answering = Callable[[HttpRequest], HttpResponseBase]


def content_security_policy(get_response: Answering) -> Answering:
    """Only what ships with the application may run or load. Inline styles are needed by the form components."""

    def answer(request: HttpRequest) -> HttpResponseBase:
        response = get_response(request)
        response["Content-Security-Policy"] = POLICY
        return response

    return answer

"""Headers every answer carries."""

from __future__ import annotations

from collections.abc import Callable

from asgiref.sync import iscoroutinefunction, markcoroutinefunction
from django.http import HttpRequest, HttpResponse
from django.utils.decorators import sync_and_async_middleware

POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)


@sync_and_async_middleware
def content_security_policy(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Only what ships with the application may run or load. Inline styles are needed by the form components."""
    if iscoroutinefunction(get_response):

        async def later(request: HttpRequest) -> HttpResponse:
            response = await get_response(request)  # type: ignore[misc]
            response["Content-Security-Policy"] = POLICY
            return response  # type: ignore[no-any-return]

        markcoroutinefunction(later)
        return later  # type: ignore[return-value]

    def now(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        response["Content-Security-Policy"] = POLICY
        return response

    return now

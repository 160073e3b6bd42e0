"""Guessing passwords is slow work: so many wrong ones from one address, and fewer at one name.

Who gives the right one at once is not counted: a shared tablet changes hands more often than that.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from contextlib import contextmanager

from rest_framework.request import Request
from rest_framework.throttling import SimpleRateThrottle
from rest_framework.views import APIView

from fairwitness.core.errors import PeopleError


class AttemptsFromAddress(SimpleRateThrottle):
    """Wrong passwords from one address, whoever is logged in there."""

    rate = "30/min"
    duration: int
    scope = "log in from an address"

    def allow_request(self, request: Request, view: APIView) -> bool:
        """Only attempts count, not looking."""
        return request.method != "POST" or bool(super().allow_request(request, view))

    def throttle_success(self) -> bool:
        """Asking is not counted; what turns out wrong is."""
        return True

    def failed(self, request: Request, view: APIView) -> None:
        """Count a wrong password."""
        key = self.get_cache_key(request, view)
        self.cache.set(key, [self.timer(), *self.cache.get(key, [])], self.duration)

    def get_cache_key(self, request: Request, view: APIView) -> str:
        """The address; of a header of the client only as many proxies as the settings trust."""
        return f"attempts-from-{self.get_ident(request)}"


class AttemptsAtName(AttemptsFromAddress):
    """Wrong passwords at one name, from wherever."""

    rate = "10/min"
    scope = "log in under a name"

    def get_cache_key(self, request: Request, view: APIView) -> str:
        """The name as it was given, however long it is."""
        data = request.data
        name = str(data.get("username", "")) if isinstance(data, dict) else ""
        return f"attempts-at-{hashlib.sha256(name.strip().lower().encode(errors='replace')).hexdigest()}"


ATTEMPTS = (AttemptsFromAddress, AttemptsAtName)


@contextmanager
def counted(request: Request, view: APIView) -> Iterator[None]:
    """Count what is refused within as a wrong guess."""
    try:
        yield
    except PeopleError:
        count_wrong(request, view)
        raise


def count_wrong(request: Request, view: APIView) -> None:
    """Count a wrong password, code or link."""
    for throttle in ATTEMPTS:
        throttle().failed(request, view)

"""A line per event, with the number of the request it belongs to; errors also to a file that is turned over.

No names, titles or bodies: an address of the interface and a number are enough to find what happened.
"""

from __future__ import annotations

import json
import logging
import re
import secrets
from collections.abc import Callable
from contextvars import ContextVar
from datetime import UTC, datetime

from django.http import HttpRequest
from django.http.response import HttpResponseBase

ERRORS = "errors.log"
HEADER = "X-Request-Number"
NUMBER: ContextVar[str] = ContextVar("number of the request", default="")
SECRET = re.compile(r"/link/[^\s/]+")


def numbered(get_response: Callable[[HttpRequest], HttpResponseBase]) -> Callable[[HttpRequest], HttpResponseBase]:
    """Give every request a number that its answer and its lines in the log share."""

    def answer(request: HttpRequest) -> HttpResponseBase:
        number = secrets.token_hex(4)
        token = NUMBER.set(number)
        try:
            response = get_response(request)
        finally:
            NUMBER.reset(token)
        response[HEADER] = number
        return response

    return answer


class WithNumber(logging.Filter):
    """Puts the number of the request on a line."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Every line passes."""
        record.number = getattr(record, "number", None) or NUMBER.get() or "-"
        return True


class JsonLine(logging.Formatter):
    """One JSON object a line: when, how bad, which request, who says it, what, and the trace."""

    def format(self, record: logging.LogRecord) -> str:
        """The line."""
        told = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname,
            "number": getattr(record, "number", "-"),
            "from": record.name,
            "what": SECRET.sub("/link/...", record.getMessage()),
        }
        if record.exc_info:
            told["trace"] = self.formatException(record.exc_info)
        return json.dumps(told, ensure_ascii=True)

"""One shape for everything that goes wrong: code, what, where, how to go on."""

from __future__ import annotations

import logging
from typing import Any

from django.core.exceptions import ObjectDoesNotExist, PermissionDenied
from django.db import DatabaseError
from django.http import Http404, HttpRequest, JsonResponse
from rest_framework import exceptions, status
from rest_framework.response import Response
from rest_framework.views import set_rollback

from fairwitness.core.errors import FairWitnessError
from fairwitness.server.keeping.logs import NUMBER

LOG = logging.getLogger(__name__)


def problem(code: str, what: str, *, where: str = "", remedy: str = "") -> dict[str, str]:
    """The body of an answer that refuses."""
    head = f"{where}: {what}" if where else what
    return {"code": code, "what": what, "where": where, "mend": remedy, "sentence": f"{head} {remedy}".strip()}


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Turn an exception into a problem. What is not foreseen stays a server error."""
    set_rollback()
    if isinstance(error, FairWitnessError):
        body = problem(error.code, error.what, where=error.where, remedy=error.remedy)
        return Response(body, status=status.HTTP_400_BAD_REQUEST)
    if isinstance(error, Http404 | ObjectDoesNotExist):
        return Response(problem("not_found", "There is nothing at this address."), status=status.HTTP_404_NOT_FOUND)
    if isinstance(error, PermissionDenied):
        return Response(_denied(str(error)), status=status.HTTP_403_FORBIDDEN)
    if isinstance(error, exceptions.ValidationError):
        return Response(_invalid(error.detail), status=status.HTTP_400_BAD_REQUEST)
    if isinstance(error, exceptions.NotAuthenticated | exceptions.AuthenticationFailed):
        body = problem("not_logged_in", "You are not logged in.", remedy="Log in and try again.")
        return Response(body, status=status.HTTP_403_FORBIDDEN)
    if isinstance(error, DatabaseError) and (words := _of_database(error)) is not None:
        LOG.error("the database refused: %s", error)
        return Response(words, status=status.HTTP_503_SERVICE_UNAVAILABLE)
    if isinstance(error, exceptions.APIException):
        return Response(problem(str(error.default_code), str(error.detail)), status=error.status_code)
    return None


def csrf_failed(request: HttpRequest, reason: str = "") -> JsonResponse:
    """The page was open for too long, or the request came from elsewhere."""
    body = problem("stale_page", "This page is out of date.", remedy="Reload it and try again.")
    return JsonResponse(body, status=403)


def not_found(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    """For addresses outside the API's own views."""
    return JsonResponse(problem("not_found", "There is nothing at this address."), status=404)


def broken(request: HttpRequest) -> JsonResponse:
    """A fault of ours. Whether anything was stored before it is not known here, and so not promised."""
    remedy = (
        "Look whether it was kept before you try again. "
        f"The log of the server says what happened, under the number {NUMBER.get() or 'of the time'}."
    )
    body = problem("server_fault", "Something went wrong in the program.", remedy=remedy)
    return JsonResponse(body, status=500)


def refused(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    """A request the server does not look at: too large a form, or made up wrongly."""
    body = problem("refused", "This request cannot be read.", remedy="Send less at once, or reload the page.")
    return JsonResponse(body, status=400)


STATES_OF_DATABASE = (
    ("disk is full", "disk_full", "The disk is full.", "Free some room; nothing of this was kept."),
    ("readonly", "read_only", "The data of the workshop cannot be written.", "Look at the rights of its folder."),
    ("unable to open", "no_database", "The database cannot be opened.", "Look at the folder of the data."),
    ("locked", "busy", "The database is busy with something long.", "Wait a moment, then try again."),
    ("no such table", "old_database", "The database was not brought up to date.", "Start the program again."),
    ("no such column", "old_database", "The database was not brought up to date.", "Start the program again."),
    ("malformed", "damaged", "The database is damaged.", "Stop the program and restore a backup."),
    ("disk I/O", "disk_fails", "The disk does not answer as it should.", "Stop the program and look at the disk."),
)


def _of_database(error: DatabaseError) -> dict[str, str] | None:
    """What a database says of its own state, in words; None where the fault is ours."""
    said = str(error).lower()
    for part, code, what, remedy in STATES_OF_DATABASE:
        if part.lower() in said:
            return problem(code, what, remedy=remedy)
    return None


def _denied(reason: str) -> dict[str, str]:
    return problem("not_allowed", reason or "Your role does not allow this.", remedy="Ask a technician or a lead.")


def _invalid(detail: Any) -> dict[str, str]:
    where: list[str] = []
    while isinstance(detail, dict | list) and detail:
        if isinstance(detail, dict):
            key, detail = next(iter(detail.items()))
            where.append(str(key))
        else:
            detail = detail[0]
    return problem("invalid", str(detail), where=".".join(w for w in where if w != "non_field_errors"))

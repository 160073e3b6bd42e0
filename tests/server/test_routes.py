"""Every route at once: readers change nothing, headers are on everything. Who may what: ``test_rights.py``."""

import re

import pytest
from django.urls import URLPattern, get_resolver

from fairwitness.server.urls import urlpatterns

API = [
    p
    for p in urlpatterns
    if isinstance(p, URLPattern) and str(p.pattern).startswith("api/") and "<" not in str(p.pattern)
]
NUMBERED = [p for p in urlpatterns if "<int" in str(p.pattern)]
OPEN = {"api/session/", "api/link/", "api/link/password/", "api/first-lead/", "api/schema/"}
READING = {"get"}
NOTHING_CHANGED = {"/api/engine/check/", "/api/session/units/"}
"""Reckons only, or is a person's own setting."""


def address(pattern):
    return "/" + re.sub(r"<slug:\w+>", "swap", re.sub(r"<int:\w+>", "1", str(pattern.pattern)))


def methods(pattern):
    view = getattr(pattern.callback, "view_class", None) or getattr(pattern.callback, "cls", None)
    return [m for m in ("get", "post", "delete") if view is not None and hasattr(view, m)]


ROUTES = [(address(p), m) for p in [*API, *NUMBERED] for m in methods(p) if str(p.pattern) not in OPEN]


def test_the_walk_sees_every_route():
    assert len(ROUTES) >= 16


@pytest.mark.parametrize(("url", "method"), [r for r in ROUTES if r[1] not in READING and r[0] not in NOTHING_CHANGED])
def test_readers_change_nothing(as_user, reader, case, url, method):
    answer = getattr(as_user(reader), method)(url, {}, content_type="application/json")
    assert answer.status_code in (400, 403, 404, 415)
    case.refresh_from_db()
    assert case.journal.count() == 1


@pytest.mark.parametrize("url", ["/", "/cases/7", "/api/session/", "/api/nothing/"])
def test_security_headers_are_on_everything(db, client, url):
    answer = client.get(url)
    assert "script-src 'self'" in answer["Content-Security-Policy"]
    assert answer["X-Content-Type-Options"] == "nosniff"
    assert answer["X-Frame-Options"] == "DENY"


def test_unknown_api_addresses_answer_in_json(db, client):
    answer = client.get("/api/nothing/")
    assert (answer.status_code, answer.json()["code"]) == (404, "not_found")


def test_the_resolver_knows_the_problem_pages():
    assert get_resolver().resolve_error_handler(404).__name__ == "not_found"

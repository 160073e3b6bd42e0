"""Role by route by verb: who may, and who is refused whatever the body says. A route nobody listed fails."""

from __future__ import annotations

import re
from datetime import date

import pytest
from asgiref.sync import async_to_sync
from asgiref.testing import ApplicationCommunicator
from django.conf import settings
from django.core.cache import cache
from django.db import transaction
from django.urls import URLPattern
from django.utils import timezone

from fairwitness.core.model.engine import even_engine
from fairwitness.server.accounts.models import Role
from fairwitness.server.asgi import application
from fairwitness.server.captures.services import keep_capture
from fairwitness.server.cases.life import add_follow_up
from fairwitness.server.cases.services import add_observation
from fairwitness.server.engines.records import Described, describe
from fairwitness.server.imports.services import Sent, begin
from fairwitness.server.learning.services import add_code
from fairwitness.server.pictures.services import keep_picture
from fairwitness.server.sheets.figures import keep_figure
from fairwitness.server.sheets.models import SheetLink
from fairwitness.server.urls import urlpatterns
from tests.conftest import cranking
from tests.server.cases.test_services import SPEEDS
from tests.server.conftest import person
from tests.server.pictures.samples import photo

NOBODY = "nobody"
RANKS = (NOBODY, Role.READER, Role.TECHNICIAN, Role.LEAD)
EVERYBODY, READER, TECHNICIAN, LEAD = RANKS
VERBS = ("get", "post", "put", "patch", "delete")
SESSION, CASE, CAPTURE, BENCH = "session/", "cases/<int:case_id>/", "captures/<int:capture_id>/", "bench/"
IMPORT = "imports/<int:import_id>/"
LEAST_ROLE: dict[str, dict[str, str]] = {
    SESSION: {"get": EVERYBODY, "post": EVERYBODY, "delete": EVERYBODY},
    f"{SESSION}units/": {"post": READER},
    f"{SESSION}password/": {"post": READER},
    f"{SESSION}code/": {"post": READER},
    f"{SESSION}switch/": {"get": READER, "post": READER},
    f"{SESSION}places/": {"get": READER},
    f"{SESSION}places/<slug:session_id>/": {"delete": READER},
    "link/": {"post": EVERYBODY},
    "link/password/": {"post": EVERYBODY},
    "first-lead/": {"post": EVERYBODY},
    "people/": {"get": LEAD, "post": LEAD},
    "people/<int:person_id>/": {"post": LEAD},
    "people/<int:person_id>/link/": {"post": LEAD},
    "people/<int:person_id>/sessions/": {"delete": LEAD},
    "cases/": {"get": READER, "post": TECHNICIAN},
    "cases/import/": {"post": TECHNICIAN},
    CASE: {"get": READER},
    **{f"{CASE}{verb}/": {"post": TECHNICIAN} for verb in ("fuel", "happening", "approach", "access", "close")},
    **{f"{CASE}{verb}/": {"post": TECHNICIAN} for verb in ("reopen", "work", "outcome", "follow-ups", "parts")},
    **{f"{CASE}{verb}/": {"post": TECHNICIAN} for verb in ("said", "tried", "codes", "codes/cleared", "clock")},
    "vehicles/": {"get": READER},
    "outcomes/": {"get": LEAD},
    "own-figures/": {"get": LEAD},
    "learned/": {"get": READER},
    "learned/switch/": {"post": LEAD},
    "learned/reset/": {"post": LEAD},
    "learned/export.csv": {"get": READER},
    "calculators/": {"get": READER},
    "calculators/<slug:calculator>/": {"post": READER},
    "engine-records/": {"get": READER, "post": TECHNICIAN},
    "engine-records/package/": {"get": READER, "post": TECHNICIAN},
    "engine-records/<int:record_id>/": {"get": READER, "post": TECHNICIAN},
    "engine-records/<int:record_id>/minutes/": {"post": TECHNICIAN},
    f"{CAPTURE}beside/": {"get": READER},
    "known-goods/": {"get": READER},
    "known-goods/package/": {"post": TECHNICIAN},
    "known-goods/practice/": {"post": TECHNICIAN},
    "codes/": {"get": READER, "post": TECHNICIAN},
    "codes/<int:code_id>/": {"delete": TECHNICIAN},
    "vehicles/<int:vehicle_id>/": {"post": TECHNICIAN},
    f"{CASE}replay/": {"get": READER},
    f"{CASE}replay/<int:step>/": {"get": READER},
    "follow-ups/": {"get": READER},
    "follow-ups/<int:follow_up_id>/": {"post": TECHNICIAN},
    f"{CASE}imagine/": {"post": READER},
    f"{CASE}observations/": {"post": TECHNICIAN},
    f"{CASE}imports/": {"get": READER, "post": TECHNICIAN},
    IMPORT: {"get": READER, "delete": TECHNICIAN},
    f"{IMPORT}file/": {"put": TECHNICIAN},
    f"{IMPORT}look/": {"post": TECHNICIAN},
    f"{IMPORT}keep/": {"post": TECHNICIAN},
    f"{CASE}forms/": {"get": READER},
    f"{CASE}forms/<slug:test>/": {"post": TECHNICIAN},
    f"{CASE}package/": {"get": READER},
    f"{CASE}decision/": {"post": TECHNICIAN},
    f"{CASE}options/": {"get": READER},
    "prices/": {"get": READER, "post": LEAD},
    f"{CASE}sheet/": {"get": READER},
    f"{CASE}sheet.pdf": {"get": READER},
    f"{CASE}sheet/about/": {"get": READER},
    **{f"{CASE}sheet/{what}/": {"post": TECHNICIAN} for what in ("shown", "links")},
    "sheet-links/<int:link_id>/revoke/": {"post": TECHNICIAN},
    f"{CAPTURE}figures/": {"get": READER, "post": TECHNICIAN},
    "figures/<int:figure_id>/withdraw/": {"post": TECHNICIAN},
    "workshop/": {"get": READER, "post": LEAD},
    "workshop/logo/": {"get": READER, "post": LEAD, "delete": LEAD},
    f"{CASE}pictures/": {"get": READER, "post": TECHNICIAN},
    **{f"pictures/<int:picture_id>/{what}/": {"get": READER} for what in ("file", "thumb")},
    **{f"pictures/<int:picture_id>/{verb}/": {"post": TECHNICIAN} for verb in ("marks", "withdraw")},
    "observations/<int:observation_id>/withdraw/": {"post": TECHNICIAN},
    CAPTURE: {"get": READER},
    f"{CAPTURE}withdraw/": {"post": TECHNICIAN},
    f"{CAPTURE}known-good/": {"post": TECHNICIAN, "delete": TECHNICIAN},
    **{f"{CAPTURE}{what}/": {"get": READER} for what in ("window", "export", "comparable", "pressure", "cycles")},
    **{f"{CAPTURE}{what}/<int:position>/": {"get": READER} for what in ("fold", "reading", "snap")},
    "engines/": {"get": READER},
    "engines/check/": {"post": READER},
    "words/": {"get": READER},
    "trust/": {"get": READER},
    "schema/": {"get": READER},
    "house/": {"get": LEAD},
    BENCH: {"get": TECHNICIAN, "delete": TECHNICIAN},
    f"{BENCH}choices/": {"get": TECHNICIAN},
    f"{BENCH}scan/": {"get": TECHNICIAN, "post": TECHNICIAN},
    f"{BENCH}scan/counts/": {"post": TECHNICIAN},
    f"{BENCH}scan/codes/": {"post": TECHNICIAN, "delete": TECHNICIAN},
    f"{BENCH}plug/": {"post": TECHNICIAN},
    f"{BENCH}watch/": {"post": TECHNICIAN},
    f"{BENCH}balance/": {"post": TECHNICIAN},
    f"{BENCH}inbox/": {"get": TECHNICIAN},
    **{
        f"{BENCH}{verb}/": {"post": TECHNICIAN}
        for verb in ("vehicle", "reveal", "scope", "fuel", "engine", "set-up", "go", "stop", "keep", "balance/keep")
    },
}


ABOUT_MORE_THAN_THE_ROLE = (
    "Only a lead may withdraw what somebody else kept.",
    "Only who sent a file goes on with it.",
)


def refusal_of(answer) -> str:
    """What a person of a role is told that does not allow it; nothing where the body alone is at fault."""
    return answer.json()["what"] if answer.status_code == 403 else ""


def verbs_of(pattern: URLPattern) -> set[str]:
    view = getattr(pattern.callback, "view_class", None) or getattr(pattern.callback, "cls", None)
    return {verb for verb in VERBS if view is not None and hasattr(view, verb)}


ROUTES = {str(p.pattern).removeprefix("api/"): verbs_of(p) for p in urlpatterns if str(p.pattern).startswith("api/")}


@pytest.fixture
def address(case, technician):
    now = timezone.now()
    reading = add_observation(case, test="cranking_speed", data=SPEEDS, by=technician, at=now)
    capture = keep_capture(case, cranking(even_engine((1, 3, 4, 2)), {3: 0.3}), by=technician, at=now)
    sent = begin(case, Sent(name="crank.csv", size=5), by=technician, at=now)
    ids = {
        "import_id": sent.pk,
        "case_id": case.pk,
        "observation_id": reading.pk,
        "capture_id": capture.pk,
        "person_id": technician.pk,
        "vehicle_id": case.visit_of_id,
        "picture_id": keep_picture(case, photo(), by=technician, at=now).pk,
        "link_id": SheetLink.objects.create(
            case=case, digest="0", words="x", expires_at=now, made_by=technician, made_at=now
        ).pk,
        "figure_id": keep_figure(capture, 1, 2, words="x", by=technician, at=now).pk,
        "record_id": describe(Described(label="Hollin Larder", block=case.engine), by=technician, at=now).pk,
        "code_id": add_code("P1699", "x", by=technician, at=now).pk,
        "follow_up_id": add_follow_up(case, "Oil change", date(2030, 1, 2), by=technician, at=now).pk,
    }
    ids |= {"position": 0, "step": 0, "test": "leak_down", "session_id": "none", "calculator": "duty"}
    cache.clear()
    return lambda route: "/api/" + re.sub(r"<\w+:(\w+)>", lambda m: str(ids[m[1]]), route)


def test_every_route_and_verb_is_listed_and_no_more():
    assert {route: set(verbs) for route, verbs in LEAST_ROLE.items()} == ROUTES


@pytest.mark.parametrize("role", RANKS)
def test_a_role_may_what_the_table_says_and_no_more(address, as_user, role):
    who = None if role == NOBODY else person("asking", role)
    asked = [(route, verb) for route, verbs in ROUTES.items() for verb in VERBS if verb in verbs]
    wrong = [
        (route, verb, why) for route, verb in asked if (why := wrong_with(route, verb, role, who, address, as_user))
    ]
    assert wrong == []


def wrong_with(route, verb, role, who, address, as_user):
    """What is wrong with one answer; whatever was asked for is undone."""
    with transaction.atomic():
        answer = getattr(as_user(who), verb)(address(route), {}, content_type="application/json")
        transaction.set_rollback(True)
    if RANKS.index(role) >= RANKS.index(LEAST_ROLE[route][verb]):
        told = refusal_of(answer)
        return (
            "" if answer.status_code < 500 and told in ("", *ABOUT_MORE_THAN_THE_ROLE) else (answer.status_code, told)
        )
    said = "You are not logged in." if role == NOBODY else "may not"
    refused = answer.status_code == 403 and said in answer.content.decode()
    return "" if refused else (answer.status_code, answer.content[:100])


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("role", RANKS)
def test_the_live_view_opens_for_who_may_measure(as_user, role):
    headers = [(b"origin", b"http://localhost"), (b"host", b"localhost")]
    if role != NOBODY:
        cookies, name = as_user(person("asking", role)).cookies, settings.SESSION_COOKIE_NAME
        headers.append((b"cookie", f"{name}={cookies[name].value}".encode()))

    async def opens() -> bool:
        asked = {"type": "websocket", "path": "/ws/bench/", "query_string": b"", "headers": headers, "subprotocols": []}
        talker = ApplicationCommunicator(application, asked)
        await talker.send_input({"type": "websocket.connect"})
        first = await talker.receive_output(timeout=5)
        await talker.send_input({"type": "websocket.disconnect", "code": 1000})
        return first["type"] == "websocket.accept"

    assert async_to_sync(opens)() is (role in (TECHNICIAN, LEAD))

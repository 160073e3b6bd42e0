"""What a lead and a watchdog are told; what the log holds, and what it never holds."""

import json
import logging

import pytest
from django.db import OperationalError, connection
from django.test import Client
from django.utils import timezone

from fairwitness.core.model.engine import even_engine
from fairwitness.formats.engine_block import engine_block
from fairwitness.server.captures.models import EvidenceCheck
from fairwitness.server.keeping import house as houses
from fairwitness.server.keeping.house import errors_in, house
from fairwitness.server.keeping.logs import HEADER, JsonLine, WithNumber


def line(message, **more):
    record = logging.LogRecord("fairwitness.x", logging.ERROR, __file__, 1, message, (), more.get("exc_info"))
    WithNumber().filter(record)
    return JsonLine().format(record)


def test_the_lead_sees_how_the_house_stands(case, lead, as_user, settings, tmp_path):
    settings.BACKUPS = tmp_path
    (tmp_path / "fairwitness-2026-11-29T031500Z.sqlite3").touch()
    EvidenceCheck.objects.create(
        case=case, at=timezone.now(), captures=1, readings=0, lines=1, changed=["capture x: y"]
    )
    told = as_user(lead).get("/api/house/").json()
    assert told["last_backup"] == "2026-11-29T03:15:00Z"
    assert told["changed"] == ["Bus 3 shakes: capture x: y"]
    assert told["free_bytes"] > 0


def test_little_room_is_said_early(db, settings, monkeypatch):
    monkeypatch.setattr(houses.shutil, "disk_usage", lambda _: type("Usage", (), {"free": houses.ROOM_LOW_BYTES - 1}))
    assert house().room_low
    monkeypatch.setattr(houses.shutil, "disk_usage", lambda _: type("Usage", (), {"free": 10**12}))
    assert not house().room_low


def test_the_last_errors_come_first_and_half_lines_are_left_out(tmp_path):
    log = tmp_path / "errors.log"
    log.write_text("\n".join([line("first"), line("second"), '{"at": "cut o']))
    assert [e["what"] for e in errors_in(log)] == ["second", "first"]
    assert errors_in(tmp_path / "none") == []


def test_a_line_is_json_with_its_trace_and_without_a_secret():
    try:
        raise ValueError("of a fault")
    except ValueError as error:
        told = json.loads(line("GET /link/a-secret-of-somebody", exc_info=(ValueError, error, error.__traceback__)))
    assert "ValueError: of a fault" in told["trace"]
    assert told["what"] == "GET /link/..."


def test_every_answer_has_a_number_of_its_own(db, client):
    numbers = {client.get("/api/session/")[HEADER] for _ in range(3)}
    assert len(numbers) == 3


def test_an_unexpected_error_shows_its_number_and_leaves_its_trace(technician, as_user, monkeypatch, caplog):
    from fairwitness.server.cases import answers

    def breaks(*_, **__):
        raise RuntimeError("nobody foresaw this")

    monkeypatch.setattr(answers, "board", breaks)
    browser = as_user(technician)
    browser.raise_request_exception = False
    opened = browser.post(
        "/api/cases/",
        {"title": "x", "engine": engine_block(even_engine((1, 3, 4, 2)))},
        content_type="application/json",
    )
    with caplog.at_level(logging.ERROR):
        answer = browser.get(f"/api/cases/{opened.json()['id']}/")
    assert answer.status_code == 500
    assert answer[HEADER] in answer.json()["sentence"]
    assert any("nobody foresaw this" in str(r.exc_info) for r in caplog.records)


@pytest.mark.parametrize("address", ["/health/alive/", "/health/ready/"])
def test_health_is_open_to_everybody(db, address):
    assert Client().get(address).status_code == 200


def test_a_database_that_does_not_answer_is_not_ready(db, monkeypatch):
    def fails(*_):
        raise OperationalError("unable to open database file")

    with monkeypatch.context() as broken:
        broken.setattr(connection, "cursor", fails)
        answer = Client().get("/health/ready/")
    assert (answer.status_code, answer.json()["ready"]) == (503, False)
    assert "unable to open" in answer.json()["why"]

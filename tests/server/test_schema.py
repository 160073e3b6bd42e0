"""Anything the schema allows, and much that it does not, as each role: no fault of ours, no answer that is not told."""

from __future__ import annotations

import json
from pathlib import Path
from urllib.parse import urlencode

import pytest
import schemathesis
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import Client
from django.utils import timezone
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis import GenerationMode

from fairwitness.core.model.engine import even_engine
from fairwitness.server.accounts.models import Role
from fairwitness.server.captures.services import keep_capture
from tests.conftest import cranking
from tests.server.conftest import person

SCHEMA = schemathesis.openapi.from_path(Path(__file__).resolve().parents[2] / "docs" / "openapi.yaml")
OPERATIONS = {result.ok().label: result.ok() for result in SCHEMA.get_all_operations()}
ROLES = (Role.READER, Role.TECHNICIAN, Role.LEAD)
EACH = 6
"""Requests of one operation as one role: the whole walk takes a minute or two."""


@pytest.fixture
def shop(case, technician):
    capture = keep_capture(case, cranking(even_engine((1, 3, 4, 2))), by=technician, at=timezone.now())
    return {"case_id": case.pk, "capture_id": capture.pk, "person_id": technician.pk, "position": 0}


@pytest.mark.parametrize("role", ROLES)
def test_no_fault_of_ours_and_no_answer_that_is_not_told(shop, role):
    asking = person("asking", role)
    assert [wrong for operation in OPERATIONS.values() for wrong in wrong_with(operation, asking, shop)] == []


def wrong_with(operation, asking, shop):
    """Answers of one operation that nobody was told of; whatever was asked for is undone."""
    told, wrong = operation.definition.raw["responses"], []
    modes = st.one_of(*(operation.as_strategy(generation_mode=mode) for mode in GenerationMode))

    @settings(
        max_examples=EACH, deadline=None, database=None, derandomize=True, phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )  # fmt: skip
    @given(case=modes, known=st.booleans())
    def ask(case, known):
        if known:
            own = {name: shop[name] for name in case.path_parameters or {} if name in shop}
            case.path_parameters = {**(case.path_parameters or {}), **own}
        with transaction.atomic():
            browser = Client(raise_request_exception=False)
            browser.force_login(asking)
            answer = send(browser, case)
            transaction.set_rollback(True)
        said = b"" if answer.status_code < 400 else answer.content[:200]
        if answer.status_code == 500 or str(answer.status_code) not in told or said.startswith(b"<"):
            wrong.append((operation.label, answer.status_code, said))

    ask()
    return wrong


def send(browser, case):
    query = urlencode({k: str(v) for k, v in (case.query or {}).items()}, doseq=True, errors="replace")
    address = case.formatted_path.encode("utf-8", "replace").decode()
    ask = getattr(browser, case.method.lower())
    where = f"{address}?{query}" if query else address
    if case.method.lower() == "get":
        return ask(where)
    if case.media_type == "multipart/form-data":
        fields = case.body if isinstance(case.body, dict) else {}
        given = {k: _as_file(v) if k == "file" else str(v) for k, v in fields.items()}
        return browser.post(where, given)
    body = None if type(case.body).__name__ == "NotSet" else case.body
    return ask(where, json.dumps(body, default=repr).encode(errors="replace"), content_type="application/json")


def _as_file(value):
    data = value if isinstance(value, bytes) else str(value).encode(errors="replace")
    return SimpleUploadedFile("some.csv", data)

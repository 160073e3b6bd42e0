"""Bodies before they are read: nobody unknown fills the disk, nothing half-sent is waited for."""

import asyncio
import json

import pytest
from asgiref.testing import ApplicationCommunicator
from django.conf import settings
from django.test import Client

from fairwitness.server.bodies import ANONYMOUS_BYTES_MAX, GuardedBodies

UPLOAD = [(b"content-type", b"multipart/form-data; boundary=x")]


async def counting(scope, receive, send):
    """An application that reads its body to the end and says how long it was, unless the sender goes."""
    total, more = 0, True
    while more:
        message = await receive()
        if message["type"] == "http.disconnect":
            return
        total, more = total + len(message["body"]), message.get("more_body", False)
    await send({"type": "http.response.start", "status": 200, "headers": []})
    await send({"type": "http.response.body", "body": str(total).encode()})


def exchange(pieces, headers=(), *, ends=True, pause_s=5.0):
    """Status and body of the answer to a request whose body comes in pieces."""

    async def run():
        scope = {"type": "http", "method": "POST", "path": "/api/cases/import/", "headers": list(headers)}
        client = ApplicationCommunicator(GuardedBodies(counting, pause_s=pause_s), scope)
        for i, piece in enumerate(pieces):
            more = i + 1 < len(pieces) or not ends
            await client.send_input({"type": "http.request", "body": piece, "more_body": more})
        start = await client.receive_output(timeout=10)
        body = (await client.receive_output(timeout=10))["body"]
        await client.wait()
        return start["status"], json.loads(body)

    return asyncio.run(run())


@pytest.fixture
def cookie(transactional_db, technician):
    browser = Client()
    browser.force_login(technician)
    return (b"cookie", f"{settings.SESSION_COOKIE_NAME}={browser.session.session_key}".encode())


def test_a_body_within_its_limit_comes_through_whole():
    assert exchange([b"a" * 1000, b"b" * 234]) == (200, 1234)


@pytest.mark.parametrize("said", [True, False])
def test_somebody_unknown_sends_no_more_than_a_log_in_needs(said):
    length = [(b"content-length", str(ANONYMOUS_BYTES_MAX + 1).encode())] if said else []
    status, answer = exchange([] if said else [b"a" * 50_000] * 2, [*UPLOAD, *length])
    assert (status, answer["code"]) == (403, "not_logged_in")


@pytest.mark.parametrize("key", [b"", b"0" * 32, b"../../etc", b'"'])
def test_a_session_that_is_none_counts_as_nobody(transactional_db, key):
    forged = (b"cookie", settings.SESSION_COOKIE_NAME.encode() + b"=" + key)
    assert exchange([b"a" * 70_000], [*UPLOAD, forged])[0] == 403


def test_somebody_known_uploads_files_and_no_huge_json(cookie):
    assert exchange([b"a" * 5_000_000], [*UPLOAD, cookie]) == (200, 5_000_000)
    status, answer = exchange([b"a" * 5_000_000], [(b"content-type", b"application/json"), cookie])
    assert (status, answer["code"]) == (413, "too_large")


def test_more_than_any_recording_is_refused_before_it_is_sent(cookie):
    status, answer = exchange([], [*UPLOAD, cookie, (b"content-length", b"9000000000")])
    assert (status, answer["code"]) == (413, "too_large")


def test_a_body_that_stops_half_way_is_given_up():
    status, answer = exchange([b"half"], ends=False, pause_s=0.05)
    assert (status, answer["code"]) == (408, "too_slow")


def test_an_answer_that_takes_long_is_not_broken_off():
    async def slow(scope, receive, send):
        await receive()
        await asyncio.sleep(0.2)
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await send({"type": "http.response.body", "body": b"1"})

    async def run():
        scope = {"type": "http", "method": "GET", "path": "/", "headers": []}
        client = ApplicationCommunicator(GuardedBodies(slow, pause_s=0.05), scope)
        await client.send_input({"type": "http.request", "body": b"", "more_body": False})
        return (await client.receive_output(timeout=10))["status"]

    assert asyncio.run(run()) == 200

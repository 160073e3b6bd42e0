import asyncio
import json

import pytest
from asgiref.testing import ApplicationCommunicator
from channels.routing import URLRouter
from django.contrib.auth.models import AnonymousUser
from django.test import Client
from django.utils import timezone

from fairwitness.core.model.capture import CaptureTest
from fairwitness.server.accounts import people
from fairwitness.server.bench.live import HEAD, LIVE_ROUTES, NO_SUCH_ADDRESS, UNKNOWN_PERSON, LiveBench
from fairwitness.server.bench.services import bench_of, put_in_bay, set_fuel


def talk(user, script, **scope):
    """One onlooker; the script gets a way to receive once it was let in."""

    async def run():
        asked = {"type": "websocket", "path": "/ws/bench/", "user": user, **scope}
        talker = ApplicationCommunicator(LiveBench.as_asgi(), asked)
        await talker.send_input({"type": "websocket.connect"})
        first = await talker.receive_output(timeout=5)
        if first["type"] == "websocket.close":
            return first["code"]
        try:
            return await script(lambda: talker.receive_output(timeout=10))
        finally:
            await talker.send_input({"type": "websocket.disconnect", "code": 1000})
            await talker.wait(timeout=5)

    return asyncio.run(run())


@pytest.mark.django_db(transaction=True)
def test_state_and_samples_come_over_the_socket(technician):
    put_in_bay(technician, case=None, engine="drover-2.0", fault="", hot=True, at=timezone.now())
    bench = bench_of(technician)
    bench.connect_scope()
    set_fuel(technician, disabled=True, at=timezone.now())
    bench.set_up(CaptureTest.RELATIVE_COMPRESSION, ())

    async def script(receive):
        state = json.loads((await receive())["text"])
        assert state["stage"] == "set_up"
        await asyncio.to_thread(bench.go, [c.id for c in bench.card.checks])
        columns, stages = 0, []
        while "captured" not in stages or columns < bench.recording.total // 10:
            message = await receive()
            if message.get("text"):
                stages.append(json.loads(message["text"])["stage"])
            else:
                data = message["bytes"]
                _, first, step, channels = HEAD.unpack_from(data)
                assert first == columns * step  # no gap, nothing twice
                columns += (len(data) - HEAD.size) // 8 // channels
        return stages, columns

    stages, columns = talk(technician, script)
    assert "recording" in stages
    assert columns == bench.recording.total // 10


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("who", ["nobody", "reader"])
def test_only_who_may_work_at_the_bench_is_let_in(who, reader):
    user = reader if who == "reader" else AnonymousUser()

    async def script(receive):
        return "let in"

    assert talk(user, script) == 4401


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("how", ["blocked", "logged out", "another role"])
def test_whoever_may_no_longer_look_on_is_shut_out(technician, lead, monkeypatch, how):
    monkeypatch.setattr("fairwitness.server.bench.live.STILL_S", 0.05)
    put_in_bay(technician, case=None, engine="drover-2.0", fault="", hot=True, at=timezone.now())
    browser = Client()
    browser.force_login(technician)
    session = browser.session

    async def script(receive):
        assert "text" in await receive()
        change = {
            "blocked": lambda: people.set_blocked("tess", blocked=True),
            "logged out": lambda: browser.logout(),
            "another role": lambda: people.set_role("tess", "reader"),
        }[how]
        await asyncio.to_thread(change)
        while (message := await receive())["type"] != "websocket.close":
            pass
        return message["code"]

    assert talk(technician, script, session=session) == UNKNOWN_PERSON


def test_an_address_that_is_none_is_closed_and_raises_nothing():
    async def run():
        talker = ApplicationCommunicator(URLRouter(LIVE_ROUTES), {"type": "websocket", "path": "/ws/nothing"})
        await talker.send_input({"type": "websocket.connect"})
        return await talker.receive_output(timeout=5)

    assert asyncio.run(run())["code"] == NO_SUCH_ADDRESS

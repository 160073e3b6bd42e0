import asyncio
import json

import pytest
from asgiref.testing import ApplicationCommunicator
from django.contrib.auth.models import AnonymousUser
from django.utils import timezone

from fairwitness.core.model.capture import CaptureTest
from fairwitness.server.bench.live import HEAD, LiveBench
from fairwitness.server.bench.services import bench_of, put_in_bay, set_fuel


def talk(user, script):
    """One onlooker; the script gets a way to receive once it was let in."""

    async def run():
        talker = ApplicationCommunicator(LiveBench.as_asgi(), {"type": "websocket", "path": "/ws/bench/", "user": user})
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

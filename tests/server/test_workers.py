"""Two workers as an installation runs them: one bench, one count of wrong passwords, a bench that comes back."""

import asyncio
import json
import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from websockets.asyncio.client import connect

sys.path.insert(0, str(Path(__file__).resolve().parents[2] / "scripts"))

from shop import Person, Shop, until


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    """Served by two workers."""
    served = Shop(tmp_path_factory.mktemp("workers") / "shop", workers=2)
    try:
        assert "Nobody leads" in served.start()
        yield served
    finally:
        assert served.end() in (0, -signal.SIGTERM)
    assert not (served.folder / "bench.sock").exists()


@pytest.fixture(scope="module")
def nell(shop):
    person = shop.add("nell", "lead")
    until(lambda: person.ask("/api/bench/")[0] == 200, "the bench answers")
    return person


def test_every_look_sees_the_same_bench(nell):
    status, bench = nell.ask("/api/bench/vehicle/", {"vehicle": "drover-2.0", "fault": "", "hot": False})
    assert status == 200, bench
    looks = [nell.ask("/api/bench/")[1]["vehicle"] for _ in range(30)]
    assert looks == [looks[0]] * 30
    assert looks[0]


def test_the_live_view_comes_through(nell, shop):
    address = shop.address.replace("http", "ws")

    async def first():
        headers = {"Cookie": nell.cookies(), "Origin": shop.address}
        async with connect(f"{address}/ws/bench/", additional_headers=headers, proxy=None) as line:
            return json.loads(await asyncio.wait_for(line.recv(), 20))

    assert asyncio.run(first())["vehicle"]


def test_a_refusal_of_the_bench_comes_through_with_its_words(nell):
    status, said = nell.ask("/api/bench/vehicle/", {"vehicle": "no such", "fault": "", "hot": False})
    assert (status, said["what"]) == (400, "There is no such vehicle.")


def test_wrong_passwords_count_in_both_workers_together(nell, shop):
    stranger = Person(shop.address)
    stranger.ask("/api/session/")
    answers = [stranger.ask("/api/session/", {"username": "ghost", "password": "guess"})[0] for _ in range(12)]
    assert answers == [400] * 10 + [429] * 2


def test_a_bench_that_died_is_said_and_comes_back(nell, shop):
    listening = subprocess.run(
        ["pgrep", "-f", str(shop.folder / "bench.sock")], capture_output=True, text=True, check=True
    )
    os.kill(int(listening.stdout.split()[0]), signal.SIGKILL)
    seen = []

    def back():
        seen.append(nell.ask("/api/bench/"))
        return seen[-1][0] == 200

    until(back, "the bench comes back")
    assert {code for code, _ in seen} <= {200, 503}
    assert all(said["code"] == "bench_away" for code, said in seen if code == 503)
    assert nell.ask("/api/cases/")[0] == 200

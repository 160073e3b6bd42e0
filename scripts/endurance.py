"""A workshop under what happens to one: killed at any moment, stopped in mid-upload, locked, full, read-only, busy.

Writes a line of figures for each; ``--only`` names some. A full disk needs the right to mount a small one.
"""

from __future__ import annotations

import argparse
import random
import resource
import signal
import socket
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from contextlib import closing, contextmanager
from http.client import HTTPException
from pathlib import Path

from shop import Person, Shop, until

ENGINE = {
    "label": "Hollin Drover 2.0", "cylinders": 4, "firing_order": [1, 3, 4, 2], "fuel": "petrol",
    "ignition": "coil_on_plug", "injection": "port",
}  # fmt: skip
SPEEDS = {"readings": [{"text": "seen"}]}
DATABASE = "fairwitness.sqlite3"


def a_case(person: Person) -> int:
    """A new case; its number."""
    status, said = person.ask("/api/cases/", {"title": "Bus 3", "engine": ENGINE})
    if status != 201:
        raise RuntimeError(said)
    return int(said["id"])


def work(person: Person, case: int, number: int) -> tuple[str, int]:
    """One small piece of work, that is found again by its text."""
    text = f"piece {number}"
    status, _ = person.ask(f"/api/cases/{case}/observations/", {"test": "note", "data": {"text": text}})
    return text, status


def texts_kept(folder: Path) -> set[str]:
    """Texts in the database, read beside the server."""
    with closing(sqlite3.connect(folder / DATABASE)) as opened:
        found = opened.execute("SELECT json_extract(data, '$.text') FROM cases_storedobservation").fetchall()
        if opened.execute("PRAGMA integrity_check").fetchone() != ("ok",):
            raise RuntimeError("damaged")
    return {text for (text,) in found if text}


def killed(folder: Path, rounds: int) -> str:
    """Killed at a random moment while four people write; everything acknowledged must be there."""
    shop, rng = Shop(folder / "killed"), random.Random(1)
    shop.start()
    people = [shop.add(f"person{i}", "lead") for i in range(4)]
    case, acknowledged, broken = a_case(people[0]), set(), 0
    for turn in range(rounds):
        stop = threading.Event()

        def write(person: Person, first: int, stop: threading.Event = stop) -> None:
            number = first
            while not stop.is_set():
                try:
                    text, status = work(person, case, number)
                except (OSError, HTTPException):  # it was killed under the request
                    return
                if status == 201:
                    acknowledged.add(text)
                number += 1

        threads = [threading.Thread(target=write, args=(p, turn * 10**6 + i * 10**5)) for i, p in enumerate(people)]
        for thread in threads:
            thread.start()
        time.sleep(rng.uniform(0.3, 3.0))
        shop.end(signal.SIGKILL)
        stop.set()
        for thread in threads:
            thread.join()
        broken += not acknowledged <= texts_kept(shop.folder)
        shop.start()
    checked = shop.command("check")
    shop.end()
    said = checked.stdout.strip() or checked.stderr.strip()
    return f"killed {rounds} times: {len(acknowledged)} acknowledged, {broken} times something was missing; {said}"


def stopped_in_mid_upload(folder: Path) -> str:
    """Asked to stop while half of a file has come."""
    shop = Shop(folder / "stopped")
    shop.start()
    person = shop.add("nell", "lead")
    case = a_case(person)
    head = (f"POST /api/cases/{case}/captures/ HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: {person.cookies()}\r\n"
            "Content-Type: multipart/form-data; boundary=x\r\nContent-Length: 50000000\r\n\r\n--x\r\n")  # fmt: skip
    with socket.create_connection(("127.0.0.1", shop.port)) as line:
        line.sendall(head.encode() + b"y" * 1_000_000)
        began = time.monotonic()
        code = shop.end()
    took = time.monotonic() - began
    left = [p.name for p in shop.folder.rglob("*.upload*")]
    return f"stopped in mid-upload: ended with {code} after {took:.1f} s, {len(left)} half files left"


def locked(folder: Path, seconds: float = 30.0) -> str:
    """The database held by somebody else for longer than anybody waits."""
    shop = Shop(folder / "locked")
    shop.start()
    person = shop.add("nell", "lead")
    case = a_case(person)
    with closing(sqlite3.connect(shop.folder / DATABASE, isolation_level=None)) as holding:
        holding.execute("BEGIN IMMEDIATE")
        began = time.monotonic()
        status, said = person.ask(f"/api/cases/{case}/observations/", {"test": "note", "data": {"text": "x"}})
        waited = time.monotonic() - began
        reading = person.ask(f"/api/cases/{case}/")[0]
        time.sleep(max(0.0, seconds - waited))
        holding.execute("ROLLBACK")
    after = work(person, case, 1)[1]
    shop.end()
    return (f"locked for {seconds:.0f} s: writing answered {status} after {waited:.0f} s, “{said.get('sentence')}”; "
            f"reading answered {reading}, writing after it {after}")  # fmt: skip


@contextmanager
def small_disk(folder: Path, megabytes: int):
    """A disk of its own that is full soon."""
    folder.mkdir(parents=True)
    subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={megabytes}m", "tmpfs", str(folder)], check=True)
    try:
        yield folder
    finally:
        subprocess.run(["umount", "-l", str(folder)], check=True)


def full(folder: Path) -> str:
    """Written until the disk is full; what was acknowledged is there, and work goes on once there is room."""
    with small_disk(folder / "full", 24) as disk:
        shop = Shop(disk / "shop")
        shop.start()
        person = shop.add("nell", "lead")
        case, kept = a_case(person), set()
        filler = disk / "filler"
        free = 10**9
        while free > 300_000:
            with filler.open("ab") as out:
                try:
                    out.write(b"x" * min(500_000, max(free - 250_000, 10_000)))
                except OSError:
                    break
            free = int(subprocess.run(["df", "--output=avail", "-B1", str(disk)], capture_output=True, text=True,
                                      check=True).stdout.split()[-1])  # fmt: skip
        status, said = 201, {}
        for number in range(400):
            body = {"test": "note", "data": {"text": f"piece {number} " + "z" * 3000}}
            status, said = person.ask(f"/api/cases/{case}/observations/", body)
            if status != 201:
                break
            kept.add(body["data"]["text"])
        filler.unlink()
        after = work(person, case, 9999)[1]
        lost = kept - texts_kept(shop.folder)
        shop.end()
    words = said.get("sentence") if isinstance(said, dict) else said
    return (f"full disk: {len(kept)} acknowledged, {len(lost)} missing; the next answered {status}, “{words}”; "
            f"with room again {after}")  # fmt: skip


def read_only(folder: Path) -> str:
    """A database nobody may write, as after a disk that remounts itself."""
    with small_disk(folder / "readonly", 64) as disk:
        shop = Shop(disk / "shop")
        shop.start()
        person = shop.add("nell", "lead")
        case = a_case(person)
        work(person, case, 1)
        shop.end()
        subprocess.run(["mount", "-o", "remount,ro", str(disk)], check=True)
        refused = shop.command("users", "add", "otto", typed="a-long-test-word")
        served = shop.command("serve", "--port", str(shop.port))
        subprocess.run(["mount", "-o", "remount,rw", str(disk)], check=True)
    return f"read-only disk: users add said “{refused.stderr.strip()}”, serve said “{served.stderr.strip()[-200:]}”"


def soak(folder: Path, minutes: float) -> str:
    """Eight people for a while with two workers: boards, lists, notes, bench and exports."""
    shop = Shop(folder / "soak", workers=2)
    shop.start()
    people = [shop.add(f"person{i}", "lead") for i in range(8)]
    until(lambda: people[0].ask("/api/bench/")[0] == 200, "the bench answers")
    cases = [a_case(person) for person in people]
    light: list[float] = []
    codes: Counter[int] = Counter()
    memory: list[float] = []
    over = time.monotonic() + 60 * minutes

    def day(person: Person, case: int, seed: int) -> None:
        rng, number = random.Random(seed), 0
        while time.monotonic() < over:
            number += 1
            asked = rng.choice(["/api/cases/", f"/api/cases/{case}/", "/api/words/", "/api/session/", "/api/bench/"])
            began = time.monotonic()
            codes[person.ask(asked)[0]] += 1
            light.append(time.monotonic() - began)
            if number % 20 == 0:
                codes[work(person, case, number)[1]] += 1
            if number % 60 == 0:
                codes[person.ask(f"/api/cases/{case}/package/")[0]] += 1
            time.sleep(rng.uniform(0.2, 1.0))

    threads = [threading.Thread(target=day, args=(p, c, i)) for i, (p, c) in enumerate(zip(people, cases, strict=True))]
    for thread in threads:
        thread.start()
    while any(thread.is_alive() for thread in threads):
        memory.append(_resident_mb(shop.server.pid if shop.server else 0))
        time.sleep(min(15.0, 6 * minutes))
    shop.end()
    p95 = statistics.quantiles(light, n=20)[-1]
    errors = sum(count for code, count in codes.items() if code >= 400)
    return (f"eight people for {minutes:g} min with two workers: {sum(codes.values())} requests, {errors} errors, "
            f"p95 of light ones {p95:.2f} s, memory {memory[0]:.0f} MB first, {memory[-1]:.0f} MB last")  # fmt: skip


def _resident_mb(root: int) -> float:
    """Resident memory of a process and all below it."""
    told = subprocess.run(["ps", "-e", "-o", "pid=,ppid=,rss="], capture_output=True, text=True, check=True).stdout
    rows = [tuple(map(int, line.split())) for line in told.splitlines()]
    wanted = {root}
    for _ in range(6):
        wanted |= {pid for pid, parent, _ in rows if parent in wanted}
    return sum(rss for pid, _, rss in rows if pid in wanted) / 1024


def main() -> int:
    """Run what is asked for, a line each."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--only", nargs="*", default=["killed", "stopped", "locked", "full", "read_only", "soak"])
    parser.add_argument("--rounds", type=int, default=100)
    parser.add_argument("--minutes", type=float, default=30.0)
    given = parser.parse_args()
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    with tempfile.TemporaryDirectory() as made:
        folder = Path(made)
        known = {
            "killed": lambda: killed(folder, given.rounds),
            "stopped": lambda: stopped_in_mid_upload(folder),
            "locked": lambda: locked(folder),
            "full": lambda: full(folder),
            "read_only": lambda: read_only(folder),
            "soak": lambda: soak(folder, given.minutes),
        }
        for name in given.only:
            print(known[name](), flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())

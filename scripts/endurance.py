"""A workshop under what happens to one: killed at any moment, stopped in mid-upload, locked, full, read-only, busy.

Writes a line of figures for each; ``--only`` names some. A full disk needs the right to mount a small one.
"""

from __future__ import annotations

import argparse
import gzip
import random
import resource
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

import long_imports
from busy import restored, soak, three_imports
from shop import CLI, Shop, until
from shop_work import (
    DATABASE,
    PLAN,
    a_case,
    a_crank,
    imports_packages,
    keeps_captures,
    noted,
    stored,
    until_stopped,
    writes_notes,
)

EARLIER = Path(__file__).resolve().parents[1] / "tests" / "data" / "shop-0.1.0.sqlite3.gz"


def killed(folder: Path, rounds: int) -> str:
    """Killed at a random moment of notes, captures and imports; everything acknowledged must be there."""
    shop, rng = Shop(folder / "killed"), random.Random(1)
    shop.start()
    people = [shop.add(f"person{i}", "lead") for i in range(4)]
    case, acknowledged, broken = a_case(people[0]), set(), 0
    keeps_captures(people[2], case)(0)
    package = people[3].ask(f"/api/cases/{case}/package/")[1]
    others = [keeps_captures(people[2], a_case(people[2])), imports_packages(people[3], package)]
    works = [writes_notes(people[0], case), writes_notes(people[1], case), *others]
    for turn in range(rounds):
        stop = threading.Event()
        known = len(acknowledged)
        threads = until_stopped(works, (turn + 1) * 10**6, stop, acknowledged)
        until(lambda known=known: len(acknowledged) > known, "the first piece of the round")
        time.sleep(rng.uniform(0.0, 2.0))
        shop.end(signal.SIGKILL)
        stop.set()
        for thread in threads:
            thread.join()
        broken += not acknowledged <= stored(shop.folder)
        shop.start()
    checked = shop.command("check")
    shop.end()
    kinds = Counter(piece.kind for piece in acknowledged)
    counts = ", ".join(f"{count} {kind}s" for kind, count in sorted(kinds.items()))
    said = checked.stdout.strip() or checked.stderr.strip()
    return f"killed {rounds} times: {counts} acknowledged, {broken} times something was missing; {said}"


def migrated(folder: Path, rounds: int) -> str:
    """Killed while the database of an earlier version is brought up to date; the next start must finish it."""
    rng, failed, cases = random.Random(2), 0, Counter()
    for turn in range(rounds):
        shop = Shop(folder / f"migrated-{turn}")
        shop.folder.mkdir(parents=True)
        (shop.folder / DATABASE).write_bytes(gzip.decompress(EARLIER.read_bytes()))
        shop.begin()
        time.sleep(rng.uniform(0.5, 4.0))
        shop.end(signal.SIGKILL)
        shop.start()
        person = shop.add("nell", "lead")
        listed = person.ask("/api/cases/")[1]["cases"]
        boards = [person.ask(f"/api/cases/{c['id']}/")[0] for c in listed]
        cases[len(listed)] += 1
        failed += any(code != 200 for code in boards) or shop.command("check").returncode != 0
        shop.end()
    seen = ", ".join(f"{count} times {cases_} cases" for cases_, count in cases.items())
    return f"killed {rounds} times while an earlier database is brought up to date: {failed} failed; {seen}"


def kept_copies(folder: Path, rounds: int) -> str:
    """Killed while a backup is made; what has the name of a backup must be whole."""
    shop, rng, whole = Shop(folder / "copies"), random.Random(3), 0
    shop.start()
    person = shop.add("nell", "lead")
    case = a_case(person)
    for number in range(20):
        keeps_captures(person, case)(number)
    into, damaged = folder / "into", 0
    for _ in range(rounds):
        making = subprocess.Popen(
            [*CLI, "backup", str(into), "--keep", "0"],
            env=shop.env,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        time.sleep(rng.uniform(0.2, 1.6))
        making.kill()
        making.wait()
    for backup in sorted(into.glob("*.sqlite3")):
        with closing(sqlite3.connect(backup)) as opened:
            good = opened.execute("PRAGMA integrity_check").fetchone() == ("ok",)
            good = good and opened.execute("SELECT count(*) FROM captures_storedcapture").fetchone() == (20,)
        whole, damaged = whole + good, damaged + (not good)
    shop.end()
    return f"killed {rounds} times while a backup is made: {whole} finished and whole, {damaged} damaged"


def stopped_in_mid_upload(folder: Path) -> str:
    """Asked to stop while half of a file has come."""
    shop = Shop(folder / "stopped")
    shop.start()
    person = shop.add("nell", "lead")
    announced = {"name": "half.csv", "size": 50_000_000}
    number = person.ask(f"/api/cases/{a_case(person)}/imports/", announced)[1]["id"]
    head = (f"PUT /api/imports/{number}/file/?offset=0 HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: {person.cookies()}\r\n"
            "Content-Type: application/octet-stream\r\nContent-Length: 4000000\r\n\r\n")  # fmt: skip
    with socket.create_connection(("127.0.0.1", shop.port)) as line:
        line.sendall(head.encode() + b"y" * 1_000_000)
        began = time.monotonic()
        code = shop.end()
    took = time.monotonic() - began
    left = [p for p in shop.folder.rglob("*.file") if p.stat().st_size] + list(shop.folder.rglob("*.upload*"))
    return f"stopped in mid-upload: ended with {code} after {took:.1f} s, {len(left)} half pieces left"


def locked(folder: Path, seconds: float = 30.0) -> str:
    """The database held by somebody else for longer than anybody waits."""
    shop = Shop(folder / "locked")
    shop.start()
    person = shop.add("nell", "lead")
    case = a_case(person)
    with closing(sqlite3.connect(shop.folder / DATABASE, isolation_level=None)) as holding:
        holding.execute("BEGIN IMMEDIATE")
        began = time.monotonic()
        _, status, said = noted(person, case, 0)
        waited = time.monotonic() - began
        reading = person.ask(f"/api/cases/{case}/")[0]
        time.sleep(max(0.0, seconds - waited))
        holding.execute("ROLLBACK")
    after = noted(person, case, 1)[1]
    shop.end()
    words = said.get("sentence") if isinstance(said, dict) else said
    return (f"locked for {seconds:.0f} s: writing answered {status} after {waited:.0f} s, “{words}”; "
            f"reading answered {reading}, writing after it {after}")  # fmt: skip


@contextmanager
def small_disk(folder: Path, megabytes: int) -> Iterator[Path]:
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
        _fill(disk, filler)
        status, said = 201, {}
        for number in range(400):
            piece, status, said = noted(person, case, number, " " + "z" * 3000)
            if status != 201:
                break
            kept.add(piece)
        by_capture = person.keep_file(case, "crank.csv", a_crank(1, 60_000), PLAN)[0]
        filler.unlink()
        after = noted(person, case, 9999)[1]
        lost = kept - stored(shop.folder)
        shop.end()
    words = said.get("sentence") if isinstance(said, dict) else said
    return (f"full disk: {len(kept)} acknowledged, {len(lost)} missing; the next answered {status}, “{words}”, an "
            f"upload {by_capture}; with room again {after}")  # fmt: skip


def _fill(disk: Path, filler: Path) -> None:
    """All but a quarter of a megabyte."""
    free = 10**9
    while free > 300_000:
        with filler.open("ab") as out:
            try:
                out.write(b"x" * min(500_000, max(free - 250_000, 10_000)))
            except OSError:
                return
        told = subprocess.run(["df", "--output=avail", "-B1", str(disk)], capture_output=True, text=True, check=True)
        free = int(told.stdout.split()[-1])


def read_only(folder: Path) -> str:
    """A database nobody may write, as after a disk that remounts itself."""
    with small_disk(folder / "readonly", 64) as disk:
        shop = Shop(disk / "shop")
        shop.start()
        person = shop.add("nell", "lead")
        noted(person, a_case(person), 1)
        shop.end()
        subprocess.run(["mount", "-o", "remount,ro", str(disk)], check=True)
        refused = shop.command("users", "add", "otto", typed="a-long-test-word")
        served = shop.command("serve", "--port", str(shop.port))
        subprocess.run(["mount", "-o", "remount,rw", str(disk)], check=True)
    return f"read-only disk: users add said “{refused.stderr.strip()}”, serve said “{served.stderr.strip()[-200:]}”"


def main() -> int:
    """Run what is asked for, a line each."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--only", nargs="*", default=None)
    parser.add_argument("--rounds", type=int, default=100)
    parser.add_argument("--minutes", type=float, default=30.0)
    given = parser.parse_args()
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    with tempfile.TemporaryDirectory() as made:
        folder = Path(made)
        known = {
            "killed": lambda: killed(folder, given.rounds),
            "migrated": lambda: migrated(folder, max(1, given.rounds // 5)),
            "copies": lambda: kept_copies(folder, max(1, given.rounds // 5)),
            "stopped": lambda: stopped_in_mid_upload(folder),
            "locked": lambda: locked(folder),
            "full": lambda: full(folder),
            "read_only": lambda: read_only(folder),
            "imports": lambda: three_imports(folder),
            "beside": lambda: long_imports.beside_people(folder),
            "killed_imports": lambda: long_imports.killed(folder, max(1, 2 * given.rounds // 5)),
            "restored": lambda: restored(folder),
            "soak": lambda: soak(folder, given.minutes),
        }
        for name in given.only or known:
            print(known[name](), flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())

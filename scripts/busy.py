"""A workshop at work: eight people for a while, three long recordings at once, a backup taken meanwhile."""

from __future__ import annotations

import random
import statistics
import subprocess
import threading
import time
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from shop import Person, Shop, until
from shop_work import PLAN, Piece, a_case, keeps_captures, noted, stored, until_stopped, writes_notes

LONG = 256_000_000


def three_imports(folder: Path, samples: int = LONG) -> str:
    """Three long recordings kept at once while a colleague writes notes: nobody is turned away."""
    shop = Shop(folder / "imports", workers=2)
    shop.start()
    people = [shop.add(f"person{i}", "lead") for i in range(4)]
    recordings = [_recording(folder / f"long{i}.parquet", samples, i) for i in range(3)]
    plan = PLAN | {"sample_rate_hz": 500_000.0, "columns": PLAN["columns"][1:]}
    codes: list[int] = []

    def keep(person: Person, recording: Path) -> None:
        data = recording.read_bytes()
        codes.append(person.keep_file(a_case(person), recording.name, data, plan, seconds=900.0)[0])

    threads = [threading.Thread(target=keep, args=(p, r)) for p, r in zip(people, recordings, strict=False)]
    began = time.monotonic()
    for thread in threads:
        thread.start()
    case, waits, plain = a_case(people[3]), [], Counter()
    while any(thread.is_alive() for thread in threads):
        asked = time.monotonic()
        plain[noted(people[3], case, len(waits))[1]] += 1
        waits.append(time.monotonic() - asked)
        time.sleep(0.2)
    took = time.monotonic() - began
    shop.end()
    return (
        f"three recordings of {samples / 1e6:.0f} M samples at once: answered {sorted(codes)} within {took:.0f} s; "
        f"meanwhile {sum(plain.values())} notes answered {dict(plain)}, the slowest after {max(waits):.1f} s"
    )


def _recording(path: Path, samples: int, seed: int) -> Path:
    """A long starter current that packs well enough to be sent."""
    rng = np.random.default_rng(seed)
    cycle = np.round(140 + 40 * np.cos(np.linspace(0, 2 * np.pi, 60_000)) + rng.normal(0, 2, 60_000)).astype(np.float32)
    pl.DataFrame({"current": np.resize(np.roll(cycle, seed * 1000), samples)}).write_parquet(path, compression="zstd")
    return path


def restored(folder: Path, seconds: float = 40.0) -> str:
    """A backup taken while eight people work, put back elsewhere; what was there before it must look the same."""
    shop = Shop(folder / "at work", workers=2)
    shop.start()
    people = [shop.add(f"person{i}", "lead") for i in range(8)]
    done = a_case(people[0])
    for number in range(12):
        keeps_captures(people[0], done)(number)
    before = _said(people[0], done)
    stop, acknowledged = threading.Event(), set[Piece]()
    works = [(keeps_captures if i % 2 else writes_notes)(p, a_case(p)) for i, p in enumerate(people)]
    threads = until_stopped(works, 10**6, stop, acknowledged)
    time.sleep(seconds / 2)
    until_then = set(acknowledged)
    made = shop.command("backup", str(folder / "kept"), "--keep", "3")
    time.sleep(seconds / 4)
    stop.set()
    for thread in threads:
        thread.join()
    shop.end()
    backup = next((folder / "kept").glob("*.sqlite3"))
    other = Shop(folder / "restored")
    back = other.command("restore", str(backup))
    other.start()
    person = other.enter("person0")
    after = _said(person, done)
    other_keys = sorted(key for key in before if before[key] != after.get(key))
    lost = until_then - stored(other.folder)
    listed = [c["id"] for c in person.ask("/api/cases/")[1]["cases"]]
    boards = Counter(person.ask(f"/api/cases/{i}/")[0] for i in listed)
    other.end()
    told, found = made.stdout.strip().split(": ", 1)[-1], back.stdout.strip()
    stood = f"NOT equal in {', '.join(other_keys)}" if other_keys else "equal"
    return (
        f"backup while eight people work: {told}; restored: {found}; {len(until_then)} acknowledged before it, "
        f"{len(lost)} missing; the board that stood still is {stood}, all boards answered {dict(boards)}"
    )


def _said(person: Person, case: int) -> Any:
    """The board, but for when its evidence was last checked: a restore checks it anew."""
    board = person.ask(f"/api/cases/{case}/")[1]
    board["case"].pop("custody")
    return board


def soak(folder: Path, minutes: float) -> str:
    """Eight people for a while with two workers: boards, lists, notes, captures, bench and exports."""
    shop = Shop(folder / "soak", workers=2)
    shop.start()
    people = [shop.add(f"person{i}", "lead") for i in range(8)]
    until(lambda: people[0].ask("/api/bench/")[0] == 200, "the bench answers")
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
                codes[noted(person, case, number)[1]] += 1
            if number % 60 == 0:
                codes[person.ask(f"/api/cases/{case}/package/")[0]] += 1
            if number % 150 == 0:
                kept = keeps_captures(person, case)(seed * 10**6 + number)
                codes[201 if kept else 599] += 1
            time.sleep(rng.uniform(0.2, 1.0))

    threads = [threading.Thread(target=day, args=(p, a_case(p), i)) for i, p in enumerate(people)]
    for thread in threads:
        thread.start()
    while any(thread.is_alive() for thread in threads):
        memory.append(_resident_mb(shop.server.pid if shop.server else 0))
        time.sleep(min(15.0, 6 * minutes))
    shop.end()
    p95 = statistics.quantiles(light, n=20)[-1]
    errors = sum(count for code, count in codes.items() if code >= 400)
    tenth = max(1, len(memory) // 10)
    early, late = statistics.mean(memory[tenth : 2 * tenth]), statistics.mean(memory[-tenth:])
    return (
        f"eight people for {minutes:g} min with two workers: {sum(codes.values())} requests, {errors} errors, "
        f"p95 of light ones {p95:.2f} s, memory {early:.0f} MB in the second tenth, {late:.0f} MB in the last"
    )


def _resident_mb(root: int) -> float:
    """Resident memory of a process and all below it."""
    told = subprocess.run(["ps", "-e", "-o", "pid=,ppid=,rss="], capture_output=True, text=True, check=True).stdout
    rows = [tuple(map(int, line.split())) for line in told.splitlines()]
    wanted = {root}
    for _ in range(6):
        wanted |= {pid for pid, parent, _ in rows if parent in wanted}
    return sum(rss for pid, _, rss in rows if pid in wanted) / 1024

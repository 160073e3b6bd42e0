"""Long imports beside people at work, and imports that are ended at any moment."""

from __future__ import annotations

import os
import random
import signal
import sqlite3
import threading
import time
from collections import Counter
from collections.abc import Callable
from contextlib import closing, suppress
from pathlib import Path

import numpy as np
import polars as pl
from shop import Person, Shop, children_of, until
from shop_work import DATABASE, PLAN, a_case, a_crank, noted

LONG = 50_000_000
CHANNELS = 4
LOOKS = 200
RATE_HZ = 500_000.0
COLUMNS = [
    {"column": "c0", "role": "starter_current", "unit": "A"},
    {"column": "c1", "role": "coil_control", "unit": "V", "cylinder": 1, "sync": True},
    {"column": "c2", "role": "cam_sensor", "unit": "V"},
    {"column": "c3", "role": "crank_sensor", "unit": "V"},
]
LONG_PLAN = PLAN | {"sample_rate_hz": RATE_HZ, "columns": COLUMNS}


def a_recording(path: Path, samples: int, seed: int = 0) -> Path:
    """Four channels with the noise of a converter of twelve bits: starter current, sync, cam and crank."""
    rng, turn = np.random.default_rng(seed), 2 * np.pi * 4.0 * np.arange(samples, dtype=np.float32) / RATE_HZ
    step = np.float32(0.1)

    def converted(values: np.ndarray) -> np.ndarray:
        noisy = values + rng.normal(0.0, 0.3, values.size).astype(np.float32)
        return (np.rint(noisy / step) * step).astype(np.float32)

    table = {
        "c0": converted(140 + 40 * np.sin(2 * turn)),
        "c1": converted(np.where(turn % (2 * np.pi) < 0.05, 5.0, 0.0).astype(np.float32)),
        "c2": converted(np.where(np.sin(turn) > 0, 5.0, 0.0).astype(np.float32)),
        "c3": converted(5 * np.sin(58 * turn)),
    }
    pl.DataFrame(table).write_parquet(path, compression="lz4")
    return path


def beside_people(folder: Path) -> str:
    """What people feel while 200 M samples are imported: board and window beside those of a quiet server."""
    shop = Shop(folder / "beside")
    shop.start()
    nell = shop.add("nell", "lead")
    others = [shop.add(f"person{i}", "lead") for i in range(8)]
    case = a_case(nell)
    capture = nell.keep_file(case, "short.parquet", a_recording(folder / "short", 1_000_000).read_bytes(), LONG_PLAN)[1]
    views = {"board": f"/api/cases/{case}/", "window": f"/api/captures/{capture['id']}/window/?points=2000"}
    for name in views:
        _looks(nell, views[name], lambda count: count >= 20)
    quiet = {name: _looks(nell, views[name], lambda count: count >= LOOKS) for name in views}
    recording = a_recording(folder / "long", LONG).read_bytes()
    busy: dict[str, list[float]] = {}
    took = []
    for name in views:
        number = nell.stage_file(a_case(nell), "long.parquet", recording)
        began = time.monotonic()
        nell.ask(f"/api/imports/{number}/keep/", LONG_PLAN)
        busy[name] = _looks(nell, views[name], lambda _, n=number: _ended(nell, n))
        took.append(time.monotonic() - began)
    number = nell.stage_file(a_case(nell), "long.parquet", recording)
    nell.ask(f"/api/imports/{number}/keep/", LONG_PLAN)
    codes: Counter[int] = Counter()
    threads = [threading.Thread(target=_adds, args=(p, number, codes)) for p in others]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    shop.end()
    told = ", ".join(
        f"{name} p95 {1000 * _p95(busy[name]):.0f} ms beside {1000 * _p95(quiet[name]):.0f} ms alone "
        f"({_p95(busy[name]) / _p95(quiet[name]):.2f} x, {len(busy[name])} looks)"
        for name in views
    )
    return (
        f"while {CHANNELS * LONG / 1e6:.0f} M samples are imported ({took[0]:.0f} and {took[1]:.0f} s): {told}; "
        f"eight people added readings meanwhile: {dict(codes)}"
    )


def _looks(person: Person, path: str, enough: Callable[[int], bool]) -> list[float]:
    """How long each look took, s; twenty a second at most."""
    took: list[float] = []
    while not enough(len(took)):
        asked = time.monotonic()
        status, said = person.ask(path)
        took.append(time.monotonic() - asked)
        if status != 200:
            raise RuntimeError(said)
        time.sleep(0.05)
    return took


def _adds(person: Person, until_this: int, codes: Counter[int]) -> None:
    """One who adds readings until an import is over."""
    case, number = a_case(person), 0
    while not _ended(person, until_this):
        number += 1
        codes[noted(person, case, number)[1]] += 1
        time.sleep(0.5)


def _ended(person: Person, number: int) -> bool:
    return person.ask(f"/api/imports/{number}/")[1]["state"] not in ("waiting", "working")


def _p95(took: list[float]) -> float:
    return float(np.percentile(took, 95))


def killed(folder: Path, rounds: int) -> str:
    """Everything that serves is killed at a random moment of imports, as by a cable that is pulled."""
    shop, rng = Shop(folder / "killed imports"), random.Random(4)
    shop.start()
    people = [shop.add(f"person{i}", "lead") for i in range(3)]
    recording = a_recording(folder / "middling", 1_000_000, seed=1).read_bytes()
    asked, ended, left = 0, Counter(), 0
    for turn in range(rounds):
        numbers = []
        for person in people:
            case = a_case(person)
            plans = {"long.parquet": (recording, LONG_PLAN), "short.csv": (a_crank(turn * 10 + len(numbers)), PLAN)}
            for name, (data, plan) in plans.items():
                number = person.stage_file(case, name, data)
                if person.ask(f"/api/imports/{number}/keep/", plan)[0] == 202:
                    numbers.append((person, number))
        asked += len(numbers)
        time.sleep(rng.uniform(0.0, 3.0))
        _kill_all(shop)
        shop.start()
        for person, number in numbers:
            until(lambda p=person, n=number: _ended(p, n), "an import ends", seconds=300)
            ended[person.ask(f"/api/imports/{number}/")[1]["state"]] += 1
        left += len(_of(shop, "SELECT 1 FROM captures_storedchannel WHERE capture_id IS NULL"))
    twice = _of(shop, "SELECT 1 FROM captures_storedcapture GROUP BY case_id, file_name HAVING count(*) > 1")
    checked = shop.command("check")
    shop.end()
    staged = list((shop.folder / "staging").glob("*.file"))
    return (
        f"killed {rounds} times in the midst of imports: {asked} asked for, ended {dict(ended)}, {len(twice)} kept "
        f"twice, {left} half stored, {len(staged)} files left; {checked.stdout.strip() or checked.stderr.strip()}"
    )


def _kill_all(shop: Shop) -> None:
    """The server and everything it started."""
    if shop.server is None:
        return
    doomed = [shop.server.pid]
    for process in doomed:
        doomed += [p for p in children_of(process) if p not in doomed]
    for process in doomed:
        with suppress(ProcessLookupError):  # it ended by itself
            os.kill(process, signal.SIGKILL)
    shop.end(signal.SIGKILL)


def _of(shop: Shop, sql: str) -> list[tuple[object, ...]]:
    with closing(sqlite3.connect(f"file:{shop.folder / DATABASE}?mode=ro", uri=True)) as database:
        return database.execute(sql).fetchall()

"""The process that keeps staged files, as an installation runs it: real processes, ended in earnest."""

import os
import signal
import sqlite3
import sys
from contextlib import closing
from pathlib import Path

import numpy as np
import polars as pl
import pytest

sys.path.insert(0, str(Path(__file__).resolve().parents[3] / "scripts"))

from shop import Shop, children_of, until
from shop_work import PLAN, a_case, a_crank

from fairwitness.server.imports import foreman

KEPT = "SELECT count(*) FROM captures_storedcapture WHERE file_name = 'long.parquet'"
LONG = PLAN | {"sample_rate_hz": 500_000.0, "columns": PLAN["columns"][1:]}


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    served = Shop(tmp_path_factory.mktemp("foreman") / "shop")
    served.start()
    yield served
    served.end()


@pytest.fixture(scope="module")
def nell(shop):
    return shop.add("nell", "lead")


@pytest.fixture(scope="module")
def long_recording(tmp_path_factory):
    """Long enough to be ended in the midst of."""
    path = tmp_path_factory.mktemp("long") / "long.parquet"
    noise = np.random.default_rng(1).normal(140, 20, 20_000_000).astype(np.float32)
    pl.DataFrame({"current": noise}).write_parquet(path)
    return path.read_bytes()


def foreman_of(shop):
    """The process that holds the lock of the staging folder, by its command line."""
    for process in children_of(shop.server.pid):
        if "imports.foreman" in Path(f"/proc/{process}/cmdline").read_text():
            return process
    return None


def rows(shop, sql):
    with closing(sqlite3.connect(f"file:{shop.folder / 'fairwitness.sqlite3'}?mode=ro", uri=True)) as database:
        return database.execute(sql).fetchall()


def begun(nell, shop, recording):
    """The number of a long import that is being measured and written, and the process that does it."""
    number = nell.stage_file(a_case(nell), "long.parquet", recording)
    assert nell.ask(f"/api/imports/{number}/keep/", LONG)[0] == 202
    until(lambda: nell.ask(f"/api/imports/{number}/")[1]["stage"] == "measuring", "it is measured")
    return number, children_of(foreman_of(shop))


def test_a_file_is_kept_and_nothing_of_it_stays_behind(nell, shop):
    status, said = nell.keep_file(a_case(nell), "crank.csv", a_crank(1), PLAN)
    assert status == 201
    assert nell.ask(f"/api/captures/{said['id']}/")[1]["file_name"] == "crank.csv"
    until(lambda: list((shop.folder / "staging").glob("*.file")) == [], "the file is gone")


def test_a_second_foreman_leaves_the_folder_to_the_first(shop):
    until(lambda: foreman_of(shop), "there is a foreman")
    assert foreman.main(str(shop.folder / "staging"), str(os.getpid())) == 0


def test_an_import_taken_back_in_the_midst_ends_at_once_and_leaves_nothing(nell, shop, long_recording):
    number, working = begun(nell, shop, long_recording)
    assert nell.ask(f"/api/imports/{number}/", method="DELETE")[1]["state"] == "cancelled"
    until(lambda: not any(Path(f"/proc/{p}").exists() for p in working), "its process is gone", seconds=5)
    until(lambda: rows(shop, "SELECT 1 FROM captures_storedchannel WHERE capture_id IS NULL") == [], "no samples stay")
    assert rows(shop, KEPT) == [(0,)]
    assert not list((shop.folder / "staging").glob(f"{number}.file"))


def test_a_process_that_is_killed_is_followed_by_another_that_keeps_the_file_once(nell, shop, long_recording):
    number, working = begun(nell, shop, long_recording)
    os.kill(working[0], signal.SIGKILL)
    status, said = nell.await_kept(number)
    assert status == 201
    assert rows(shop, KEPT) == [(1,)]
    assert rows(shop, "SELECT 1 FROM captures_storedchannel WHERE capture_id IS NULL") == []
    assert nell.ask(f"/api/captures/{said['id']}/")[1]["samples"] == 20_000_000


def test_a_foreman_that_is_killed_is_followed_by_another(nell, shop):
    os.kill(foreman_of(shop), signal.SIGKILL)
    status, _ = nell.keep_file(a_case(nell), "after.csv", a_crank(2), PLAN)
    assert status == 201


def test_what_waits_when_the_server_stops_is_kept_when_it_serves_again(nell, shop, long_recording):
    case = a_case(nell)
    numbers = [nell.stage_file(case, "first.parquet", long_recording)]
    numbers += [nell.stage_file(case, f"{i}.csv", a_crank(i)) for i in range(3, 5)]
    for number in numbers:
        assert nell.ask(f"/api/imports/{number}/keep/", LONG if number == numbers[0] else PLAN)[0] == 202
    shop.end()
    shop.start()
    assert [nell.await_kept(number)[0] for number in numbers] == [201] * 3

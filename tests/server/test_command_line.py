"""A workshop's life from the command line, each command a process of its own, as a helper types it."""

import json
import os
import sqlite3
import stat
import subprocess
import sys
from contextlib import closing

import pytest

from fairwitness.server.keeping.backups import DATABASE


@pytest.fixture
def run(tmp_path):
    kept = {k: v for k, v in os.environ.items() if not k.startswith(("FAIRWITNESS", "DJANGO"))}
    env = kept | {"FAIRWITNESS_DATA": str(tmp_path / "data")}

    def command(*words, typed="", expects=0):
        done = subprocess.run(
            [sys.executable, "-m", "fairwitness.cli", *map(str, words)],
            env=env, cwd=tmp_path, input=typed, capture_output=True, text=True, check=False,
        )  # fmt: skip
        assert done.returncode == expects, done.stderr
        return done.stdout if expects == 0 else done.stderr

    command.env = env
    return command


@pytest.fixture
def shop(run, tmp_path):
    """A database as the first start makes it, without the server that would stay."""
    start = "from fairwitness.server import command_line as c, command_line; import argparse, pathlib; " \
        "c._start(argparse.Namespace(data=None), fresh=True); " \
        "from django.core.management import call_command; call_command('migrate', verbosity=0)"  # fmt: skip
    subprocess.run([sys.executable, "-c", start], env=run.env, cwd=tmp_path, check=True)
    return tmp_path / "data"


def test_people_backups_and_a_restored_shop(run, shop, tmp_path):
    assert stat.S_IMODE((shop / DATABASE).stat().st_mode) & 0o077 == 0
    assert run("users", "add", "nell", "--role", "lead", typed="a-long-test-word\n") == "nell is a lead.\n"
    assert "too short" in run("users", "add", "otto", typed="12345\n", expects=2)
    assert "Nobody would lead" in run("users", "block", "nell", expects=2)
    run("users", "add", "otto", "--name", "Otto Hale", typed="another-long-word\n")
    run("users", "block", "otto")
    assert [line.split()[0] for line in run("users", "list").splitlines()] == ["nell", "otto"]
    assert "(blocked)" in run("users", "list")

    for _ in range(2):
        run("backup", tmp_path / "kept", "--keep", 1)
    (backup,) = (tmp_path / "kept").iterdir()
    assert "already" in run("restore", backup, expects=2)
    assert (
        run("restore", backup, "--data", tmp_path / "new")
        == "0 captures and 0 lines of the journal checked, 0 changed\n"
    )
    assert run("users", "list", "--data", tmp_path / "new") == run("users", "list")


def test_without_a_database_every_command_says_how_to_go_on(run):
    for words in (("users", "list"), ("check",), ("backup", "kept")):
        assert "There is no database" in run(*words, expects=2)


def test_a_damaged_database_is_said_and_not_opened(run, shop):
    with closing(sqlite3.connect(shop / DATABASE)) as opened:
        opened.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    data = bytearray((shop / DATABASE).read_bytes())
    data[20_000:60_000] = b"\xaa" * 40_000
    (shop / DATABASE).write_bytes(data)
    assert "damaged" in run("check", expects=2)


def test_every_sentence_is_printed_for_whoever_translates_it(run, shop):
    words = json.loads(run("words"))
    assert words["sheet.label.open"] == "What is not known"
    assert words["owner.we_looked"] == "We looked at {what:and}."

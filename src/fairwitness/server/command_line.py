"""A workshop's commands: serve, who works here, backups, and whether the evidence is intact."""

from __future__ import annotations

import argparse
import getpass
import json
import os
import secrets
import stat
import sys
from contextlib import nullcontext
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from fairwitness.core.errors import KeepingError, PeopleError
from fairwitness.server.bench.process import bench_process
from fairwitness.server.keeping import backups
from fairwitness.server.keeping.backups import DATABASE
from fairwitness.server.keeping.folder import prepare

NAMES = frozenset({"serve", "users", "backup", "restore", "check", "words"})
KEPT = 14
DATA = "FAIRWITNESS_DATA"
WORKERS_MAX = 16
APPLICATION = "fairwitness.server.asgi:application"
SERVING: dict[str, Any] = {"log_level": "warning", "timeout_graceful_shutdown": 20}


def add_to(commands: Any) -> None:
    """Add the commands to the parsers of a command line."""
    serve = _command(commands, "serve", "serve the workshop", _serve)
    serve.add_argument("--host", default="127.0.0.1")
    serve.add_argument("--port", type=int, default=8000)
    serve.add_argument("--workers", type=_workers, default=1, help="processes that answer; the bench has one more")

    users = commands.add_parser("users", help="who works here")
    verbs = users.add_subparsers(required=True, metavar="verb")
    adding = _command(verbs, "add", "a new person", _add)
    adding.add_argument("username")
    adding.add_argument("--role", default="technician", help="technician, lead or reader")
    adding.add_argument("--name", default="", help="as it is shown beside what they do")
    role = _command(verbs, "role", "another role for somebody", _role)
    role.add_argument("username")
    role.add_argument("role")
    for verb, about, run in (
        ("password", "another password for somebody; asked for, or read from standard input", _password),
        ("block", "keep somebody out", _block),
        ("unblock", "let somebody in again", _unblock),
    ):
        _command(verbs, verb, about, run).add_argument("username")
    _command(verbs, "link", "a link at which somebody chooses a password", _link).add_argument("username")
    _command(verbs, "list", "everybody, a line each", _list)

    backup = _command(commands, "backup", "copy the database while it is in use", _backup)
    backup.add_argument("into", type=Path)
    backup.add_argument("--keep", type=int, default=KEPT, help="so many backups; older ones are deleted; 0 keeps all")
    restore = _command(commands, "restore", "make a backup the database of an empty folder", _restore)
    restore.add_argument("backup", type=Path)
    _command(commands, "check", "check the database, and the hash of every capture", _check)
    _command(commands, "words", "print every sentence, to put it into another language", _words)


def _workers(text: str) -> int:
    count = int(text)
    if not 1 <= count <= WORKERS_MAX:
        raise argparse.ArgumentTypeError(f"1 to {WORKERS_MAX}")
    return count


def _command(commands: Any, name: str, about: str, run: Any) -> argparse.ArgumentParser:
    parser: argparse.ArgumentParser = commands.add_parser(name, help=about)
    parser.add_argument("--data", type=Path, default=None, help=f"folder of the database; else ${DATA}, else ./var")
    parser.set_defaults(run=run)
    return parser


def _folder(given: argparse.Namespace) -> Path:
    folder: Path = (given.data or Path(os.environ.get(DATA, "var"))).resolve()
    os.environ[DATA] = str(folder)
    return folder


def _start(given: argparse.Namespace, *, fresh: bool = False) -> Path:
    """Make what is missing, and have Django know the database.

    Raises
    ------
    KeepingError
        There is no database yet, or its folder cannot be written.
    """
    folder = _folder(given)
    database = folder / DATABASE
    if not fresh and not database.exists():
        raise KeepingError(
            "There is no database.", where=str(folder), remedy="Run fairwitness serve first, or name --data."
        )
    os.umask(0o077)
    try:
        prepare(folder)
        if database.exists():
            database.chmod(stat.S_IMODE(database.stat().st_mode) & 0o600)
    except OSError as error:
        raise KeepingError(
            f"It cannot be written: {error}.", where=str(folder), remedy="Choose another --data."
        ) from None
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fairwitness.server.settings")
    import django

    django.setup()
    from fairwitness.server.keeping.versions import refuse_newer, refuse_older

    refuse_newer()
    if not fresh:
        refuse_older()
    return folder


def _serve(given: argparse.Namespace) -> int:
    folder = _start(given, fresh=True)
    import uvicorn
    from django.conf import settings

    from fairwitness.server.imports import foreman, staging
    from fairwitness.server.keeping import keeper
    from fairwitness.server.keeping.versions import bring_up_to_date

    bring_up_to_date()
    _say_first_code()
    foreman.ensure(staging.folder(), settings.DATA)
    stop = keeper.start(keeper.Rounds(folder / DATABASE, settings.BACKUPS, settings.BACKUPS_KEPT))
    print(f"Fair Witness: http://{given.host}:{given.port}  (data in {folder})", flush=True)
    with bench_process(folder) if given.workers > 1 else nullcontext():
        uvicorn.run(APPLICATION, host=given.host, port=given.port, workers=given.workers, **SERVING)
    stop.set()
    return 0


def _say_first_code() -> None:
    """Where nobody leads yet, what the first lead types in the browser."""
    from fairwitness.server.accounts import links

    if links.nobody_leads():
        print(
            f"Nobody leads this workshop yet. The first lead opens the address and types the code "
            f"{links.make_first_code()}",
            flush=True,
        )


def _new_password() -> str:
    """Asked for twice at a terminal; else the first line of standard input."""
    if not sys.stdin.isatty():
        return sys.stdin.readline().rstrip("\n")
    password = getpass.getpass("Password (empty: one is made): ")
    if not password:
        password = secrets.token_urlsafe(12)
        print(f"Password: {password}")
    elif getpass.getpass("Again: ") != password:
        raise PeopleError("The two are not the same.", where="password", remedy="Try again.")
    return password


def _add(given: argparse.Namespace) -> int:
    _start(given)
    from fairwitness.server.accounts import people

    made = people.add(given.username, role=given.role, password=_new_password(), name=given.name)
    print(f"{made.username} is a {made.role}.")
    return 0


def _role(given: argparse.Namespace) -> int:
    _start(given)
    from fairwitness.server.accounts import people

    changed = people.set_role(given.username, given.role)
    print(f"{changed.username} is a {changed.role}.")
    return 0


def _password(given: argparse.Namespace) -> int:
    _start(given)
    from fairwitness.server.accounts import people

    people.known(given.username)
    people.set_password(given.username, _new_password())
    print(f"{given.username} has another password, and is logged out everywhere.")
    return 0


def _link(given: argparse.Namespace) -> int:
    _start(given)
    from fairwitness.server.accounts import links, people

    print(f"/link/{links.make_link(people.known(given.username), by=None)}")
    return 0


def _block(given: argparse.Namespace) -> int:
    return _blocked(given, blocked=True)


def _unblock(given: argparse.Namespace) -> int:
    return _blocked(given, blocked=False)


def _blocked(given: argparse.Namespace, *, blocked: bool) -> int:
    _start(given)
    from fairwitness.server.accounts import people

    people.set_blocked(given.username, blocked=blocked)
    print(f"{given.username} is {'kept out' if blocked else 'let in again'}.")
    return 0


def _list(given: argparse.Namespace) -> int:
    _start(given)
    from fairwitness.server.accounts.models import User

    for user in User.objects.order_by("username"):
        print(f"{user.username:20} {user.role:12} {user.get_full_name()}{'' if user.is_active else '  (blocked)'}")
    return 0


def _backup(given: argparse.Namespace) -> int:
    made = backups.copy_of(_folder(given) / DATABASE, given.into, at=datetime.now(UTC))
    deleted = backups.forget_old(given.into, keep=given.keep)
    print(f"{made}: {made.stat().st_size / 1e6:.1f} MB, checked; {len(deleted)} old ones deleted")
    return 0


def _restore(given: argparse.Namespace) -> int:
    backups.put_back(given.backup, _folder(given))
    _start(given, fresh=True)
    from django.core.management import call_command

    call_command("migrate", verbosity=0)
    return _check(given)


def _check(given: argparse.Namespace) -> int:
    if (database := _folder(given) / DATABASE).exists():
        backups.refuse_damaged(database)
    _start(given)
    from fairwitness.server.keeping import evidence

    found = evidence.check_evidence()
    for changed in found.changed:
        print(changed.sentence, file=sys.stderr)
    print(f"{found.captures} captures and {found.lines} lines of the journal checked, {len(found.changed)} changed")
    return 1 if found.changed else 0


def _words(given: argparse.Namespace) -> int:
    _start(given)
    from fairwitness.server.sheets import api, languages  # the former brings every sentence of sheets along

    assert api
    print(json.dumps(languages.english(), ensure_ascii=False, indent=1))
    return 0

"""The process that keeps staged files: one for a folder of data, with a child of its own for each file it keeps.

It loads what measuring takes once and then forks, so that a file is begun at once, its memory is given back whole, and
it can be ended at any moment. It is started when the first file comes, lives as long as the server that started it, and
whoever comes next takes up what it left: the queue is a table of the database, not a matter of anybody's memory.
"""

from __future__ import annotations

import fcntl
import logging
import os
import signal
import subprocess
import sys
import time
from datetime import timedelta
from pathlib import Path

LOG = logging.getLogger(__name__)
AT_ONCE = 2
NICENESS, LONG_BYTES = 19, 16_000_000
"""Long files wait for people; somebody looks on while a short one is kept."""
LOOKS_EVERY_S = 0.15
GIVEN_UP_AFTER = timedelta(hours=2)
"""A file that was looked at and not kept."""
TIDIES_EVERY_S = 600.0
LOCK = "foreman.lock"
started: list[subprocess.Popen[bytes]] = []


def ensure(folder: Path, data: Path) -> None:
    """Start a foreman where none works for this folder.

    Parameters
    ----------
    folder : Path
        Of the staged files.
    data : Path
        Of the database.
    """
    started[:] = [one for one in started if one.poll() is None]
    lock = _locked(folder)
    if lock is None:
        return
    os.close(lock)
    command = [sys.executable, "-m", __name__, str(folder), str(os.getpid())]
    started.append(subprocess.Popen(command, env={**os.environ, "FAIRWITNESS_DATA": str(data)}))


def _locked(folder: Path) -> int | None:
    """The open lock of the folder; None where somebody has it. It ends with whoever holds it, however that ends."""
    file = os.open(folder / LOCK, os.O_RDWR | os.O_CREAT, 0o600)
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(file)
        return None
    return file


class Foreman:
    """Gives files to children, ends those that are taken back, and takes up what ended without a word."""

    def __init__(self) -> None:
        self._children: dict[int, int] = {}
        """Process by process, the import it keeps."""
        self._tidies_at = 0.0

    @property
    def busy(self) -> bool:
        """Whether a child works."""
        return bool(self._children)

    def go_round(self, *, begin: bool = True) -> None:
        """Look once at what ended, what was taken back, and what waits.

        Raises
        ------
        DatabaseError
            The next round looks at everything anew.
        """
        tidies_at, self._tidies_at = self._tidies_at, 0.0  # where this round fails, the next one takes up what it left
        self._reap()
        self._end_cancelled()
        if time.monotonic() >= tidies_at:
            self._take_up()
            tidies_at = time.monotonic() + TIDIES_EVERY_S
        while begin and len(self._children) < AT_ONCE and self._begin_next():
            pass
        self._tidies_at = tidies_at

    def _take_up(self) -> None:
        """What is marked as in work and no child works on waits again; what nobody came back to is forgotten."""
        from django.utils import timezone

        from fairwitness.server.captures import writing
        from fairwitness.server.imports import work
        from fairwitness.server.imports.models import FileImport, ImportState

        left = FileImport.objects.filter(state=ImportState.WORKING).exclude(pk__in=self._children.values())
        for number in left.values_list("pk", flat=True):
            work.put_back(number)
        work.tidy(older_than=timezone.now() - GIVEN_UP_AFTER)
        writing.sweep()

    def _reap(self) -> None:
        from fairwitness.server.imports import work

        for process, number in list(self._children.items()):
            ended, _ = os.waitpid(process, os.WNOHANG)
            if ended:
                del self._children[process]
                work.put_back(number)

    def _end_cancelled(self) -> None:
        from fairwitness.server.captures import writing
        from fairwitness.server.imports import staging, work
        from fairwitness.server.imports.models import FileImport, ImportState

        if not self._children:
            return
        gone = set(
            FileImport.objects.filter(pk__in=self._children.values(), state=ImportState.CANCELLED).values_list(
                "pk", flat=True
            )
        )
        for process, number in list(self._children.items()):
            if number in gone:
                os.kill(process, signal.SIGKILL)
                os.waitpid(process, 0)
                del self._children[process]
                staging.remove(number)
                writing.sweep(work.ahead_of(number))
                LOG.info("import %d was taken back", number)

    def _begin_next(self) -> bool:
        from django.db import connections

        from fairwitness.server.imports import work

        held = work.claim()
        if held is None:
            return False
        connections.close_all()  # neither shares the other's
        process = os.fork()
        if process == 0:
            _child(held.pk, NICENESS if held.size > LONG_BYTES else 0)
        self._children[process] = held.pk
        return True


def _child(number: int, niceness: int) -> None:
    """Keep one file, and end without the ways of the process it was forked from."""
    code = 1
    try:
        signal.signal(signal.SIGTERM, signal.SIG_DFL)
        os.nice(niceness)
        from fairwitness.server.imports import work

        work.run(number)
        code = 0
    finally:
        os._exit(code)


def main(folder: str, server: str) -> int:
    """Work until the server that started this is gone and nothing is in hand.

    Parameters
    ----------
    folder : str
        Of the staged files.
    server : str
        Process that started this.
    """
    lock = _locked(Path(folder))
    if lock is None:
        return 0
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fairwitness.server.settings")
    import django

    django.setup()
    from django.db import DatabaseError

    from fairwitness.server.imports import work  # noqa: F401 - what measuring takes is loaded before anybody waits

    signal.signal(signal.SIGINT, signal.SIG_IGN)  # it is the server's to end
    foreman = Foreman()
    while (with_server := os.getppid() == int(server)) or foreman.busy:
        try:
            foreman.go_round(begin=with_server)
        except DatabaseError as error:
            LOG.error("the queue of imports cannot be read: %s", error)
            if not Path(folder).is_dir():
                return 1
        time.sleep(LOOKS_EVERY_S)
    return 0


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))

"""The folder files lie in until they are kept: a file grows piece by piece, and only at its end."""

from __future__ import annotations

import fcntl
import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings

from fairwitness.core.errors import CaptureError

PRIVATE_FOLDER, PRIVATE_FILE = 0o700, 0o600
ROOM = 3.0
"""Free space asked for before a file is taken, in sizes of it: the file, its columns while it is read, its capture."""


class OutOfStepError(CaptureError):
    """A piece that does not begin where the file ends so far: somebody else sent it, or it was sent before."""

    code = "out_of_step"

    def __init__(self, received: int) -> None:
        self.received = received
        super().__init__("This piece does not follow the last one.", remedy=f"Go on at byte {received}.")


def folder() -> Path:
    """The staging folder, made where it is missing."""
    path: Path = settings.DATA / "staging"
    path.mkdir(parents=True, exist_ok=True, mode=PRIVATE_FOLDER)
    return path


def path_of(number: int) -> Path:
    """Where the file of an import lies."""
    return folder() / f"{number}.file"


def received(number: int) -> int:
    """Bytes of a file that came."""
    try:
        return path_of(number).stat().st_size
    except FileNotFoundError:
        return 0


def append(number: int, offset: int, piece: bytes) -> int:
    """Add a piece to the end of a file.

    Parameters
    ----------
    number : int
        Of the import.
    offset : int
        Where the piece begins.
    piece : bytes

    Returns
    -------
    int
        Bytes that are there now.

    Raises
    ------
    OutOfStepError
    CaptureError
        The disk is full; what was there before is still there.
    """
    with _held(path_of(number)) as file:
        there = os.fstat(file).st_size
        if offset != there:
            raise OutOfStepError(there)
        try:
            _write_all(file, piece)
        except OSError as error:
            os.ftruncate(file, there)
            raise CaptureError(f"The file cannot be taken: {error.strerror}.", remedy="Free some room.") from error
        return there + len(piece)


def remove(number: int) -> None:
    """Delete a file; nothing where there is none."""
    path_of(number).unlink(missing_ok=True)


def numbers() -> Iterator[int]:
    """Imports of which a file lies here."""
    for path in folder().glob("*.file"):
        if path.stem.isdecimal():
            yield int(path.stem)


def refuse_without_room(size: int) -> None:
    """Refuse a file there is no room for, before anything of it is taken.

    Raises
    ------
    CaptureError
    """
    free = shutil.disk_usage(folder()).free
    if free < ROOM * size:
        raise CaptureError(
            f"There is no room for it: {free / 1e6:.0f} MB are free.", remedy=f"Free {ROOM * size / 1e6:.0f} MB."
        )


@contextmanager
def _held(path: Path) -> Iterator[int]:
    """An open file nobody else writes to meanwhile."""
    file = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_APPEND, PRIVATE_FILE)
    try:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield file
    finally:
        os.close(file)


def _write_all(file: int, piece: bytes) -> None:
    rest = memoryview(piece)
    while rest:
        rest = rest[os.write(file, rest) :]

"""A watched folder: a file some scope software saves there is offered to the open case."""

from __future__ import annotations

import os
import shutil
import stat
from dataclasses import dataclass
from pathlib import Path

from fairwitness.core.errors import InstrumentError

SUFFIXES = (".csv", ".txt", ".tsv", ".mf4", ".mdf", ".dat", ".mat", ".parquet", ".h5", ".hdf5", ".wav")
FILES_MAX = 200
STEADY_S = 0.5
"""A file that grew within this time is still being written."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Waiting:
    """A file in the folder."""

    name: str
    size: int
    modified: float


class Inbox:
    """A folder looked into, never outside of it.

    Parameters
    ----------
    folder : Path
    bytes_max : int
        Larger files are not offered.

    Raises
    ------
    InstrumentError
        No such folder.
    """

    def __init__(self, folder: Path, *, bytes_max: int) -> None:
        if not folder.is_dir():
            raise InstrumentError(
                "The inbox folder is not there.", where=str(folder), remedy="Make it, or name another."
            )
        self._folder = folder.resolve()
        self._bytes_max = bytes_max

    def waiting(self, *, now: float) -> tuple[Waiting, ...]:
        """Files that are complete and of a known kind, newest first.

        Parameters
        ----------
        now : float
            Time of day, s.
        """
        found = []
        for entry in os.scandir(self._folder):
            if not entry.name.lower().endswith(SUFFIXES) or entry.name.startswith("."):
                continue
            about = entry.stat(follow_symlinks=False)
            if not stat.S_ISREG(about.st_mode):
                continue  # a link may point anywhere
            if 0 < about.st_size <= self._bytes_max and now - about.st_mtime >= STEADY_S:
                found.append(Waiting(name=entry.name, size=about.st_size, modified=about.st_mtime))
        return tuple(sorted(found, key=lambda f: -f.modified)[:FILES_MAX])

    def copy(self, name: str, target: Path) -> None:
        """Copy a file of the folder.

        Parameters
        ----------
        name : str
        target : Path
            A file that is not there yet.

        Raises
        ------
        InstrumentError
            Not a file of this folder, or too large.
        OSError
            The copy cannot be written.
        """
        if name != Path(name).name or name in ("", ".", "..") or not name.lower().endswith(SUFFIXES):
            raise InstrumentError("There is no such file in the inbox.", where=name[:80])
        try:
            # Not to wait for the writer of a pipe.
            handle = os.open(self._folder / name, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK)
        except OSError as error:
            raise InstrumentError("There is no such file in the inbox.", where=name[:80]) from error
        with os.fdopen(handle, "rb") as file:
            about = os.fstat(file.fileno())
            if not stat.S_ISREG(about.st_mode) or about.st_size > self._bytes_max:
                raise InstrumentError("The file is too large.", where=name[:80], remedy="Split it.")
            with target.open("xb") as copy:
                shutil.copyfileobj(file, copy, 1 << 20)

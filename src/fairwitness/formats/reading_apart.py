"""Binary recordings read in a process of their own: a file that breaks a library, or asks too much, ends only that.

The child gets limits on memory, time and output before it opens the file, and leaves its columns in files that the
caller maps.
"""

from __future__ import annotations

import json
import resource
import signal
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import numpy as np

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import SampleArray
from fairwitness.formats.recording import IN_MEMORY_MAX, SAMPLES_MAX, Recording, Source
from fairwitness.formats.recordings import read_recording

REFUSED = 3
"""Exit of a child that says what is wrong with the file."""
MEGABYTE = 1024 * 1024
MANIFEST = "recording.json"
EXPORT_AGAIN = "Export it again, or in another format."


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """What reading one file may take.

    Parameters
    ----------
    memory : int, bytes
        Of its own; what lies in files does not count.
    seconds, seconds_per_megabyte : float
        Of processor time, and as much again of waiting.
    output : int, bytes
        Of one column.
    """

    memory: int = 2048 * MEGABYTE
    seconds: float = 10.0
    seconds_per_megabyte: float = 0.5
    output: int = 8 * SAMPLES_MAX

    def seconds_for(self, size: int) -> float:
        """Processor seconds for a file of so many bytes."""
        return self.seconds + self.seconds_per_megabyte * size / MEGABYTE


USUAL = Limits()


def read_apart(source: Source, *, where: str, limits: Limits = USUAL) -> Recording:
    """Read a recording as ``read_recording`` does, in a child process.

    Parameters
    ----------
    source : bytes or Path
    where : str
        The file's name, for the words of a refusal.
    limits : Limits

    Returns
    -------
    Recording
        Columns that are long together lie in files that end with their last holder.

    Raises
    ------
    TableError
        As ``read_recording``; or reading it took too much, or ended the reader.
    """
    with tempfile.TemporaryDirectory(prefix="fw-read-") as folder:
        path = source if isinstance(source, Path) else Path(folder) / "in"
        if isinstance(source, bytes):
            path.write_bytes(source)
        out = Path(folder) / "out"
        out.mkdir()
        seconds = limits.seconds_for(path.stat().st_size)
        command = [sys.executable, "-m", __name__, str(path), str(out), where]
        command += [str(limits.memory), str(int(seconds)), str(limits.output)]
        try:
            child = subprocess.run(command, capture_output=True, timeout=2 * seconds, check=False)
        except subprocess.TimeoutExpired:
            raise TableError("Reading it takes too long.", where=where, remedy=EXPORT_AGAIN) from None
        if child.returncode == REFUSED:
            raise TableError(**json.loads(child.stdout.splitlines()[-1]))
        if child.returncode != 0:
            raise TableError(_ended(child.returncode), where=where, remedy=EXPORT_AGAIN)
        return _collected(out)


def _ended(code: int) -> str:
    """Why a child ended without a word."""
    if code == -signal.SIGXCPU:
        return "Reading it takes too long."
    if code in (-signal.SIGKILL, -signal.SIGXFSZ):
        return "Reading it takes more room than it may."
    return "The file is broken: reading it breaks off."


def _collected(out: Path) -> Recording:
    """The columns a child left behind."""
    manifest = json.loads((out / MANIFEST).read_text(encoding="utf-8"))
    mapped: Literal["r"] | None = "r" if manifest["samples"] > IN_MEMORY_MAX else None
    columns: dict[str, SampleArray] = {}
    for number, name in enumerate(manifest["names"]):
        columns[name] = np.load(out / f"{number}.npy", mmap_mode=mapped, allow_pickle=False)
    return Recording(columns=columns, units=manifest["units"], about=manifest["about"], rate_hz=manifest["rate_hz"])


def _leave(recording: Recording, out: Path) -> None:
    for number, values in enumerate(recording.columns.values()):
        np.save(out / f"{number}.npy", values, allow_pickle=False)
    manifest = {
        "names": recording.names,
        "units": dict(recording.units),
        "about": dict(recording.about),
        "rate_hz": recording.rate_hz,
        "samples": sum(c.size for c in recording.columns.values()),
    }
    (out / MANIFEST).write_text(json.dumps(manifest), encoding="utf-8")


def main(path: str, out: str, where: str, *limits: str) -> int:
    """The child: bind itself, read, leave the columns.

    Parameters
    ----------
    path, out : str
        File to read, folder for the columns.
    where : str
    limits : str
        Bytes of memory, seconds of processor time, bytes of a file.

    Returns
    -------
    int
        0, or ``REFUSED`` with the refusal as JSON on standard output.
    """
    memory, seconds, output = map(int, limits)
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 1))
    resource.setrlimit(resource.RLIMIT_FSIZE, (output, output))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        _leave(read_recording(Path(path), where=where), Path(out))
    except TableError as error:
        print(json.dumps({"what": error.what, "where": error.where, "remedy": error.remedy}))
        return REFUSED
    return 0


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))

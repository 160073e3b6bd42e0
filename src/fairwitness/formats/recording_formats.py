"""Every binary format of recordings, a record each: by what it is known, how it is read and written.

Each that is written holds all that a channel carries; text does not, see ``recordings.EXPORTS``.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from fairwitness.core.model.capture import Capture
from fairwitness.formats import (
    recording_datapackage,
    recording_hdf5,
    recording_matlab,
    recording_mdf,
    recording_parquet,
    recording_wav,
)
from fairwitness.formats.recording import Recording, Source

HEAD_BYTES = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordingFormat:
    """One format.

    Parameters
    ----------
    kind : str
        Its id.
    words : str
    suffix : str
    begins : tuple of bytes
        Any of these stands at the begin of a file.
    read : callable
    write : callable or None
        None for a format that is only read.
    """

    kind: str
    words: str
    suffix: str
    begins: tuple[bytes, ...]
    read: Callable[[Source], Recording]
    write: Callable[[Capture], bytes] | None = None

    def knows(self, head: bytes) -> bool:
        """Whether a file that begins like this is one of this format."""
        return head.startswith(self.begins)


FORMATS = (
    RecordingFormat(
        kind="mdf",
        words="ASAM MDF",
        suffix=".mf4",
        begins=(b"MDF     ",),
        read=recording_mdf.read,
        write=recording_mdf.write,
    ),
    RecordingFormat(
        kind="matlab",
        words="MATLAB",
        suffix=".mat",
        begins=(b"MATLAB 5",),
        read=recording_matlab.read,
        write=recording_matlab.write,
    ),
    RecordingFormat(
        kind="matlab73",
        words="MATLAB 7.3",
        suffix=".mat",
        begins=(b"MATLAB 7.3",),
        read=recording_hdf5.read,
    ),
    RecordingFormat(
        kind="hdf5",
        words="HDF5",
        suffix=".h5",
        begins=(b"\x89HDF\r\n\x1a\n",),
        read=recording_hdf5.read,
        write=recording_hdf5.write,
    ),
    RecordingFormat(
        kind="parquet",
        words="Parquet",
        suffix=".parquet",
        begins=(b"PAR1",),
        read=recording_parquet.read,
        write=recording_parquet.write,
    ),
    RecordingFormat(
        kind="wav",
        words="WAV",
        suffix=".wav",
        begins=(b"RIFF", b"RIFX", b"RF64"),
        read=recording_wav.read,
        write=recording_wav.write,
    ),
    RecordingFormat(
        kind="datapackage",
        words="Data Package",
        suffix=".zip",
        begins=(b"PK\x03\x04",),
        read=recording_datapackage.read,
        write=recording_datapackage.write,
    ),
)


def format_of(head: bytes) -> RecordingFormat | None:
    """The format of a file that begins like this; None for text and all else."""
    return next((one for one in FORMATS if one.knows(head)), None)

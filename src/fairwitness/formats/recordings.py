"""Recordings in open binary formats, in and out (see ``recording_formats``), and CSV out.

Samples stay single precision bit for bit. What the columns are travels beside them as JSON under ``fair_witness``, so
that a file written here is read back without asking; a file from elsewhere is guessed at like any table.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import polars as pl

from fairwitness.core.errors import CaptureError, TableError
from fairwitness.core.model.capture import Capture, Role, SetUp, TimeBase
from fairwitness.core.model.lead import read_lead
from fairwitness.formats import recording as recording_limits
from fairwitness.formats.columns import ColumnGuess, ColumnUse, capture_of, guess_columns
from fairwitness.formats.recording import TIME, Recording, Source, columns_of, names_of
from fairwitness.formats.recording_formats import FORMATS, HEAD_BYTES, format_of
from fairwitness.formats.set_up import read_set_up
from fairwitness.formats.tables import COLUMNS_MAX


@dataclass(frozen=True, slots=True, kw_only=True)
class Export:
    """A format a capture can be handed out in.

    Parameters
    ----------
    kind, words, suffix : str
    whole : bool
        Everything a channel carries comes back from a file of it; else only times, values, names and units.
    write : callable
    """

    kind: str
    words: str
    suffix: str
    whole: bool = True
    write: Callable[[Capture], bytes]


def kind_of(source: Source) -> str | None:
    """The kind of a binary recording by its first bytes; None for anything else."""
    found = format_of(head_of(source))
    return found.kind if found else None


def head_of(source: Source) -> bytes:
    """The first bytes."""
    if isinstance(source, bytes):
        return source[:HEAD_BYTES]
    with source.open("rb") as file:
        return file.read(HEAD_BYTES)


def read_recording(source: Source, *, where: str) -> Recording:
    """Read a recording of any of the formats.

    Columns that are long together lie in files of their own while somebody holds them, so that a recording of hundreds
    of millions of samples is read with the memory of one column.

    Parameters
    ----------
    source : bytes or Path
    where : str

    Returns
    -------
    Recording

    Raises
    ------
    TableError
        Not such a file, broken, without numbers, too large.
    """
    known = format_of(head_of(source))
    if known is None:
        words = ", ".join(f.words for f in FORMATS)
        raise TableError(f"This is none of {words}.", where=where, remedy="Export it again.")
    try:
        recording = known.read(source)
    except TableError:
        raise
    except MemoryError as error:
        raise TableError("The recording is too large for this machine.", where=where, remedy="Split it.") from error
    except (Exception, pl.exceptions.PanicException) as error:  # the libraries fail in their own many ways
        raise TableError("The file is broken or cut off.", where=where, remedy="Export it again.") from error
    sizes = {c.size for c in recording.columns.values()}
    if not recording.columns or sizes <= {0}:
        raise TableError("The file holds no columns of numbers.", where=where, remedy="Export the capture again.")
    if len(sizes) > 1:
        raise TableError("The columns have different lengths.", where=where, remedy="Export one time base at a time.")
    held = sum(c.size for c in recording.columns.values())
    if len(recording.columns) > COLUMNS_MAX or held > recording_limits.SAMPLES_MAX:
        raise TableError("The recording is too large.", where=where, remedy="Split it, or export fewer channels.")
    return recording


def look_at_recording(recording: Recording) -> tuple[tuple[ColumnGuess, ...], bool]:
    """What the columns are (as written here) or probably are.

    Returns
    -------
    (columns, timed) : tuple of ColumnGuess, bool
        Whether the time of the samples is known.
    """
    units = [recording.units.get(n) for n in recording.names]
    rate = recording.about.get("rate_hz") or recording.rate_hz
    guessed, timed = guess_columns(recording.names, units, recording.columns, rate_hz=rate)
    known = {c["name"]: c for c in recording.about.get("channels", [])}
    reported = tuple(
        replace(
            g,
            unit=known[g.name]["unit"],
            role=Role(known[g.name]["role"]),
            cylinder=known[g.name]["cylinder"],
            sync=known[g.name]["sync"],
            lead=None,
        )
        if g.name in known
        else g
        for g in guessed
    )
    return reported, timed or rate is not None


def capture_from_recording(
    recording: Recording, uses: Sequence[ColumnUse], *, name: str, set_up: SetUp, sample_rate_hz: float | None = None
) -> Capture:
    """A capture of a recording's columns as they were said to be.

    Raises
    ------
    TableError, CaptureError
    """
    count = next(iter(recording.columns.values())).size
    time = None
    if "rate_hz" in recording.about and not any(u.role is Role.TIME for u in uses):
        time = TimeBase(
            samples=count, rate_hz=float(recording.about["rate_hz"]), start_s=float(recording.about.get("start_s", 0.0))
        )
    elif recording.rate_hz and not any(u.role is Role.TIME for u in uses):
        time = TimeBase(samples=count, rate_hz=sample_rate_hz or recording.rate_hz)
    placed = [_where_it_was(use, recording) for use in uses]
    return capture_of(recording.columns, placed, name=name, set_up=set_up, sample_rate_hz=sample_rate_hz, time=time)


def _where_it_was(use: ColumnUse, recording: Recording) -> ColumnUse:
    """A column with the place on the wire that a file written here recorded, which nobody is asked for."""
    known: dict[str, Any] = next((c for c in recording.about.get("channels", []) if c["name"] == use.column), {})
    feeds, measured_at, unplugged = (known.get(key) for key in ("feeds", "measured_at", "unplugged"))
    return replace(
        use,
        feeds=use.feeds or tuple(int(c) for c in feeds or ()),
        measured_at=use.measured_at or (str(measured_at) if measured_at else None),
        unplugged=use.unplugged if use.unplugged is not None else bool(unplugged) if unplugged is not None else None,
        came_through=read_lead(known.get("lead")),
    )


def capture_as_written(recording: Recording) -> Capture:
    """A recording written here, back as the capture it was.

    Raises
    ------
    CaptureError
        It was written elsewhere: what its columns are must be said.
    """
    if not recording.about:
        raise CaptureError("This file does not say what its columns are.")
    columns, _ = look_at_recording(recording)
    uses = [
        ColumnUse(column=c.name, role=c.role, unit=c.unit or "1", cylinder=c.cylinder, sync=c.sync) for c in columns
    ]
    set_up = read_set_up(recording.about.get("set_up", {}))
    return capture_from_recording(recording, uses, name=str(recording.about.get("name", "capture")), set_up=set_up)


def write_recording(capture: Capture, kind: str) -> bytes:
    """Write a capture in an open format.

    Parameters
    ----------
    capture : Capture
    kind : str
        mdf, matlab, parquet or csv.

    Returns
    -------
    bytes

    Raises
    ------
    TableError
        No such format.
    """
    if kind not in WRITERS:
        raise TableError(f"There is no format {kind!r}.", remedy=f"Use one of {', '.join(WRITERS)}.")
    return WRITERS[kind](capture)


def cut(capture: Capture, from_s: float, to_s: float) -> Capture:
    """The part of a capture between two times.

    Raises
    ------
    CaptureError
        Fewer than two samples lie there.
    """
    moments = capture.time.at(np.arange(capture.time.samples))
    begin, end = (int(i) for i in np.searchsorted(moments, (min(from_s, to_s), max(from_s, to_s))))
    if end - begin < 2:
        raise CaptureError("There are no samples in that stretch.", where=capture.name, remedy="Choose a longer one.")
    stamps = capture.time.stamps_s
    time = TimeBase(
        samples=end - begin,
        rate_hz=capture.time.rate_hz,
        start_s=float(moments[begin]),
        stamps_s=None if stamps is None else stamps[begin:end],
    )
    channels = tuple(replace(c, samples=c.samples[begin:end]) for c in capture.channels)
    return Capture(name=capture.name, time=time, channels=channels, set_up=capture.set_up)


def _write_csv(capture: Capture) -> bytes:
    moments = capture.time.at(np.arange(capture.time.samples))
    units = {n: c.unit for n, c in zip(names_of(capture), capture.channels, strict=True)}
    columns = {f"{n} ({units[n]})": v for n, v in columns_of(capture).items() if n != TIME}
    frame = pl.DataFrame({"time (s)": moments, **{_harmless(n): v for n, v in columns.items()}})
    return frame.write_csv(null_value="").encode()


def _harmless(name: str) -> str:
    """A leading sign would be a formula to a spreadsheet."""
    return f"'{name}" if name[:1] in ("=", "+", "-", "@") else name


EXPORTS = (
    Export(kind="csv", words="CSV", suffix=".csv", whole=False, write=_write_csv),
    *(Export(kind=f.kind, words=f.words, suffix=f.suffix, write=f.write) for f in FORMATS if f.write),
)
WRITERS: Mapping[str, Callable[[Capture], bytes]] = {e.kind: e.write for e in EXPORTS}
SUFFIXES: Mapping[str, str] = {e.kind: e.suffix for e in EXPORTS}

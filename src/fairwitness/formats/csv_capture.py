"""CSV as scopes and loggers write it, looked at and read: see ``dialect`` for what is understood."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import Capture, Role, SampleArray, SetUp
from fairwitness.formats.column_names import time_columns
from fairwitness.formats.columns import ColumnGuess, ColumnUse, capture_of, checked_uses, guess_columns
from fairwitness.formats.dialect import HEAD_BYTES, Dialect, decoded, find_dialect
from fairwitness.formats.mending import blocks, late_thousands, mended
from fairwitness.formats.tables import STRETCH, read_columns

WHOLE_BYTES = 4 * 1024 * 1024
"""Looked at whole; of what is larger as much again in stretches."""
STRETCHES, STRETCH_BYTES = 100, 32_768
LINE_END = ord("\n")
LETTERS_FROM = ord("A")
"""Digits, signs, marks and white space come before it, letters of all scripts after it."""
SEGMENTS_MAX = 500
SEGMENT_NAMES = re.compile(r"^(segment|segm|buffer|frame|sweep|block|acquisition)\b", re.I)
DAY_S = 86_400.0


@dataclass(frozen=True, slots=True, kw_only=True)
class TableGuess:
    """A table as found: how it is written and what it probably holds."""

    dialect: Dialect
    columns: tuple[ColumnGuess, ...]
    rate_hz: float | None
    """Told beside the samples, or by the column of time."""
    needs_rate: bool
    """Neither a column of time was found nor a rate: it must be asked for."""
    segments: tuple[int, ...] = ()
    """Samples of each, where the file holds several recordings one after the other."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TextTable:
    """Columns of a text table, and the rows of its segments."""

    dialect: Dialect
    arrays: Mapping[str, SampleArray]
    segments: tuple[tuple[int, int], ...]


def look_at(data: bytes, *, where: str = "file") -> TableGuess:
    """Find out how a table is written and guess its columns.

    Parameters
    ----------
    data : bytes
        The file; of a large one stretches from all over are looked at.
    where : str

    Returns
    -------
    TableGuess

    Raises
    ------
    TableError
        Nothing that looks like rows of numbers.
    """
    text, encoding = decoded(data, where)
    dialect = find_dialect(text, encoding, where)
    table = _looked_at(text, dialect, where)
    columns, timed = guess_columns(dialect.names, dialect.units, table.arrays, rate_hz=dialect.rate_hz)
    return TableGuess(
        dialect=table.dialect,
        columns=tuple(c for c in columns if c.preview),
        rate_hz=dialect.rate_hz,
        needs_rate=not timed and dialect.rate_hz is None,
        segments=tuple(end - begin for begin, end in table.segments) if len(table.segments) > 1 else (),
    )


def read_capture(
    data: bytes,
    uses: Sequence[ColumnUse],
    *,
    name: str,
    set_up: SetUp,
    sample_rate_hz: float | None = None,
    segment: int | None = None,
) -> Capture:
    """Read a table as a capture.

    Parameters
    ----------
    data : bytes
    uses : sequence of ColumnUse
    name : str
    set_up : SetUp
    sample_rate_hz : float, optional
        Needed where no column is time and the file does not tell it.
    segment : int, optional
        Of a file that holds several recordings; the longest if left out.

    Returns
    -------
    Capture

    Raises
    ------
    TableError, CaptureError
        What is wrong with the table or its time.
    """
    text, encoding = decoded(data, name)
    dialect = find_dialect(text, encoding, name)
    checked_uses(uses, dialect.names, where=name)
    exact = [u.column for u in uses if u.role is Role.TIME]
    table = read_table(text, dialect, exact=exact or None, where=name)
    begin, end = chosen_segment(table.segments, segment, where=name)
    arrays = {n: v[begin:end] for n, v in table.arrays.items()}
    rate = sample_rate_hz or dialect.rate_hz
    return capture_of(arrays, uses, name=name, set_up=set_up, sample_rate_hz=rate)


def chosen_segment(segments: Sequence[tuple[int, int]], segment: int | None, *, where: str) -> tuple[int, int]:
    """The rows of a segment, of the longest one where none was chosen.

    Raises
    ------
    TableError
        There is no such segment.
    """
    if segment is None:
        return max(segments, key=lambda s: s[1] - s[0])
    if not 0 <= segment < len(segments):
        raise TableError(f"There is no recording {segment + 1} in it.", where=where, remedy="Choose another.")
    return segments[segment]


def read_table(text: bytes, dialect: Dialect, *, exact: Sequence[str] | None, where: str) -> TextTable:
    """All columns of a text table.

    Parameters
    ----------
    text : bytes
        UTF-8.
    dialect : Dialect
    exact : sequence of str or None
        Columns kept in double precision; None for what is time by name or unit.
    where : str

    Returns
    -------
    TextTable

    Raises
    ------
    TableError
    """
    try:
        return _read(text, dialect, exact=exact, where=where)
    except TableError:
        mark = late_thousands(text, dialect)
        if not mark:
            raise
        grouped = replace(dialect, thousands=mark)
    return _read(text, grouped, exact=exact, where=where)


def _read(text: bytes, dialect: Dialect, *, exact: Sequence[str] | None, where: str) -> TextTable:
    plain, layout = mended(text, dialect)
    kept_exact = list(exact) if exact is not None else _times(dialect)
    kept_exact += [t for t in _times(dialect) if t not in kept_exact]
    try:
        return _in_segments(dialect, read_columns(plain, layout, exact=kept_exact, where=where), [])
    except TableError as fault:
        apart = blocks(plain, layout)
        if apart is None:
            raise
        rows, counts = apart
        try:
            arrays = read_columns(rows, replace(layout, skip_lines=0), exact=kept_exact, where=where)
        except TableError:
            raise fault from None  # words between the rows do not explain it, and their lines are gone by now
    return _in_segments(dialect, arrays, counts)


def _times(dialect: Dialect) -> list[str]:
    return time_columns(dialect.names, dialect.units)


def _in_segments(dialect: Dialect, arrays: dict[str, SampleArray], counts: Sequence[int]) -> TextTable:
    """Where one recording ends and the next begins: words between them, a column that counts them, time anew."""
    times = _times(dialect) or ([dialect.names[0]] if dialect.clock else [])
    if len(times) > 1:
        arrays = _one_clock(dialect, arrays, times)
    total = next(iter(arrays.values())).size
    ends = [int(e) for e in np.cumsum(counts)] if counts and sum(counts) == total else [total]
    marks = set(ends[:-1])
    if times:
        clock: SampleArray = np.asarray(arrays[times[0]], dtype=np.float64)
        if dialect.clock:
            clock = arrays[times[0]] = _past_midnight(clock)
        marks |= {int(i) for i in np.flatnonzero(np.diff(clock) < 0) + 1}
    for name in arrays:
        if SEGMENT_NAMES.match(name):
            marks |= {int(i) for i in np.flatnonzero(np.diff(arrays[name]) != 0) + 1}
    if len(marks) > SEGMENTS_MAX:
        marks = set()
    places = [0, *sorted(marks), total]
    segments = tuple((b, e) for b, e in pairwise(places) if e - b >= 2)
    return TextTable(dialect=dialect, arrays=arrays, segments=segments or ((0, total),))


def _past_midnight(clock: SampleArray) -> SampleArray:
    falls = np.diff(clock) < -0.5 * DAY_S
    return np.asarray(clock + DAY_S * np.concatenate(([0], np.cumsum(falls))), dtype=np.float64)


def _one_clock(dialect: Dialect, arrays: Mapping[str, SampleArray], times: Sequence[str]) -> dict[str, SampleArray]:
    """Columns that each follow a clock of their own, on the first clock."""
    names = list(dialect.names)
    first = np.asarray(arrays[times[0]], dtype=np.float64)
    good = np.isfinite(first)
    kept: dict[str, SampleArray] = {}
    own = times[0]
    for name in names:
        own = name if name in times else own
        if name in times and name != times[0]:
            continue
        values = arrays[name]
        clock = np.asarray(arrays[own], dtype=np.float64)
        if own != times[0] and not np.array_equal(clock, first, equal_nan=True):
            known = np.isfinite(clock) & np.isfinite(values)
            values = np.full(first.size, np.nan)
            if known.any():
                order = np.argsort(clock[known], kind="stable")
                at, told = clock[known][order], arrays[name][known][order]
                values = np.interp(first, at, told, left=np.nan, right=np.nan)
        kept[name] = values[good]
    return kept


def _looked_at(text: bytes, dialect: Dialect, where: str) -> TextTable:
    """Columns of the whole table, or of stretches of it; a fault in a far stretch is told when it is kept, by line."""
    if len(text) <= WHOLE_BYTES:
        return read_table(text, dialect, exact=dialect.names, where=where)
    try:
        table = read_table(_from_all_over(text), dialect, exact=dialect.names, where=where)
    except TableError:
        head = text[: text.rindex(b"\n", 0, HEAD_BYTES) + 1]
        table = read_table(head, dialect, exact=dialect.names, where=where)
    if len(table.segments) == 1 and (_times(dialect) or not _words_below(text)):
        return table  # where there is time, another recording begins with an earlier one
    try:  # how long each recording in it is can only be told from all of it
        return read_table(text, dialect, exact=dialect.names, where=where)
    except TableError:
        return replace(table, segments=((0, next(iter(table.arrays.values())).size),))


def _words_below(text: bytes) -> bool:
    """Whether a line far below the head begins with a letter, as the heading of another recording does."""
    held = np.frombuffer(text, np.uint8)
    for at in range(HEAD_BYTES, held.size - 1, STRETCH):
        piece = held[at : at + STRETCH + 1]
        if np.any((piece[:-1] == LINE_END) & (piece[1:] >= LETTERS_FROM)):
            return True
    return False


def _from_all_over(text: bytes) -> bytes:
    """A table short enough to be read at once: the head, and whole lines from many places of what follows."""
    kept = [text[: text.rindex(b"\n", 0, HEAD_BYTES) + 1]]
    for place in range(1, STRETCHES):
        begin = text.find(b"\n", HEAD_BYTES + place * (len(text) - HEAD_BYTES) // STRETCHES) + 1
        end = text.rfind(b"\n", begin, begin + STRETCH_BYTES) + 1
        if 0 < begin < end:
            kept.append(text[begin:end])
    return b"".join(kept)

"""CSV as scopes and loggers write it: delimiters, decimal commas, preambles, units in the header or below it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import Capture, Role, SampleArray, SetUp
from fairwitness.formats.columns import ColumnGuess, ColumnUse, capture_of, checked_uses, guess_columns, unit_of
from fairwitness.formats.tables import COLUMNS_MAX, Layout, read_columns

HEAD_BYTES = 262_144
WHOLE_BYTES = 4 * 1024 * 1024
"""Looked at whole; of what is larger as much again in stretches."""
STRETCHES, STRETCH_BYTES = 100, 32_768
LINES_LOOKED_AT = 400
NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
UNIT_IN_HEADER = re.compile(r"^(.*?)\s*[\[(/]\s*([A-Za-zµμ°1]+)\s*[\])]?\s*$")


@dataclass(frozen=True, slots=True, kw_only=True)
class TableGuess:
    """A table as found: how it is written and what it probably holds."""

    layout: Layout
    columns: tuple[ColumnGuess, ...]
    needs_rate: bool
    """No column of time was found: the sample rate must be asked for."""


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
    text, encoding = _text(data[:HEAD_BYTES], where)
    lines = text.splitlines()[:LINES_LOOKED_AT]
    if len(data) > HEAD_BYTES and lines:
        lines = lines[:-1]
    delimiter, decimal, first_row, width = _shape(lines, where)
    header = [_cells(line, delimiter) for line in lines[:first_row]]
    names, units = _names_and_units(header, width)
    layout = Layout(delimiter=delimiter, decimal=decimal, skip_lines=first_row, columns=tuple(names), encoding=encoding)
    arrays = _looked_at(data, layout, where)
    columns, timed = guess_columns(names, units, arrays)
    return TableGuess(layout=layout, columns=columns, needs_rate=not timed)


def read_capture(
    data: bytes,
    uses: Sequence[ColumnUse],
    *,
    name: str,
    set_up: SetUp,
    sample_rate_hz: float | None = None,
    layout: Layout | None = None,
) -> Capture:
    """Read a table as a capture.

    Parameters
    ----------
    data : bytes
    uses : sequence of ColumnUse
    name : str
    set_up : SetUp
    sample_rate_hz : float, optional
        Needed where no column is time.
    layout : Layout, optional
        As found by ``look_at``; looked for if left out.

    Returns
    -------
    Capture

    Raises
    ------
    TableError, CaptureError
        What is wrong with the table or its time.
    """
    layout = layout or look_at(data, where=name).layout
    checked_uses(uses, layout.columns, where=name)
    arrays = read_columns(data, layout, exact=[u.column for u in uses if u.role is Role.TIME], where=name)
    return capture_of(arrays, uses, name=name, set_up=set_up, sample_rate_hz=sample_rate_hz)


def _looked_at(data: bytes, layout: Layout, where: str) -> dict[str, SampleArray]:
    """Columns of the whole table, or of stretches of it; a fault in a far stretch is told when it is kept, by line."""
    if len(data) <= WHOLE_BYTES:
        return read_columns(data, layout, exact=layout.columns, where=where)
    try:
        return read_columns(_from_all_over(data, layout), layout, exact=layout.columns, where=where)
    except TableError:
        return read_columns(data[: data.rindex(b"\n", 0, HEAD_BYTES) + 1], layout, exact=layout.columns, where=where)


def _from_all_over(data: bytes, layout: Layout) -> bytes:
    """A table short enough to be read at once: the head, and whole lines from many places of what follows."""
    if layout.encoding == "utf-16":  # its line ends lie on even places only
        return data[:WHOLE_BYTES]
    kept = [data[: data.rindex(b"\n", 0, HEAD_BYTES) + 1]]
    for place in range(1, STRETCHES):
        begin = data.find(b"\n", HEAD_BYTES + place * (len(data) - HEAD_BYTES) // STRETCHES) + 1
        end = data.rfind(b"\n", begin, begin + STRETCH_BYTES) + 1
        if 0 < begin < end:
            kept.append(data[begin:end])
    return b"".join(kept)


def _text(head: bytes, where: str) -> tuple[str, str]:
    if not head.strip():
        raise TableError("The file is empty.", where=where, remedy="Export the capture again.")
    if head.startswith((b"\xff\xfe", b"\xfe\xff")):
        return head[: len(head) // 2 * 2].decode("utf-16", errors="replace"), "utf-16"
    if b"\x00" in head:
        raise TableError("This is not a text table.", where=where, remedy="Export the capture as CSV.")
    try:
        return head.decode("utf-8-sig"), "utf-8"
    except UnicodeDecodeError as error:
        if error.start >= len(head) - 4:
            return head[: error.start].decode("utf-8-sig"), "utf-8"
        return head.decode("latin-1"), "latin-1"


def _cells(line: str, delimiter: str) -> list[str]:
    return [cell.strip().strip('"').strip() for cell in line.split(delimiter)]


def _shape(lines: Sequence[str], where: str) -> tuple[str, str, int, int]:
    """Delimiter, decimal mark, first row of numbers and its width."""
    for delimiter, decimal in (("\t", "."), ("\t", ","), (";", "."), (";", ","), (",", ".")):
        for at, line in enumerate(lines):
            cells = _cells(line, delimiter)
            if delimiter != "," and len(cells) < 2:
                continue
            if len(cells) > COLUMNS_MAX or not _is_numbers(cells, decimal):
                continue
            follows = [_cells(other, delimiter) for other in lines[at + 1 : at + 6] if other.strip()]
            if follows and all(len(c) == len(cells) for c in follows):
                return delimiter, decimal, at, len(cells)
            break
    raise TableError(
        "No rows of numbers were found.", where=where, remedy="Export the capture as CSV with one row per sample."
    )


def _is_numbers(cells: Sequence[str], decimal: str) -> bool:
    filled = [c for c in cells if c]
    other = "," if decimal == "." else "."
    return bool(filled) and all(NUMBER.match(c) and other not in c for c in filled)


def _names_and_units(header: Sequence[Sequence[str]], width: int) -> tuple[list[str], list[str | None]]:
    rows = [row for row in header if len(row) == width and any(row)]
    units: list[str | None] = [None] * width
    names = [f"column {i + 1}" for i in range(width)]
    if rows and all(unit_of(cell) or not cell for cell in rows[-1]) and len(rows) > 1:
        units = [unit_of(cell) for cell in rows[-1]]
        rows = rows[:-1]
    if rows:
        names = [cell or f"column {i + 1}" for i, cell in enumerate(rows[-1])]
    for i, name in enumerate(names):
        match = UNIT_IN_HEADER.match(name)
        if match and (unit := unit_of(match[2])) and match[1].strip():
            names[i], units[i] = match[1].strip(), units[i] or unit
    seen: dict[str, int] = {}
    for i, name in enumerate(names):
        seen[name] = seen.get(name, 0) + 1
        if seen[name] > 1:
            names[i] = f"{name} {seen[name]}"
    return names, units

"""Mends that make a plain table of one written in another way: line for line, so that places in messages stay true."""

from __future__ import annotations

import re

from fairwitness.formats.dialect import Dialect, cells_of
from fairwitness.formats.tables import MISSING, Layout

BREAKS_MAX = 2_000
NOT_NUMBERS = re.compile(rb"^[^\n]*[A-DF-Za-df-z_=:#%*][^\n]*$|^[ \t\r]*$", re.M)
"""A line with a letter that no number has, or without anything."""
QUOTED = re.compile(rb'"([^"\n]*)"')
TIME_OF_DAY = re.compile(
    rb"(?:\d{4}-\d\d-\d\d[T ]|\d\d?[./]\d\d?[./]\d{2,4} )?(\d\d?):(\d\d)(?::(\d\d(?:[.,]\d+)?))?Z?"
)
WHITE = re.compile(rb"[ \t]+")
EDGES = re.compile(rb"^ | (?=\r?$)", re.M)


def mended(text: bytes, dialect: Dialect) -> tuple[bytes, Layout]:
    """A table for the fast reader, and how it is written then.

    Parameters
    ----------
    text : bytes
        UTF-8; the head with its preamble, or rows only.
    dialect : Dialect

    Returns
    -------
    (text, layout)
    """
    delimiter, decimal = dialect.delimiter, dialect.decimal
    if not dialect.plain:
        comma_cells = delimiter == "," and decimal == ","
        if dialect.quoted and (comma_cells or dialect.thousands):
            text = QUOTED.sub(lambda m: _bare(m[1], dialect), text)
            decimal = "." if comma_cells else decimal
        elif dialect.thousands:
            text = _ungrouped(text, dialect.thousands)
        mark = re.escape(delimiter.encode())
        if dialect.cut_cells:
            text = re.sub(rb"(?m)^(?:[^%b\n]*%b){%d}" % (mark, mark, dialect.cut_cells), b"", text)
        if dialect.trailing:
            text = re.sub(rb"(?m)%b[ \t]*(?=\r?$)" % mark, b"", text)
        if dialect.clock:
            text = TIME_OF_DAY.sub(lambda m: _seconds(m, decimal), text)
        if delimiter == " ":
            text = EDGES.sub(b"", WHITE.sub(b" ", text))
    layout = Layout(delimiter=delimiter, decimal=decimal, skip_lines=dialect.first_line, columns=dialect.names)
    return text, layout


def blocks(text: bytes, layout: Layout) -> tuple[bytes, list[int]] | None:
    """Rows of numbers alone, where lines of words stand between or below them, and how many rows each block has.

    Parameters
    ----------
    text : bytes
        Mended.
    layout : Layout

    Returns
    -------
    (rows, counts) or None
        None where no line of words explains why the table cannot be read.
    """
    begin = 0
    for _ in range(layout.skip_lines):
        begin = text.find(b"\n", begin) + 1
    kept: list[bytes] = []
    counts: list[int] = []
    at = begin
    breaks = 0
    for match in NOT_NUMBERS.finditer(text, begin):
        if not _breaks(match[0], layout):
            continue
        breaks += 1
        if breaks > BREAKS_MAX:
            return None
        _keep(text[at : match.start()], kept, counts)
        at = min(match.end() + 1, len(text))
    _keep(text[at:], kept, counts)
    return (b"".join(kept), counts) if breaks and counts else None


def late_thousands(text: bytes, dialect: Dialect) -> str:
    """What sets thousands apart in a table whose head has none; empty where nothing does."""
    if dialect.thousands or (dialect.delimiter == "," and not dialect.quoted):
        return ""
    mark = "." if dialect.decimal == "," else ","
    cell = rb'(?m)(?:^|[%b"])[+-]?\d{1,3}(?:%b\d{3})+(?:%b\d*)?(?:$|[%b"\r])' % (
        re.escape(dialect.delimiter.encode()), re.escape(mark.encode()), re.escape(dialect.decimal.encode()),
        re.escape(dialect.delimiter.encode()),
    )  # fmt: skip
    return mark if re.search(cell, text) else ""


def _keep(rows: bytes, kept: list[bytes], counts: list[int]) -> None:
    if not rows.strip():
        return
    rows = rows if rows.endswith(b"\n") else rows + b"\n"
    kept.append(rows)
    counts.append(rows.count(b"\n"))


def _breaks(line: bytes, layout: Layout) -> bool:
    """Whether a line is words and not samples: a single word among numbers is a fault of the table, and told as one."""
    if not line.strip():
        return True
    cells = [c for c in cells_of(line.decode("utf-8", errors="replace"), layout.delimiter) if c]
    words = [c for c in cells if c not in MISSING and not _number(c, layout.decimal)]
    return len(words) > 0.5 * len(cells) or (bool(words) and len(cells) < len(layout.columns))


def _number(cell: str, decimal: str) -> bool:
    try:
        float(cell.replace(",", ".") if decimal == "," else cell)
    except ValueError:
        return False
    return True


def _bare(cell: bytes, dialect: Dialect) -> bytes:
    if dialect.thousands:
        cell = cell.replace(dialect.thousands.encode(), b"")
    return cell.replace(b",", b".") if dialect.decimal == "," else cell


def _ungrouped(text: bytes, mark: str) -> bytes:
    return re.sub(rb"(?<=\d)%b(?=\d{3}(?!\d))" % re.escape(mark.encode()), b"", text)


def _seconds(match: re.Match[bytes], decimal: str) -> bytes:
    """Seconds since midnight."""
    seconds = float((match[3] or b"0").replace(b",", b"."))
    told = f"{3600 * int(match[1]) + 60 * int(match[2]) + seconds:.6f}"
    return told.replace(".", decimal).encode()

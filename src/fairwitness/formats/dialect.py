"""How a text table is written: found from its head, and mended to a plain table where it is not one already.

Instruments write preambles, units in a row of their own, decimal commas, quoted cells, thousands, clock times, a
column of facts beside the samples, several buffers one below the other. A plain table goes to the fast reader as it is;
any other is rewritten first, each oddity by one mend that is said when the file is looked at.
"""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

from fairwitness.core.errors import TableError
from fairwitness.formats.column_units import unit_of
from fairwitness.formats.tables import COLUMNS_MAX, MISSING

HEAD_BYTES = 262_144
LINES_LOOKED_AT = 400
FACTS_MOST = 0.5
"""Share of rows in which a cell beside the samples may be a number."""
LONGEST_CHARACTER = 4
ROWS_ALIKE = 5
CUT_MOST = 3
WAYS_TO_WRITE = (
    *(("\t", "."), ("\t", ","), (";", "."), (";", ","), ("|", "."), ("|", ",")),
    *((",", "."), (",", ","), (" ", "."), (" ", ",")),
)
"""Delimiters and decimal marks, those that say more first."""
"""So many rows of one width, all numbers, are the table."""
NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
GROUPED = re.compile(r"^[+-]?\d{1,3}([.,' \u00a0\u202f])\d{3}(?:\1\d{3})*([.,]\d+)?([eE][+-]?\d+)?$")
CLOCK = re.compile(r"^(?:\d{4}-\d\d-\d\d[T ]|\d\d?[./]\d\d?[./]\d{2,4} )?\d\d?:\d\d(?::\d\d(?:[.,]\d+)?)?Z?$")
UNIT_IN_HEADER = re.compile(r"^(.*?)\s*[\[(/]\s*([A-Za-zµμ°1]+)\s*[\])]?\s*$")
COMMENT = re.compile(r"^\s*(?:#|%|//|\*)")
INTERVAL = re.compile(
    r"(?:sampl\w*[ _-]?(?:interval|period|time)|interval|increment|x[ _-]?inc\w*|time[ _-]?(?:step|base inc\w*)"
    r"|delta ?t|\bdt\b|abtast\w*intervall|per\w*ode)"
    r"[^\d+-]*([+-]?[\d.,]+(?:[eE][+-]?\d+)?)\s*\W?\s*(ns|us|µs|μs|ms|s|sec\w*)?\b",
    re.I,
)
RATE = re.compile(
    r"(?:sampl\w*[ _-]?(?:rate|freq\w*)|\brate\b|\bfs\b|abtast(?:rate|frequenz)|fr.quence|frecuencia)"
    r"[^\d+-]*([\d.,]+(?:[eE][+-]?\d+)?)\s*\W?\s*([kM]?(?:Hz|S/s|Sa/s|Samples/s|sps))?",
    re.I,
)
SECONDS = {"ns": 1e-9, "us": 1e-6, "µs": 1e-6, "μs": 1e-6, "ms": 1e-3}


@dataclass(frozen=True, slots=True, kw_only=True)
class Dialect:
    """How a text table is written.

    Parameters
    ----------
    encoding : str
    delimiter : str
        One character; a space for columns set apart by white space.
    decimal : str
    first_line : int
        Of numbers, from 0.
    names : tuple of str
        Of the columns that are kept.
    units : tuple of str or None
    rate_hz : float or None
        Where the preamble tells how often samples were taken.
    cut_cells : int
        Leading cells of each row that hold facts instead of samples.
    quoted, grouped, clock, trailing : bool
        Cells in quotes; thousands set apart; times of day; a delimiter at the end of rows.
    thousands : str
        What sets them apart.
    """

    encoding: str
    delimiter: str
    decimal: str
    first_line: int
    names: tuple[str, ...]
    units: tuple[str | None, ...]
    rate_hz: float | None = None
    cut_cells: int = 0
    quoted: bool = False
    thousands: str = ""
    clock: bool = False
    trailing: bool = False

    @property
    def plain(self) -> bool:
        """Whether the fast reader takes it as it is."""
        return not (self.cut_cells or self.thousands or self.clock or self.trailing or self.delimiter == " ") and not (
            self.quoted and self.decimal == "," and self.delimiter == ","
        )

    @property
    def said(self) -> str:
        """In words, for whoever chose the file."""
        marks = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar", " ": "spaces"}
        words = [
            f"{marks[self.delimiter]} between cells",
            "decimal comma" if self.decimal == "," else "decimal point",
        ]
        if self.thousands:
            words.append("thousands set apart")
        if self.clock:
            words.append("times of day")
        if self.cut_cells:
            words.append("facts beside the samples left out")
        return ", ".join(words)


def decoded(data: bytes, where: str) -> tuple[bytes, str]:
    """A text table as UTF-8, and how it was written.

    Raises
    ------
    TableError
        Empty, or no text.
    """
    if not data or (data[:HEAD_BYTES].isspace() and data.isspace()):
        raise TableError("The file is empty.", where=where, remedy="Export the capture again.")
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return data[: len(data) // 2 * 2].decode("utf-16", errors="replace").encode(), "utf-16"
    head = data[:HEAD_BYTES]
    if _is_utf16(head):
        order = "utf-16-le" if head[1::2].count(0) > head[0::2].count(0) else "utf-16-be"
        return data[: len(data) // 2 * 2].decode(order, errors="replace").encode(), order
    if b"\x00" in head:
        raise TableError("This is not a text table.", where=where, remedy="Export the capture as CSV.")
    if data.startswith(b"\xef\xbb\xbf"):
        data = data[3:]
    try:
        head.decode("utf-8")
    except UnicodeDecodeError as error:
        if error.start < len(head) - LONGEST_CHARACTER:  # else the head only ends within one
            return data.decode("cp1252", errors="replace").encode(), "latin-1"
    return data, "utf-8"


def _is_utf16(head: bytes) -> bool:
    """Every other byte zero, as plain text without a mark has it."""
    pairs = max(len(head) // 2, 1)
    return len(head) >= 8 and max(head[1::2].count(0), head[0::2].count(0)) > 0.8 * pairs


def find_dialect(text: bytes, encoding: str, where: str) -> Dialect:
    """How a table is written, from its head.

    Parameters
    ----------
    text : bytes
        UTF-8, the whole table or its head.
    encoding : str
        As it was written.
    where : str

    Returns
    -------
    Dialect

    Raises
    ------
    TableError
        Nothing that looks like rows of numbers.
    """
    lines = _lines(text)
    second_best = None
    for delimiter, decimal in WAYS_TO_WRITE:
        table = _table(lines, delimiter, decimal)
        if table is not None and not table.cut:
            return _described(lines, encoding, delimiter, decimal, table)
        if table is not None and second_best is None:
            second_best = _described(lines, encoding, delimiter, decimal, table)
    if second_best is not None:
        return second_best
    raise TableError(
        "No rows of numbers were found.", where=where, remedy="Export the capture as CSV with one row per sample."
    )


@dataclass(frozen=True, slots=True)
class _Found:
    """Where rows of numbers begin, and how wide they are."""

    at: int
    width: int
    cut: int
    quoted: bool
    thousands: str
    clock: bool
    trailing: bool


def _lines(text: bytes) -> list[str]:
    head = text[:HEAD_BYTES].decode("utf-8", errors="replace")
    lines = head.splitlines()[:LINES_LOOKED_AT]
    return lines[:-1] if len(text) > HEAD_BYTES and len(lines) > 1 else lines


def cells_of(line: str, delimiter: str) -> list[str]:
    """Cells of a line, quotes taken off, white space around them too."""
    if delimiter == " ":
        return line.split()
    if '"' not in line:
        return [cell.strip() for cell in line.split(delimiter)]
    return [cell.strip() for cell in next(csv.reader([line], delimiter=delimiter, skipinitialspace=True), [])]


def _table(lines: Sequence[str], delimiter: str, decimal: str) -> _Found | None:
    """The first rows of numbers under this delimiter and decimal mark, facts beside them cut off."""
    if delimiter != "," and not any(delimiter in line for line in lines):
        return None
    split = [cells_of(line, delimiter) for line in lines]
    starts = []
    for cut in range(CUT_MOST + 1):
        rows = (_rows_from(lines, split, at, cut, delimiter, decimal) for at in range(len(split)))
        first = next((found for found in rows if found is not None), None)
        if first is not None and (not cut or _facts_beside(split, first.at, cut, decimal, delimiter)):
            starts.append(first)
    return min(starts, key=lambda f: (f.at, -f.cut), default=None)


def _rows_from(
    lines: Sequence[str], split: Sequence[list[str]], at: int, cut: int, delimiter: str, decimal: str
) -> _Found | None:
    cells = split[at][cut:]
    if len(cells) > COLUMNS_MAX or (delimiter != "," and len(cells) < 2) or (cut and len(cells) < 2):
        return None
    if any(_kind(cell, decimal, delimiter) == "text" for cell in cells if cell):  # most lines end here, at little cost
        return None
    follows = [row[cut:] for row in split[at + 1 : at + 1 + ROWS_ALIKE] if any(row)]
    if not follows or any(len(row) != len(cells) for row in follows):
        return None
    trailing = len(cells) > 1 and all(row[-1] == "" for row in (cells, *follows))
    rows = [row[:-1] if trailing else row for row in (cells, *follows)]
    kinds = {_kind(cell, decimal, delimiter) for row in rows for cell in row if cell}
    if not kinds or "text" in kinds or kinds == {"missing"} or not all(any(row) for row in rows):
        return None
    later = {_kind(cell, decimal, delimiter) for row in split[at:] for cell in row[cut:] if cell}
    grouped = next((k[-1] for k in sorted(later) if k.startswith("grouped")), "")
    return _Found(
        at=at,
        width=len(rows[0]),
        cut=cut,
        quoted=any('"' in line for line in lines[at : at + 3]),
        thousands=grouped,
        clock=any(k == "clock" for k in kinds),
        trailing=trailing,
    )


def _facts_beside(split: Sequence[list[str]], at: int, cut: int, decimal: str, delimiter: str) -> bool:
    """Whether the cells left of the numbers are facts or nothing: no column of them is one of samples."""
    left = [row[:cut] for row in split[at:] if len(row) > cut]
    for column in zip(*left, strict=True):
        numbers = sum(bool(c) and _kind(c, decimal, delimiter) != "text" for c in column)
        if numbers > FACTS_MOST * len(column):
            return False
    return True


@lru_cache(maxsize=8192)
def _kind(cell: str, decimal: str, delimiter: str) -> str:
    """What a filled cell is: number, grouped with its mark, clock, missing or text."""
    other = "," if decimal == "." else "."
    if NUMBER.match(cell) and other not in cell:
        return "number"
    if cell in MISSING:
        return "missing"
    if CLOCK.match(cell):
        return "clock"
    match = GROUPED.match(cell)
    own = (decimal, delimiter) if delimiter != "," else (decimal,)
    if match and match[1] not in own and (match[2] or decimal)[0] == decimal:
        return f"grouped{match[1]}"
    return "text"


def _described(lines: Sequence[str], encoding: str, delimiter: str, decimal: str, found: _Found) -> Dialect:
    header = [cells_of(COMMENT.sub("", line), delimiter)[found.cut :] for line in lines[: found.at] if line.strip()]
    names, units = names_and_units(header, found.width)
    return Dialect(
        encoding=encoding,
        delimiter=delimiter,
        decimal=decimal,
        first_line=found.at,
        names=tuple(names),
        units=tuple(units),
        rate_hz=rate_told(lines, decimal),
        cut_cells=found.cut,
        quoted=found.quoted,
        thousands=found.thousands,
        clock=found.clock,
        trailing=found.trailing,
    )


def rate_told(lines: Sequence[str], decimal: str) -> float | None:
    """Samples per second, where a line beside the samples tells it; None where none does."""
    for line in lines:
        flat = re.sub(r'[";|\t]+' if decimal == "," else r'[";|\t]+|,(?!\d{3}(?!\d))|(?<!\d),', " ", line)
        for pattern in (INTERVAL, RATE):
            match = pattern.search(flat)
            value = _value(match[1]) if match else None
            if match is None or not value or value <= 0:
                continue
            if pattern is INTERVAL:
                return 1.0 / (value * SECONDS.get((match[2] or "s").lower(), 1.0))
            scale = {"k": 1e3, "m": 1e6}.get((match[2] or " ")[0].lower(), 1.0)
            return value * scale
    return None


def _value(text: str) -> float | None:
    bare = text.rstrip(".,")
    if bare.count(",") == 1 and "." not in bare:
        bare = bare.replace(",", ".")
    try:
        return float(bare.replace(",", ""))
    except ValueError:
        return None


def names_and_units(header: Sequence[Sequence[str]], width: int) -> tuple[list[str], list[str | None]]:
    """Names and units of columns from the rows above them, each name once."""
    rows = [list(row) for row in header if len(row) in (width, width + 1) and any(row[:width])]
    rows = [row[:width] for row in rows]
    units: list[str | None] = [None] * width
    names = [f"column {i + 1}" for i in range(width)]
    if len(rows) > 1 and all(unit_of(cell) or not cell for cell in rows[-1]):
        units = [unit_of(cell) for cell in rows[-1]]
        rows = rows[:-1]
    elif len(rows) > 1 and all(unit_of(cell) or not cell for cell in rows[-2]):
        units = [unit_of(cell) for cell in rows[-2]]
        del rows[-2]
    if rows:
        names = [cell or f"column {i + 1}" for i, cell in enumerate(rows[-1])]
    for i, name in enumerate(names):
        match = UNIT_IN_HEADER.match(name)
        if match and (unit := unit_of(match[2])) and match[1].strip():
            names[i], units[i] = match[1].strip(), units[i] or unit
    return list(_once_each(names)), units


def _once_each(names: Sequence[str]) -> Iterator[str]:
    taken: set[str] = set()
    for name in names:
        free, count = name, 1
        while free in taken:
            count += 1
            free = f"{name} {count}"
        taken.add(free)
        yield free

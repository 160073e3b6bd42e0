"""CSV as scopes and loggers write it: delimiters, decimal commas, preambles, units in the header or below it."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from fairwitness.core.capture import (
    UNIT_TO_SI,
    Capture,
    Channel,
    FloatArray,
    Role,
    SampleArray,
    SetUp,
    TimeBase,
)
from fairwitness.core.errors import TableError
from fairwitness.formats.tables import COLUMNS_MAX, Layout, read_columns

HEAD_BYTES = 262_144
PREVIEW_ROWS = 2000
LINES_LOOKED_AT = 400
UNIT_WORDS = {
    "s": ("sec", "secs", "second", "seconds", "sek"),
    "ms": ("msec",),
    "us": ("µs", "μs", "usec"),
    "V": ("volt", "volts", "v"),
    "mV": ("mv",),
    "kV": ("kv",),
    "A": ("amp", "amps", "ampere", "a"),
    "mA": ("ma",),
    "Pa": ("pa",),
    "kPa": ("kpa",),
    "deg": ("°",),
}
UNIT_OF_WORD = {word: unit for unit, words in UNIT_WORDS.items() for word in words}
TIME_NAMES = re.compile(r"^(time|t|zeit|temps|tiempo|tid|x|x-axis|timestamp)$", re.I)
NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
UNIT_IN_HEADER = re.compile(r"^(.*?)\s*[\[(/]\s*([A-Za-zµμ°1]+)\s*[\])]?\s*$")


@dataclass(frozen=True, slots=True, kw_only=True)
class ColumnGuess:
    """One column as found, and what it probably is."""

    name: str
    unit: str | None
    role: Role
    cylinder: int | None
    sync: bool
    preview: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class TableGuess:
    """A table as found: how it is written and what it probably holds."""

    layout: Layout
    columns: tuple[ColumnGuess, ...]
    needs_rate: bool
    """No column of time was found: the sample rate must be asked for."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ColumnUse:
    """What the technician says of one column. Role ``other`` without unit leaves it out."""

    column: str
    role: Role
    unit: str
    cylinder: int | None = None
    sync: bool = False


def look_at(data: bytes, *, where: str = "file") -> TableGuess:
    """Find out how a table is written and guess its columns.

    Parameters
    ----------
    data : bytes
        The file, or its beginning.
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
    head = "\n".join(lines[: first_row + PREVIEW_ROWS]).encode()
    arrays = read_columns(head, replace(layout, encoding="utf-8"), exact=tuple(names), where=where)
    time_at = _time_column(names, units, arrays)
    columns = []
    seen_sync = False
    for name, unit in zip(names, units, strict=True):
        values = np.asarray(arrays[name], dtype=np.float64)
        role, guessed = (Role.TIME, unit or "s") if name == time_at else _role(name, unit, values)
        sync = role is Role.COIL_CONTROL and not seen_sync
        seen_sync |= sync
        preview = values[:: max(1, values.size // 200)][:200]
        columns.append(
            ColumnGuess(
                name=name,
                unit=guessed,
                role=role,
                cylinder=_cylinder(name) or (1 if sync else None),
                sync=sync,
                preview=tuple(float(v) if np.isfinite(v) else 0.0 for v in preview),
            )
        )
    return TableGuess(layout=layout, columns=tuple(columns), needs_rate=time_at is None)


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
    unknown = [u.column for u in uses if u.column not in layout.columns]
    if unknown:
        raise TableError(f"There is no column {unknown[0]!r}.", where=name, mend=f"It has {', '.join(layout.columns)}.")
    kept = [u for u in uses if u.role is not Role.TIME and not (u.role is Role.OTHER and not u.unit)]
    if not kept:
        raise TableError("No column was given a role.", where=name, mend="Say what at least one column is.")
    bad = [u.unit for u in uses if u.unit and u.unit not in UNIT_TO_SI]
    if bad:
        raise TableError(f"The unit {bad[0]!r} is not known.", where=name, mend=f"Use one of {', '.join(UNIT_TO_SI)}.")
    timed = [u for u in uses if u.role is Role.TIME]
    arrays = read_columns(data, layout, exact=[u.column for u in timed], where=name)
    count = next(iter(arrays.values())).size
    if timed:
        stamps = np.asarray(arrays[timed[0].column], dtype=np.float64)
        factor = UNIT_TO_SI[timed[0].unit][0]
        stamps = stamps if factor == 1.0 else stamps * factor
        time = TimeBase.from_stamps(stamps)
    elif sample_rate_hz is not None:
        time = TimeBase(samples=count, rate_hz=sample_rate_hz)
    else:
        raise TableError("This file has no time column.", where=name, mend="Name the sample rate to read it.")
    channels = tuple(
        Channel(
            name=u.column,
            role=u.role,
            unit=u.unit or "1",
            samples=np.asarray(arrays[u.column], dtype=np.float32),
            cylinder=u.cylinder,
            sync=u.sync,
        )
        for u in kept
    )
    return Capture(name=name, time=time, channels=channels, set_up=set_up)


def _text(head: bytes, where: str) -> tuple[str, str]:
    if not head.strip():
        raise TableError("The file is empty.", where=where, mend="Export the capture again.")
    if head.startswith((b"\xff\xfe", b"\xfe\xff")):
        return head[: len(head) // 2 * 2].decode("utf-16", errors="replace"), "utf-16"
    if b"\x00" in head:
        raise TableError("This is not a text table.", where=where, mend="Export the capture as CSV.")
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
        "No rows of numbers were found.", where=where, mend="Export the capture as CSV with one row per sample."
    )


def _is_numbers(cells: Sequence[str], decimal: str) -> bool:
    filled = [c for c in cells if c]
    other = "," if decimal == "." else "."
    return bool(filled) and all(NUMBER.match(c) and other not in c for c in filled)


def _names_and_units(header: Sequence[Sequence[str]], width: int) -> tuple[list[str], list[str | None]]:
    rows = [row for row in header if len(row) == width and any(row)]
    units: list[str | None] = [None] * width
    names = [f"column {i + 1}" for i in range(width)]
    if rows and all(_unit(cell) or not cell for cell in rows[-1]) and len(rows) > 1:
        units = [_unit(cell) for cell in rows[-1]]
        rows = rows[:-1]
    if rows:
        names = [cell or f"column {i + 1}" for i, cell in enumerate(rows[-1])]
    for i, name in enumerate(names):
        match = UNIT_IN_HEADER.match(name)
        if match and (unit := _unit(match[2])) and match[1].strip():
            names[i], units[i] = match[1].strip(), units[i] or unit
    seen: dict[str, int] = {}
    for i, name in enumerate(names):
        seen[name] = seen.get(name, 0) + 1
        if seen[name] > 1:
            names[i] = f"{name} {seen[name]}"
    return names, units


def _unit(text: str) -> str | None:
    bare = text.strip().strip("[]()").strip()
    if bare in UNIT_TO_SI:
        return bare
    return UNIT_OF_WORD.get(bare.lower())


def _time_column(names: Sequence[str], units: Sequence[str | None], arrays: Mapping[str, SampleArray]) -> str | None:
    for name, unit in zip(names, units, strict=True):
        values = np.asarray(arrays[name], dtype=np.float64)
        rising = values.size > 1 and bool((np.diff(values) > 0).all())
        if TIME_NAMES.match(name) or unit in ("s", "ms", "us"):
            return name
        if rising and name == names[0]:
            steps = np.diff(values)
            if float(np.ptp(steps)) < 0.01 * float(np.median(steps)):
                return name
    return None


def _cylinder(name: str) -> int | None:
    match = re.search(r"(?:cyl(?:inder)?|coil|inj(?:ector)?|sync|zyl)\D{0,3}(\d{1,2})", name, re.I)
    return int(match[1]) if match and 1 <= int(match[1]) <= 16 else None


def _role(name: str, unit: str | None, values: FloatArray) -> tuple[Role, str | None]:
    """A sensible guess from name, unit and shape; the technician confirms it."""
    words = name.lower()
    good = values[np.isfinite(values)]
    if good.size == 0:
        return Role.OTHER, unit
    span = float(np.ptp(good))
    by_name = (
        (r"batt|ubat|supply", Role.BATTERY_VOLTAGE, "V"),
        (r"starter|clamp|crank.*curr|current|strom|amp", Role.STARTER_CURRENT, "A"),
        (r"inj.*(curr|amp)", Role.INJECTOR_CURRENT, "A"),
        (r"inj", Role.INJECTOR_VOLTAGE, "V"),
        (r"sync|coil|trigger|ign|zünd", Role.COIL_CONTROL, "V"),
        (r"second|kv", Role.SECONDARY_VOLTAGE, "kV"),
        (r"cam", Role.CAM_SENSOR, "V"),
    )
    for pattern, role, usual in by_name:
        if re.search(pattern, words):
            return role, unit or usual
    if unit in ("A", "mA"):
        return Role.STARTER_CURRENT, unit
    if unit in ("V", "mV", None):
        scale = 1e-3 if unit == "mV" else 1.0
        level = float(np.median(good)) * scale
        if 6.0 < abs(level) < 30.0:
            return Role.BATTERY_VOLTAGE, unit or "V"
        if abs(level) < 1.0 and 2.0 < span * scale < 30.0:
            return Role.COIL_CONTROL, unit or "V"
        if unit is None and span > 60:
            return Role.STARTER_CURRENT, "A"
    return Role.OTHER, unit

"""Tables of samples: numbers under columns, read by polars, refused with the place of the first fault."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import polars as pl
from numpy.typing import NDArray

from fairwitness.core.errors import TableError

TABLE_BYTES_MAX = 160 * 1024 * 1024
"""Largest table read at once; longer recordings come in parts."""
CELLS_MAX = 40_000_000
"""Most cells of one table: short cells would make more memory of the same bytes."""
COLUMNS_MAX = 64
LINES_SEARCHED_MAX = 5_000_000
STRETCH = 1 << 18
MISSING = [
    *("", "NaN", "nan", "NAN", "-nan", "null", "NULL", "None", "#N/A", "N/A", "n/a", "n.a.", "#VALUE!", "#WERT!"),
    *("-", "--", "---", "----", "*", "***", "?", "∞", "-∞", "Infinity", "-Infinity"),
    *("Inf", "inf", "+Inf", "-Inf", "-inf", "OL", "O.L", "+OL", "-OL", "OVL", "+OVL", "-OVL", "OVER", "UNDER"),
    *("overrange", "Overload"),
]
"""What instruments and spreadsheets write where there is no number."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """How a table is written.

    Parameters
    ----------
    delimiter, decimal : str
        One character each.
    skip_lines : int
        Lines before the first row of numbers.
    columns : tuple of str
        Names in file order.
    """

    delimiter: str = ","
    decimal: str = "."
    skip_lines: int = 1
    columns: tuple[str, ...]
    encoding: str = "utf-8"


def read_columns(
    data: bytes, layout: Layout, *, exact: Sequence[str] = (), where: str
) -> dict[str, NDArray[np.float32] | NDArray[np.float64]]:
    """Read every column of a table.

    Parameters
    ----------
    data : bytes
    layout : Layout
    exact : sequence of str
        Columns kept in double precision (time); the rest become single precision.
    where : str
        Name of the file, for messages.

    Returns
    -------
    dict of str to (n,) float array
        NaN where a cell is empty.

    Raises
    ------
    TableError
        Too large, no rows, text among numbers, a row with another number of cells.
    """
    if len(data) > TABLE_BYTES_MAX:
        raise TableError(
            f"The table holds {len(data) / 1e6:.0f} MB, the limit is {TABLE_BYTES_MAX / 1e6:.0f} MB.",
            where=where,
            remedy="Split the recording or lower the sample rate.",
        )
    if b"\x00" in data[:65536]:
        raise TableError("This is not a text table.", where=where, remedy="Export the capture as CSV.")
    if _lines(data) * len(layout.columns) > CELLS_MAX:
        raise TableError(
            f"The table holds more than {CELLS_MAX / 1e6:.0f} million values.",
            where=where,
            remedy="Split the recording or lower the sample rate.",
        )
    if layout.encoding.lower().replace("-", "") != "utf8":
        data = data.decode(layout.encoding).encode()
    names = [f"c{i}" for i in range(len(layout.columns))]
    kinds = [pl.Float64 if name in exact else pl.Float32 for name in layout.columns]
    frame = _frame(data, layout, dict(zip(names, kinds, strict=True)), where)
    if frame.height == 0:
        raise TableError("The table has a header but no rows.", where=where, remedy="Record and export it again.")
    if frame[names[-1]].null_count() and _cells_missing(data, layout, frame.height):
        raise _located(data, layout, where)
    arrays = {}
    for name, column in zip(layout.columns, names, strict=True):
        kind = np.float64 if name in exact else np.float32
        series = frame[column]
        values = series if series.null_count() == 0 else series.fill_null(float("nan"))
        held = values.to_numpy(writable=True)
        arrays[name] = np.add(held, 0.0, out=held, dtype=kind)  # "-0.00" is zero
    return arrays


def _lines(data: bytes) -> int:
    """Line ends; comparing whole stretches is many times as fast as counting in the bytes."""
    held = np.frombuffer(data, np.uint8)
    return sum(int(np.count_nonzero(held[at : at + STRETCH] == 10)) for at in range(0, held.size, STRETCH))


def _frame(data: bytes, layout: Layout, schema: dict[str, type[pl.DataType]], where: str) -> pl.DataFrame:
    """Read fast; only a table that fails is read again with the words for missing values, which is slower."""
    first_fault: Exception | None = None
    for words in (None, MISSING):
        try:
            return pl.read_csv(
                io.BytesIO(data),
                has_header=False,
                skip_lines=layout.skip_lines,
                separator=layout.delimiter,
                decimal_comma=layout.decimal == ",",
                schema=schema,
                null_values=words,
                truncate_ragged_lines=False,
                raise_if_empty=False,
            )
        except (
            pl.exceptions.PolarsError,
            pl.exceptions.PanicException,
            UnicodeDecodeError,
            ValueError,
            OverflowError,
        ) as error:
            first_fault = first_fault or error
    raise _located(data, layout, where) from first_fault


def _cells_missing(data: bytes, layout: Layout, rows: int) -> bool:
    """Whether rows end early: the reader fills them with missing values and does not say so."""
    head = 0
    for _ in range(layout.skip_lines):
        head = data.find(b"\n", head) + 1
    return data.count(layout.delimiter.encode(), head) != rows * (len(layout.columns) - 1)


def _located(data: bytes, layout: Layout, where: str) -> TableError:
    """The first line that cannot be read, in words."""
    expected = len(layout.columns)
    lines = data.splitlines()
    if len(lines) <= layout.skip_lines:
        return TableError("The table has a header but no rows.", where=where, remedy="Record and export it again.")
    for number, raw in enumerate(lines[: min(len(lines), LINES_SEARCHED_MAX)], start=1):
        if number <= layout.skip_lines or not raw.strip():
            continue
        try:
            line = raw.decode("utf-8")
        except UnicodeDecodeError:
            return TableError(f"Line {number} is not text.", where=where, remedy="Export the capture as UTF-8 CSV.")
        cells = line.split(layout.delimiter)
        if len(cells) != expected:
            return TableError(
                f"Line {number} has {len(cells)} cells, {expected} were expected.",
                where=where,
                remedy="Export the capture again without extra separators.",
            )
        for name, cell in zip(layout.columns, cells, strict=True):
            text = cell.strip().strip('"')
            if text in MISSING:
                continue
            try:
                float(text.replace(",", ".") if layout.decimal == "," else text)
            except ValueError:
                shown = text[:24] + ("..." if len(text) > 24 else "")
                return TableError(
                    f"Line {number}, column {name}: {shown!r} is not a number.",
                    where=where,
                    remedy="Remove the text or leave the cell empty.",
                )
    return TableError("The table could not be read.", where=where, remedy="Export it as plain CSV, UTF-8.")

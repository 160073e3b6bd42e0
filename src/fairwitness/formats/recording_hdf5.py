"""HDF5, through h5py: any file of columns, and MATLAB level 7.3, which is one with a head of its own."""

from __future__ import annotations

import io
import json
from collections import Counter
from collections.abc import Iterator
from typing import Any

import h5py
import numpy as np

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import Capture, SampleArray
from fairwitness.formats.column_units import unit_of
from fairwitness.formats.recording import (
    KEY,
    TIME,
    ColumnStore,
    Recording,
    Source,
    about_of,
    columns_of,
    floats,
    reported,
)
from fairwitness.formats.tables import COLUMNS_MAX

BLOCK = 4_000_000
OBJECTS_MAX = 2_000
UNIT_KEYS = ("unit", "units", "Unit", "Units")
RATE_KEYS = ("sample_rate", "sample_rate_hz", "sampling_rate", "rate", "fs", "Fs", "SampleRate", "samplerate")
INTERNAL = "#"
"""What MATLAB keeps for itself begins with this."""


def read(source: Source) -> Recording:
    """Columns of numbers of a HDF5 file, and what was written beside them; of several lengths the longest ones."""
    with h5py.File(io.BytesIO(source) if isinstance(source, bytes) else source, "r") as file:
        about = reported(_text(file.attrs.get(KEY)))
        found = list(_datasets(file))
        length = max((_length(d) for _, d in found), default=0)
        chosen = [(name, d) for name, d in found if _length(d) == length]
        store = ColumnStore(length * sum(_width(d) for _, d in chosen))
        columns: dict[str, SampleArray] = {}
        units: dict[str, str | None] = {}
        last = Counter(name.rpartition("/")[2] for name, _ in chosen)
        for path, data in chosen:
            name = path.rpartition("/")[2] if last[path.rpartition("/")[2]] == 1 else path
            for number in range(_width(data)):
                called = _text(data.attrs.get("name")) or name
                own = called if _width(data) == 1 else f"{called} {number + 1}"
                columns[own] = _column(data, number, length, store)
                units[own] = unit_of(_text(next((data.attrs[k] for k in UNIT_KEYS if k in data.attrs), "")) or "")
        return Recording(columns=columns, units=units, about=about, rate_hz=_rate(file, found))


def _datasets(file: Any) -> Iterator[tuple[str, Any]]:
    """Datasets of real numbers in one or two dimensions, under their path."""
    seen: list[tuple[str, Any]] = []

    def visit(path: str, item: Any) -> None:
        if len(seen) > OBJECTS_MAX:
            raise TableError("The file holds too many parts.", remedy="Export the channels alone.")
        plain = isinstance(item, h5py.Dataset) and item.dtype.kind in "fiu" and item.ndim in (1, 2)
        if plain and not path.startswith(INTERNAL) and item.size > 1 and _width(item) <= COLUMNS_MAX:
            seen.append((path, item))

    file.visititems(visit)
    yield from seen


def _length(data: Any) -> int:
    return int(max(data.shape))


def _width(data: Any) -> int:
    return int(data.size // max(max(data.shape), 1))


def _column(data: Any, number: int, length: int, store: ColumnStore) -> SampleArray:
    """One column, read block by block."""
    kind = np.dtype(np.float32 if data.dtype == np.float32 else np.float64)
    column = store.column(length, kind)
    for begin in range(0, length, BLOCK):
        end = min(begin + BLOCK, length)
        if data.ndim == 1:
            block = data[begin:end]
        elif data.shape[0] == length:
            block = data[begin:end, number]
        else:
            block = data[number, begin:end]
        column[begin:end] = floats(np.asarray(block))
    return column


def _rate(file: Any, found: list[tuple[str, Any]]) -> float | None:
    """Samples per second, where an attribute of the file or of a column tells it."""
    for holder in (file, *(d for _, d in found)):
        for key in RATE_KEYS:
            value = holder.attrs.get(key)
            if isinstance(value, int | float | np.integer | np.floating) and 0 < float(value) < np.inf:
                return float(value)
    return None


def _text(value: object) -> str | None:
    if isinstance(value, bytes):
        return value.decode("utf-8", errors="replace")
    return value if isinstance(value, str) else None


def write(capture: Capture) -> bytes:
    """A capture as a HDF5 file."""
    out = io.BytesIO()
    units = {c["name"]: c["unit"] for c in about_of(capture)["channels"]}
    with h5py.File(out, "w") as file:
        file.attrs[KEY] = json.dumps(about_of(capture))
        for number, (name, values) in enumerate(columns_of(capture).items()):
            held = file.create_dataset(
                TIME if name == TIME else f"channel {number + 1:03d}", data=values, compression=1
            )
            held.attrs["name"] = name
            held.attrs["unit"] = units.get(name, "1")
    return out.getvalue()

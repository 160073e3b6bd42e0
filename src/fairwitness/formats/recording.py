"""What the readers and writers of recordings share: named columns of one length, and what is written beside them."""

from __future__ import annotations

import tempfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import JsonError, TableError
from fairwitness.core.model.capture import Capture, Role, SampleArray
from fairwitness.core.model.lead import lead_block
from fairwitness.formats.json_text import parse_json
from fairwitness.formats.set_up import set_up_block

KEY = "fair_witness"
TIME = "time"
SAMPLES_MAX = 260_000_000
"""Of all columns together; a file this long was left running by mistake more often than on purpose."""
IN_MEMORY_MAX = 16_000_000
"""Samples of all columns together that are simply held; beyond, columns lie in files."""
Source = bytes | Path


@dataclass(frozen=True, slots=True, kw_only=True)
class Recording:
    """Named columns of one length, with what the file says of them.

    Parameters
    ----------
    columns : mapping of name to (n,) float
    units : mapping of name to str or None
    about : mapping
        What was written beside the samples here; empty for files from elsewhere.
    """

    columns: Mapping[str, SampleArray]
    units: Mapping[str, str | None] = field(default_factory=dict)
    about: Mapping[str, Any] = field(default_factory=dict)
    rate_hz: float | None = None
    """As the file tells it where it has no column of time."""

    @property
    def names(self) -> list[str]:
        """In file order."""
        return list(self.columns)


class ColumnStore:
    """Room for the columns of one recording: in memory, or in a nameless file where they are long together."""

    def __init__(self, samples: int) -> None:
        if samples > SAMPLES_MAX:
            raise TableError("The recording is too large.", remedy="Split it, or export fewer channels.")
        self._in_memory = samples <= IN_MEMORY_MAX

    def column(self, rows: int, kind: np.dtype[Any]) -> NDArray[Any]:
        """An empty column; a file behind it is gone with its last holder."""
        if self._in_memory or rows == 0:
            return np.empty(rows, kind)
        with tempfile.TemporaryFile(prefix="fw-column-") as file:
            return np.memmap(file, dtype=kind, mode="w+", shape=(rows,))

    def put(self, values: SampleArray) -> SampleArray:
        """A column that is there already, moved where it belongs."""
        if self._in_memory:
            return values
        column = self.column(values.size, values.dtype)
        column[:] = values
        return column


def floats(values: np.ndarray[Any, Any]) -> SampleArray:
    """Numbers of any kind as floats; single precision stays single."""
    if values.dtype == np.float32:
        return np.ascontiguousarray(values, dtype=np.float32)
    return np.ascontiguousarray(values, dtype=np.float64)


def reported(text: str | None) -> dict[str, Any]:
    """What was written beside the samples, if it is what is written here."""
    try:
        about = parse_json(text or "")
    except JsonError:
        return {}
    if not isinstance(about, dict) or not isinstance(about.get("channels"), list):
        return {}
    try:
        for channel in about["channels"]:
            Role(channel["role"])
            _ = (channel["name"], channel["unit"], channel["cylinder"], channel["sync"])
    except (KeyError, TypeError, ValueError):
        return {}
    return about


def about_of(capture: Capture) -> dict[str, Any]:
    """What is written beside the samples of a capture."""
    names = names_of(capture)
    about: dict[str, Any] = {
        "name": capture.name,
        "set_up": set_up_block(capture.set_up),
        "channels": [
            {
                "name": n,
                "role": c.role.value,
                "unit": c.unit,
                "cylinder": c.cylinder,
                "sync": c.sync,
                "feeds": list(c.feeds),
                "measured_at": c.measured_at,
                "unplugged": c.unplugged,
                "lead": lead_block(c.lead),
            }
            for n, c in zip(names, capture.channels, strict=True)
        ],
    }
    if capture.time.stamps_s is None:
        about |= {"rate_hz": capture.time.rate_hz, "start_s": capture.time.start_s}
    else:
        about["channels"].append({"name": TIME, "role": "time", "unit": "s", "cylinder": None, "sync": False})
    return about


def names_of(capture: Capture) -> list[str]:
    """Channel names, each once, none called time."""
    names: list[str] = []
    for channel in capture.channels:
        base = channel.name if channel.name != TIME else "time signal"
        name, count = base, 1
        while name in names:
            count += 1
            name = f"{base} {count}"
        names.append(name)
    return names


def columns_of(capture: Capture) -> dict[str, SampleArray]:
    """The channels of a capture under names of their own, and its stamps where it has them."""
    columns: dict[str, SampleArray] = {
        n: np.ascontiguousarray(c.samples, dtype=np.float32)
        for n, c in zip(names_of(capture), capture.channels, strict=True)
    }
    if capture.time.stamps_s is not None:
        columns[TIME] = capture.time.stamps_s
    return columns

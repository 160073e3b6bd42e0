"""ASAM MDF 4, through asammdf."""

from __future__ import annotations

import gc
import json
import tempfile
from pathlib import Path
from typing import Any

import numpy as np

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import Capture, SampleArray
from fairwitness.formats.column_units import unit_of
from fairwitness.formats.recording import TIME, ColumnStore, Recording, Source, about_of, columns_of, floats, reported


def _mdf(path: Path | None = None, **options: Any) -> Any:
    """An MDF file of the library, to be closed by ``with``.

    Its own closing at the end of life is taken away: on a file it could not open it fails, at any moment the garbage
    collector likes.
    """
    from asammdf import MDF
    from asammdf.blocks.mdf_v4 import MDF4

    MDF4.__del__ = _nothing  # type: ignore[method-assign]
    return MDF(path, **options)


def _nothing(_held: object) -> None:
    """Do nothing."""


def read(source: Source) -> Recording:
    """Columns of numbers of a MDF file, and what was written beside them."""
    with tempfile.TemporaryDirectory(prefix="fw-mdf-") as folder:
        path = source if isinstance(source, Path) else Path(folder) / "in.mf4"
        if isinstance(source, bytes):
            path.write_bytes(source)
        try:
            with _mdf(path, temporary_folder=folder) as mdf:
                return _longest_group(mdf)
        except TableError:
            raise
        except Exception as error:
            failure = repr(error)
        gc.collect()  # the half-built file lets go of its own files while their folder is still there
    raise TableError("The file is broken or cut off.", where=failure[:120], remedy="Export it again.")


def _longest_group(mdf: Any) -> Recording:
    """One time base at a time: the group with the most samples is the capture."""
    groups = [g for g in range(len(mdf.groups)) if len(mdf.groups[g].channels) > 1]
    if not groups:
        return Recording(columns={})
    group = max(groups, key=lambda g: mdf.groups[g].channel_group.cycles_nr)
    listed = list(mdf.groups[group].channels)
    columns: dict[str, SampleArray] = {}
    units: dict[str, str | None] = {}
    about = reported(mdf.header.description)
    column_store = ColumnStore(mdf.groups[group].channel_group.cycles_nr * (len(listed) - 1))
    for index, channel in enumerate(listed):
        if index == mdf.masters_db.get(group):
            continue
        samples, _ = mdf.get(group=group, index=index, samples_only=True)
        if samples.dtype.kind in "fiub" and samples.ndim == 1:
            columns[channel.name] = column_store.put(floats(samples))
            units[channel.name] = unit_of(channel.unit or "")
    if "rate_hz" not in about and columns:
        columns[TIME] = column_store.put(np.asarray(mdf.get_master(group), dtype=np.float64))
        units[TIME] = "s"
    return Recording(columns=columns, units=units, about=about)


def write(capture: Capture) -> bytes:
    """A capture as a MDF file."""
    from asammdf import Signal

    moments = capture.time.at(np.arange(capture.time.samples))
    units = [c.unit for c in capture.channels]
    columns = {n: v for n, v in columns_of(capture).items() if n != TIME}
    signals = [
        Signal(samples=values, timestamps=moments, name=name, unit=unit)
        for (name, values), unit in zip(columns.items(), units, strict=True)
    ]
    with tempfile.TemporaryDirectory(prefix="fw-mdf-") as folder, _mdf(version="4.10") as mdf:
        mdf.append(signals, comment="capture")
        mdf.header.comment = json.dumps(about_of(capture))
        path = mdf.save(Path(folder) / "out.mf4", compression=1)
        return Path(path).read_bytes()

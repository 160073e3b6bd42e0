"""Recordings in open binary formats, in and out: ASAM MDF 4, MATLAB level 5, Apache Parquet; and CSV out.

Samples stay single precision bit for bit. What the columns are travels beside them as JSON under ``fair_witness``, so
that a file written here is read back without asking; a file from elsewhere is guessed at like any table.
"""

from __future__ import annotations

import gc
import io
import json
import tempfile
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from numpy.typing import NDArray

from fairwitness.core.capture import Capture, Role, SampleArray, SetUp, TimeBase
from fairwitness.core.errors import CaptureError, TableError
from fairwitness.formats.columns import ColumnGuess, ColumnUse, capture_of, guess_columns, unit_of
from fairwitness.formats.matlab_layout import plain_variables
from fairwitness.formats.set_up import read_set_up, set_up_block
from fairwitness.formats.tables import COLUMNS_MAX

KEY = "fair_witness"
HEAD_SAMPLES = 4_000
HEAD_BYTES = 8
SAMPLES_MAX = 260_000_000
"""Of all columns together; a file this long was left running by mistake more often than on purpose."""
IN_MEMORY_MAX = 16_000_000
"""Samples of all columns together that are simply held; beyond, columns lie in files."""
BLOCK_ROWS = 2_000_000
MAGIC = {b"MDF     ": "mdf", b"PAR1": "parquet", b"MATLAB 5": "matlab"}
HDF5_MAGIC = b"\x89HDF"
SUFFIXES = {"mdf": ".mf4", "matlab": ".mat", "parquet": ".parquet", "csv": ".csv"}
TIME = "time"


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

    @property
    def names(self) -> list[str]:
        """In file order."""
        return list(self.columns)


def kind_of(source: Source) -> str | None:
    """mdf, parquet or matlab by the first bytes; None for anything else."""
    head = head_of(source)
    return next((kind for magic, kind in MAGIC.items() if head.startswith(magic)), None)


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
    kind = kind_of(source)
    if kind is None:
        hint = " (version 7.3: save it as version 7 or lower)" if head_of(source).startswith(HDF5_MAGIC) else ""
        raise TableError(f"This is no MDF 4, MATLAB or Parquet file{hint}.", where=where, mend="Export it again.")
    try:
        recording = READERS[kind](source)
    except TableError:
        raise
    except MemoryError as error:
        raise TableError("The recording is too large for this machine.", where=where, mend="Split it.") from error
    except (Exception, pl.exceptions.PanicException) as error:  # the libraries fail in their own many ways
        raise TableError("The file is broken or cut off.", where=where, mend="Export it again.") from error
    sizes = {c.size for c in recording.columns.values()}
    if not recording.columns or sizes <= {0}:
        raise TableError("The file holds no columns of numbers.", where=where, mend="Export the capture again.")
    if len(sizes) > 1:
        raise TableError("The columns have different lengths.", where=where, mend="Export one time base at a time.")
    if len(recording.columns) > COLUMNS_MAX or sum(c.size for c in recording.columns.values()) > SAMPLES_MAX:
        raise TableError("The recording is too large.", where=where, mend="Split it, or export fewer channels.")
    return recording


def look_at_recording(recording: Recording) -> tuple[tuple[ColumnGuess, ...], bool]:
    """What the columns are (as written here) or probably are.

    Returns
    -------
    (columns, timed) : tuple of ColumnGuess, bool
        Whether the time of the samples is known.
    """
    head = {name: values[:HEAD_SAMPLES] for name, values in recording.columns.items()}
    guessed, timed = guess_columns(recording.names, [recording.units.get(n) for n in recording.names], head)
    known = {c["name"]: c for c in recording.about.get("channels", [])}
    told = tuple(
        ColumnGuess(
            name=g.name,
            unit=known[g.name]["unit"],
            role=Role(known[g.name]["role"]),
            cylinder=known[g.name]["cylinder"],
            sync=known[g.name]["sync"],
            preview=g.preview,
        )
        if g.name in known
        else g
        for g in guessed
    )
    return told, timed or "rate_hz" in recording.about


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
    return capture_of(recording.columns, uses, name=name, set_up=set_up, sample_rate_hz=sample_rate_hz, time=time)


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
        raise TableError(f"There is no format {kind!r}.", mend=f"Use one of {', '.join(WRITERS)}.")
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
        raise CaptureError("There are no samples in that stretch.", where=capture.name, mend="Choose a longer one.")
    stamps = capture.time.stamps_s
    time = TimeBase(
        samples=end - begin,
        rate_hz=capture.time.rate_hz,
        start_s=float(moments[begin]),
        stamps_s=None if stamps is None else stamps[begin:end],
    )
    channels = tuple(replace(c, samples=c.samples[begin:end]) for c in capture.channels)
    return Capture(name=capture.name, time=time, channels=channels, set_up=capture.set_up)


def _about(capture: Capture) -> dict[str, Any]:
    names = _names(capture)
    about: dict[str, Any] = {
        "name": capture.name,
        "set_up": set_up_block(capture.set_up),
        "channels": [
            {"name": n, "role": c.role.value, "unit": c.unit, "cylinder": c.cylinder, "sync": c.sync}
            for n, c in zip(names, capture.channels, strict=True)
        ],
    }
    if capture.time.stamps_s is None:
        about |= {"rate_hz": capture.time.rate_hz, "start_s": capture.time.start_s}
    else:
        about["channels"].append({"name": TIME, "role": "time", "unit": "s", "cylinder": None, "sync": False})
    return about


def _names(capture: Capture) -> list[str]:
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


def _columns(capture: Capture) -> dict[str, SampleArray]:
    columns: dict[str, SampleArray] = {
        n: np.ascontiguousarray(c.samples, dtype=np.float32)
        for n, c in zip(_names(capture), capture.channels, strict=True)
    }
    if capture.time.stamps_s is not None:
        columns[TIME] = capture.time.stamps_s
    return columns


# Parquet


def _read_parquet(source: Source) -> Recording:
    file: Any = io.BytesIO(source) if isinstance(source, bytes) else source
    lazy = pl.scan_parquet(file)
    schema = lazy.collect_schema()
    wanted = [n for n, kind in schema.items() if kind.is_numeric() or kind == pl.Boolean]
    rows = int(lazy.select(pl.len()).collect().item())
    desk = _Desk(rows * len(wanted))
    columns: dict[str, SampleArray] = {}
    for name in wanted:
        single = schema[name] == pl.Float32
        column = desk.column(rows, np.dtype(np.float32 if single else np.float64))
        for begin in range(0, rows, BLOCK_ROWS):
            block = lazy.select(pl.col(name).cast(pl.Float32 if single else pl.Float64)).slice(begin, BLOCK_ROWS)
            column[begin : begin + BLOCK_ROWS] = block.collect().to_series().fill_null(float("nan")).to_numpy()
        columns[name] = column
    about = _told(pl.read_parquet_metadata(file).get(KEY))
    return Recording(columns=columns, units=dict.fromkeys(columns), about=about)


class _Desk:
    """Room for the columns of one recording: in memory, or in a nameless file where they are long together."""

    def __init__(self, samples: int) -> None:
        if samples > SAMPLES_MAX:
            raise TableError("The recording is too large.", mend="Split it, or export fewer channels.")
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


def _write_parquet(capture: Capture) -> bytes:
    out = io.BytesIO()
    pl.DataFrame(_columns(capture)).write_parquet(out, metadata={KEY: json.dumps(_about(capture))})
    return out.getvalue()


# MATLAB


def _read_matlab(source: Source) -> Recording:
    from scipy.io import loadmat

    file: Any = io.BytesIO(source) if isinstance(source, bytes) else source
    wanted = plain_variables(source if isinstance(source, bytes) else source.read_bytes())
    held = loadmat(file, squeeze_me=True, variable_names=wanted)
    columns: dict[str, SampleArray] = {}
    for name, value in held.items():
        array = np.asarray(value)
        if name.startswith("__") or array.dtype.kind not in "fiub":
            continue
        if array.ndim == 1 and array.size > 1:
            columns[name] = _floats(array)
        elif array.ndim == 2 and min(array.shape) <= COLUMNS_MAX:
            wide = array if array.shape[0] >= array.shape[1] else array.T
            columns |= {f"{name} {i + 1}": _floats(wide[:, i]) for i in range(wide.shape[1])}
    about = _told(str(held[KEY])) if KEY in held else {}
    labels = {c["variable"]: c["name"] for c in about.get("channels", []) if "variable" in c}
    return Recording(columns={labels.get(n, n): v for n, v in columns.items()}, about=about)


def _floats(values: np.ndarray[Any, Any]) -> SampleArray:
    if values.dtype == np.float32:
        return np.ascontiguousarray(values, dtype=np.float32)
    return np.ascontiguousarray(values, dtype=np.float64)


def _write_matlab(capture: Capture) -> bytes:
    from scipy.io import savemat

    about = _about(capture)
    held: dict[str, Any] = {}
    for i, (name, values) in enumerate(_columns(capture).items()):
        variable = TIME if name == TIME else f"ch{i + 1}"
        held[variable] = values
        for channel in about["channels"]:
            if channel["name"] == name:
                channel["variable"] = variable
    held[KEY] = json.dumps(about)
    out: Any = io.BytesIO()
    savemat(out, held, format="5", oned_as="column")
    return bytes(out.getvalue())


# ASAM MDF 4


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


def _read_mdf(source: Source) -> Recording:
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
    raise TableError("The file is broken or cut off.", where=failure[:120], mend="Export it again.")


def _longest_group(mdf: Any) -> Recording:
    """One time base at a time: the group with the most samples is the capture."""
    groups = [g for g in range(len(mdf.groups)) if len(mdf.groups[g].channels) > 1]
    if not groups:
        return Recording(columns={})
    group = max(groups, key=lambda g: mdf.groups[g].channel_group.cycles_nr)
    listed = list(mdf.groups[group].channels)
    columns: dict[str, SampleArray] = {}
    units: dict[str, str | None] = {}
    about = _told(mdf.header.description)
    desk = _Desk(mdf.groups[group].channel_group.cycles_nr * (len(listed) - 1))
    for index, channel in enumerate(listed):
        if index == mdf.masters_db.get(group):
            continue
        samples, _ = mdf.get(group=group, index=index, samples_only=True)
        if samples.dtype.kind in "fiub" and samples.ndim == 1:
            columns[channel.name] = desk.put(_floats(samples))
            units[channel.name] = unit_of(channel.unit or "")
    if "rate_hz" not in about and columns:
        columns[TIME] = desk.put(np.asarray(mdf.get_master(group), dtype=np.float64))
        units[TIME] = "s"
    return Recording(columns=columns, units=units, about=about)


def _write_mdf(capture: Capture) -> bytes:
    from asammdf import Signal

    moments = capture.time.at(np.arange(capture.time.samples))
    units = [c.unit for c in capture.channels]
    columns = {n: v for n, v in _columns(capture).items() if n != TIME}
    signals = [
        Signal(samples=values, timestamps=moments, name=name, unit=unit)
        for (name, values), unit in zip(columns.items(), units, strict=True)
    ]
    with tempfile.TemporaryDirectory(prefix="fw-mdf-") as folder, _mdf(version="4.10") as mdf:
        mdf.append(signals, comment="capture")
        mdf.header.comment = json.dumps(_about(capture))
        path = mdf.save(Path(folder) / "out.mf4", compression=1)
        return Path(path).read_bytes()


# CSV


def _write_csv(capture: Capture) -> bytes:
    moments = capture.time.at(np.arange(capture.time.samples))
    units = {n: c.unit for n, c in zip(_names(capture), capture.channels, strict=True)}
    columns = {f"{n} ({units[n]})": v for n, v in _columns(capture).items() if n != TIME}
    frame = pl.DataFrame({"time (s)": moments, **{_harmless(n): v for n, v in columns.items()}})
    return frame.write_csv(null_value="").encode()


def _harmless(name: str) -> str:
    """A leading sign would be a formula to a spreadsheet."""
    return f"'{name}" if name[:1] in ("=", "+", "-", "@") else name


def _told(text: str | None) -> dict[str, Any]:
    """What was written beside the samples, if it is what is written here."""
    try:
        about = json.loads(text or "")
    except ValueError:
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


READERS: Mapping[str, Callable[[Source], Recording]] = {
    "mdf": _read_mdf,
    "matlab": _read_matlab,
    "parquet": _read_parquet,
}
WRITERS: Mapping[str, Callable[[Capture], bytes]] = {
    "mdf": _write_mdf,
    "matlab": _write_matlab,
    "parquet": _write_parquet,
    "csv": _write_csv,
}

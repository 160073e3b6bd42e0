"""A file before it is kept: how it is written, what its columns probably are, what was probably done meanwhile."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fairwitness.core.model.capture import Capture, CaptureTest, EngineState, Role, SetUp
from fairwitness.core.model.engine import CYCLE_DEG
from fairwitness.formats import recordings
from fairwitness.formats.columns import ColumnGuess, ColumnUse, likely_test
from fairwitness.formats.csv_capture import look_at, read_capture
from fairwitness.formats.reading_apart import read_apart
from fairwitness.formats.recording import Source
from fairwitness.formats.recording_formats import format_of

SLOWEST_IDLE_RPM = 450.0
"""Between what a starter turns and what an engine idles at. Common practice."""
ATTEMPT_SHARE = 0.25
"""Of its reach a starter current must stand above its rest while it cranks."""
EVENTS = (Role.COIL_CONTROL, Role.COIL_CURRENT, Role.SECONDARY_VOLTAGE, Role.INJECTOR_CURRENT, Role.INJECTOR_VOLTAGE)
TAKEN_CRANKING = (CaptureTest.RELATIVE_COMPRESSION, CaptureTest.CYLINDER_PRESSURE, CaptureTest.INTAKE_PULSE,
                  CaptureTest.CRANKCASE_PULSE)  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class FileGuess:
    """What a file probably holds.

    Parameters
    ----------
    columns : tuple of ColumnGuess
    needs_rate : bool
        Nothing in it tells when samples were taken.
    rate_hz : float or None
        As told beside the samples.
    segments : tuple of int
        Samples of each recording, where it holds several.
    written : str
        How it is written, in words.
    test : CaptureTest or None
    engine_state : EngineState or None
    attempts : tuple of (float, float)
        Where it cranks, as shares of the whole recording.
    """

    columns: tuple[ColumnGuess, ...]
    needs_rate: bool
    rate_hz: float | None = None
    segments: tuple[int, ...] = ()
    written: str
    test: CaptureTest | None
    engine_state: EngineState | None
    attempts: tuple[tuple[float, float], ...] = ()


def guess_file(data: Source, *, where: str) -> FileGuess:
    """What a file probably holds.

    Parameters
    ----------
    data : bytes or Path
    where : str
        Its name, for messages.

    Raises
    ------
    TableError
        Nothing that could be a recording.
    """
    binary = format_of(recordings.head_of(data))
    if binary is not None:
        recording = read_apart(data, where=where)
        columns, timed = recordings.look_at_recording(recording)
        known = ", as written by Fair Witness" if recording.about else ""
        words = f"{binary.words}{known}"
        return _guess(columns, needs_rate=not timed, written=words, rate_hz=recording.rate_hz)
    table = look_at(data if isinstance(data, bytes) else data.read_bytes(), where=where)
    return _guess(
        table.columns,
        needs_rate=table.needs_rate,
        written=table.dialect.said,
        rate_hz=table.rate_hz,
        segments=table.segments,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept:
    """What of a file is kept, and under which name.

    Parameters
    ----------
    name : str
    set_up : SetUp
    sample_rate_hz : float or None
        Where the file does not tell it.
    segment : int or None
        Of several recordings in one file.
    part : (float, float) or None
        As shares of the whole.
    """

    name: str
    set_up: SetUp
    sample_rate_hz: float | None = None
    segment: int | None = None
    part: tuple[float, float] | None = None


def capture_of_file(data: Source, uses: Sequence[ColumnUse], kept: Kept) -> Capture:
    """A capture of a file's columns as they were said to be.

    Parameters
    ----------
    data : bytes or Path
    uses : sequence of ColumnUse
    kept : Kept

    Raises
    ------
    TableError, CaptureError
    """
    name, set_up, rate, part = kept.name, kept.set_up, kept.sample_rate_hz, kept.part
    if recordings.kind_of(data) is None:
        table = data if isinstance(data, bytes) else data.read_bytes()
        capture = read_capture(table, uses, name=name, set_up=set_up, sample_rate_hz=rate, segment=kept.segment)
    else:
        recording = read_apart(data, where=name)
        capture = recordings.capture_from_recording(recording, uses, name=name, set_up=set_up, sample_rate_hz=rate)
    if part is None or (part[0] <= 0.0 and part[1] >= 1.0):
        return capture
    last = capture.time.samples - 1
    begin, end = capture.time.at(np.array([part[0] * last, part[1] * last]))
    return recordings.cut(capture, float(begin), float(end))


def _guess(
    columns: Sequence[ColumnGuess],
    *,
    needs_rate: bool,
    written: str,
    rate_hz: float | None = None,
    segments: tuple[int, ...] = (),
) -> FileGuess:
    test = likely_test([c.role for c in columns])
    return FileGuess(
        columns=tuple(columns),
        needs_rate=needs_rate,
        rate_hz=rate_hz,
        segments=segments,
        written=written,
        test=test,
        engine_state=_state(columns, test),
        attempts=_attempts(columns),
    )


def _state(columns: Sequence[ColumnGuess], test: CaptureTest | None) -> EngineState | None:
    """What the engine did: a starter that draws is cranking; else how often one cylinder's events come."""
    if any(c.role is Role.STARTER_CURRENT for c in columns):
        return EngineState.CRANKING
    rates = [c.events_hz for c in columns if c.role in EVENTS and c.events_hz]
    if rates:
        rpm = min(rates) * 60.0 * CYCLE_DEG / 360.0
        return EngineState.RUNNING if rpm > SLOWEST_IDLE_RPM else EngineState.CRANKING
    if test is None:
        return None
    return EngineState.CRANKING if test in TAKEN_CRANKING else EngineState.RUNNING


def _attempts(columns: Sequence[ColumnGuess]) -> tuple[tuple[float, float], ...]:
    """Where a starter current stands above its rest, by the lows and highs of the whole recording."""
    current = next((c for c in columns if c.role is Role.STARTER_CURRENT and len(c.preview) > 4), None)
    if current is None:
        return ()
    level = np.array(current.preview).reshape(-1, 2).mean(axis=1) if len(current.preview) % 2 == 0 else None
    if level is None:
        return ()
    rest = float(np.median(np.sort(level)[: max(2, level.size // 8)]))
    up = level - rest
    if abs(float(up.min())) > float(up.max()):
        up = -up
    on = np.concatenate(([False], up > ATTEMPT_SHARE * float(np.percentile(up, 95)), [False]))
    edges = np.flatnonzero(np.diff(on.astype(np.int8)))
    return tuple((float(b) / level.size, float(e) / level.size) for b, e in edges.reshape(-1, 2) if e - b >= 2)

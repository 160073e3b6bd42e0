"""Samples out of the database: windows of packed chunks, lows and highs of a pyramid, whole captures."""

from __future__ import annotations

import numpy as np

from fairwitness.core.errors import CaptureError, CustodyError
from fairwitness.core.model.capture import Capture, Channel, Role, TimeBase
from fairwitness.core.model.lead import read_lead
from fairwitness.formats.set_up import read_set_up
from fairwitness.server.captures.models import SampleChunk, StoredCapture, StoredChannel
from fairwitness.server.captures.packing import CHUNK_SAMPLES, Float32Array, unpack
from fairwitness.server.captures.pyramid import levels_in, step_of


def read_span(channel: StoredChannel, level: int, begin: int, end: int) -> Float32Array:
    """Values of one level from ``begin`` to ``end``.

    Parameters
    ----------
    channel : StoredChannel
    level : int
        0 for samples; above, lows and highs alternate.
    begin, end : int
        In values of that level, clipped to what there is.

    Returns
    -------
    (k,) float32
    """
    if end <= begin:
        return np.empty(0, np.float32)
    first, last = begin // CHUNK_SAMPLES, (end - 1) // CHUNK_SAMPLES
    rows = channel.chunks.filter(level=level, index__range=(first, last)).order_by("index")
    pieces = [unpack(row.data, np.float32, row.count) for row in rows]
    if not pieces:
        return np.empty(0, np.float32)
    joined = pieces[0] if len(pieces) == 1 else np.concatenate(pieces)
    offset = first * CHUNK_SAMPLES
    return np.asarray(joined[begin - offset : end - offset], dtype=np.float32)


def read_spans(stored: StoredCapture, level: int, begin: int, end: int) -> list[Float32Array]:
    """Values of one level of every channel from ``begin`` to ``end``, fetched at once; in order of position."""
    first, last = begin // CHUNK_SAMPLES, max(begin, end - 1) // CHUNK_SAMPLES
    chunks = SampleChunk.objects.filter(channel__capture=stored, level=level, index__range=(first, last))
    rows = chunks.order_by("channel__position", "index").values_list("channel__position", "data", "count")
    pieces: dict[int, list[Float32Array]] = {}
    for position, data, count in rows:
        pieces.setdefault(position, []).append(np.asarray(unpack(data, np.float32, count), dtype=np.float32))
    offset = first * CHUNK_SAMPLES
    joined = (held[0] if len(held) == 1 else np.concatenate(held) for held in pieces.values())
    return [np.asarray(values[begin - offset : end - offset], dtype=np.float32) for values in joined]


def envelopes(stored: StoredCapture, begin: int, end: int, points: int) -> tuple[list[Float32Array], int]:
    """What a window of every channel looks like in at most about ``points`` columns.

    Parameters
    ----------
    stored : StoredCapture
    begin, end : int
        Window in samples.
    points : int

    Returns
    -------
    (rows, step) : list of (2 * k,) float32 of alternating low and high, each over ``step`` samples; or
        of (k,) samples and step 1
    """
    total = stored.samples
    begin, end = max(0, begin), min(total, end)
    count = max(0, end - begin)
    if count <= 2 * points:
        return read_spans(stored, 0, begin, end), 1
    level, step = 0, 1
    top = levels_in(total)
    while level < top and count / step_of(level + 1) >= points:
        level, step = level + 1, step_of(level + 1)
    if level == 0:
        group = -(-count // points)
        return [_merged(values, values, group)[0] for values in read_spans(stored, 0, begin, end)], group
    rows = read_spans(stored, level, 2 * (begin // step), 2 * -(-end // step))
    group = max(1, -(-(rows[0].size // 2) // points)) if rows else 1
    return [_merged(values[0::2], values[1::2], group)[0] for values in rows], step * group


def thinned(values: Float32Array, points: int) -> tuple[Float32Array, int]:
    """Samples as lows and highs of at most about ``points`` columns, or as they are where they are few.

    Returns
    -------
    (values, step)
        As from ``envelopes``.
    """
    if values.size <= 2 * points:
        return values, 1
    return _merged(values, values, -(-values.size // points))


def _merged(low: Float32Array, high: Float32Array, group: int) -> tuple[Float32Array, int]:
    starts = np.arange(0, low.size, group)
    if starts.size == 0:
        return np.empty(0, np.float32), group
    merged = np.stack((np.fmin.reduceat(low, starts), np.fmax.reduceat(high, starts)), axis=1).reshape(-1)
    return np.asarray(merged, dtype=np.float32), group


def read(stored: StoredCapture) -> Capture:
    """The capture as it was imported, its samples compared with the hash it was kept under.

    Parameters
    ----------
    stored : StoredCapture

    Returns
    -------
    Capture

    Raises
    ------
    CaptureError
        It was kept as unreadable and holds no samples.
    CustodyError
        What is stored is not what was kept.
    """
    if stored.unreadable:
        raise CaptureError(stored.unreadable, where=stored.name)
    stamps = None
    if stored.stamps is not None:
        stamps = np.asarray(unpack(stored.stamps, np.float64, stored.samples), dtype=np.float64)
    time = TimeBase(samples=stored.samples, rate_hz=stored.rate_hz, start_s=stored.start_s, stamps_s=stamps)
    channels = tuple(
        Channel(
            name=row.name,
            role=Role(row.role),
            unit=row.unit,
            samples=read_span(row, 0, 0, stored.samples),
            cylinder=row.cylinder,
            feeds=tuple(row.feeds),
            sync=row.sync,
            measured_at=row.measured_at or None,
            lead=read_lead(row.lead),
            unplugged=row.unplugged,
        )
        for row in stored.channels.all()
    )
    capture = Capture(name=stored.name, time=time, channels=channels, set_up=read_set_up(stored.set_up))
    if stored.sha256 and capture.sha256 != stored.sha256:
        raise CustodyError("its samples have another hash", where=stored.name)
    return capture

"""Samples to and from the database: byte-shuffled, compressed chunks and a min/max pyramid."""

from __future__ import annotations

import os
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import islice

import numpy as np
import zstandard
from numpy.typing import NDArray

from fairwitness.core.capture import Capture, Channel, Role, SampleArray, TimeBase
from fairwitness.core.errors import CaptureError
from fairwitness.formats.set_up import read_set_up
from fairwitness.server.captures.models import SampleChunk, StoredCapture, StoredChannel

Float32Array = NDArray[np.float32]

CHUNK_SAMPLES = 32_768
"""128 KiB of samples: a window of 20 k samples costs one or two reads."""
PYRAMID_STEP = 8
PYRAMID_FIRST = 64
"""Samples behind one pair of the first stored level. Closer looks read the samples themselves: a finer level would take
a quarter of their space and save a few milliseconds."""
PYRAMID_TOP = 512
"""The pyramid stops where a level is shorter than this."""
PACK_LEVEL = 1
ROWS_AT_ONCE = 64


def pack(values: NDArray[np.generic]) -> bytes:
    """Compress an array, bytes of equal weight side by side.

    Parameters
    ----------
    values : (n,) array of any fixed-size dtype

    Returns
    -------
    bytes
    """
    size = values.dtype.itemsize
    words = np.ascontiguousarray(values).view(f"<u{size}")
    planes: NDArray[np.uint8] = np.empty((size, values.size), np.uint8)
    for place in range(size):
        np.right_shift(words, 8 * place, out=planes[place], casting="unsafe")
    return zstandard.ZstdCompressor(level=PACK_LEVEL).compress(planes.data)


def unpack(data: bytes | memoryview, dtype: type[np.generic], count: int) -> NDArray[np.generic]:
    """The inverse of ``pack``.

    Parameters
    ----------
    data : bytes
    dtype : numpy dtype
    count : int

    Returns
    -------
    (count,) array
    """
    size = np.dtype(dtype).itemsize
    raw = zstandard.ZstdDecompressor().decompress(bytes(data), max_output_size=count * size)
    planes = np.frombuffer(raw, np.uint8).reshape(size, count)
    whole = np.dtype(f"<u{size}")
    words = planes[0].astype(whole)
    for place in range(1, size):
        words |= planes[place].astype(whole) << whole.type(8 * place)
    return np.asarray(words.view(dtype))


def pyramid(samples: Float32Array) -> list[tuple[Float32Array, Float32Array]]:
    """Lows and highs over 64, 512, 4096, ... samples.

    Strided minima are about three times as fast as reshaping and reducing.

    Parameters
    ----------
    samples : (n,) float32
        Missing samples are left out of a group; a group without any is NaN.

    Returns
    -------
    list of (low, high), each (n // (64 * 8**i),) float32
    """
    levels = []
    low = high = samples
    least, most = (np.fmin, np.fmax) if np.isnan(samples.sum()) else (np.minimum, np.maximum)
    while low.size >= PYRAMID_STEP * PYRAMID_TOP:
        whole = low.size // PYRAMID_STEP * PYRAMID_STEP
        next_low, next_high = low[:whole:PYRAMID_STEP].copy(), high[:whole:PYRAMID_STEP].copy()
        for k in range(1, PYRAMID_STEP):
            least(next_low, low[k:whole:PYRAMID_STEP], out=next_low)
            most(next_high, high[k:whole:PYRAMID_STEP], out=next_high)
        low, high = next_low, next_high
        levels.append((low, high))
    return levels[1:]  # the first is a step on the way to PYRAMID_FIRST


@dataclass(frozen=True, slots=True)
class Packed:
    """One compressed chunk and its place."""

    position: int
    level: int
    index: int
    count: int
    data: bytes


@contextmanager
def packing(capture: Capture) -> Iterator[Iterator[Packed]]:
    """Compress a capture's samples and pyramid on all cores while the caller does something else.

    Compressing leaves the interpreter, and so does writing to the database: the two overlap.

    Parameters
    ----------
    capture : Capture

    Yields
    ------
    iterator of Packed
        In order of channel, level and index.
    """
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        per_channel = pool.map(_packed_channel, range(len(capture.channels)), (c.samples for c in capture.channels))
        yield (chunk for chunks in per_channel for chunk in chunks)


def _packed_channel(position: int, samples: SampleArray) -> list[Packed]:
    return [
        Packed(position, level, index, piece.size, pack(piece))
        for level, values in enumerate(_levels_of(np.ascontiguousarray(samples, dtype=np.float32)))
        for index, first in enumerate(range(0, values.size, CHUNK_SAMPLES))
        for piece in (values[first : first + CHUNK_SAMPLES],)
    ]


def write(stored: StoredCapture, capture: Capture, packed: Iterator[Packed]) -> None:
    """Store the channels of a capture. Call it inside the transaction that stores the capture itself.

    Parameters
    ----------
    stored : StoredCapture
        Saved, without channels.
    capture : Capture
    packed : iterator of Packed
        From ``packing``.
    """
    rows = [
        StoredChannel.objects.create(
            capture=stored,
            position=position,
            name=channel.name[:200],
            role=channel.role.value,
            unit=channel.unit,
            cylinder=channel.cylinder,
            feeds=list(channel.feeds),
            sync=channel.sync,
            measured_at=channel.measured_at or "",
            unplugged=channel.unplugged,
        )
        for position, channel in enumerate(capture.channels)
    ]
    while batch := list(islice(packed, ROWS_AT_ONCE)):
        SampleChunk.objects.bulk_create(
            SampleChunk(channel=rows[p.position], level=p.level, index=p.index, count=p.count, data=p.data)
            for p in batch
        )


def _levels_of(samples: Float32Array) -> list[Float32Array]:
    """Samples, then lows and highs in turn."""
    return [samples, *(np.stack(pair, axis=1).reshape(-1) for pair in pyramid(samples))]


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


def envelope(channel: StoredChannel, total: int, begin: int, end: int, points: int) -> tuple[Float32Array, int]:
    """What a window looks like in at most about ``points`` columns.

    Parameters
    ----------
    channel : StoredChannel
    total : int
        Samples of the channel.
    begin, end : int
        Window in samples.
    points : int

    Returns
    -------
    (values, step) : (2 * k,) float32 of alternating low and high, each over ``step`` samples; or
        (k,) samples and step 1
    """
    begin, end = max(0, begin), min(total, end)
    count = max(0, end - begin)
    if count <= 2 * points:
        return read_span(channel, 0, begin, end), 1
    level, step = 0, 1
    top = _levels(total)
    while level < top and count / _step(level + 1) >= points:
        level, step = level + 1, _step(level + 1)
    if level == 0:
        values = read_span(channel, 0, begin, end)
        low, high, group = values, values, -(-count // points)
    else:
        values = read_span(channel, level, 2 * (begin // step), 2 * -(-end // step))
        low, high = values[0::2], values[1::2]
        group = max(1, -(-low.size // points))
    starts = np.arange(0, low.size, group)
    if starts.size == 0:
        return np.empty(0, np.float32), step
    merged = np.stack((np.fmin.reduceat(low, starts), np.fmax.reduceat(high, starts)), axis=1).reshape(-1)
    return np.asarray(merged, dtype=np.float32), step * group


def _step(level: int) -> int:
    """Samples behind one pair of a stored level."""
    return int(PYRAMID_FIRST * PYRAMID_STEP ** (level - 1))


def _levels(total: int) -> int:
    """How many levels a channel of this many samples has."""
    levels = 0
    while total >= PYRAMID_STEP * PYRAMID_TOP:
        total, levels = total // PYRAMID_STEP, levels + 1
    return max(levels - 1, 0)


def read(stored: StoredCapture) -> Capture:
    """The capture as it was imported.

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
            unplugged=row.unplugged,
        )
        for row in stored.channels.all()
    )
    return Capture(name=stored.name, time=time, channels=channels, set_up=read_set_up(stored.set_up))

"""Samples as few bytes, without loss: what a converter wrote as small numbers is kept as small numbers."""

from __future__ import annotations

import struct
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import zstandard
from numpy.typing import NDArray

from fairwitness.core.errors import CustodyError

Float32Array = NDArray[np.float32]
CodeArray = NDArray[np.uint16]

CHUNK_SAMPLES = 32_768
"""128 KiB of samples: a window of 20 k samples costs one or two reads."""
PACK_LEVEL = 1
CODES_MAX = 65_536
BLOCK = 4 * CHUNK_SAMPLES
"""Coded at once: small enough for the cache, large enough that threads seldom wait for each other."""
STEP_MIN = 1e-30
"""Finer grids than any converter's: single precision cannot divide by them."""
PROBES = 16
PROBE_SAMPLES = 1024
HEADER = struct.Struct("<BI")
"""How it was packed, and how many values the table of a coded piece holds."""
PLAIN, CODED = 0, 1


@dataclass(frozen=True, slots=True)
class Coded:
    """Samples of a converter: places in a table of the values it can give.

    Parameters
    ----------
    codes : (n,) uint16
    values : (m,) float32
        Rising. Values that never occur are zero.
    """

    codes: CodeArray
    values: Float32Array


def coded(samples: Float32Array) -> Coded | None:
    """Find the grid of the converter that made the samples.

    The step is read off a few stretches; then every sample is looked up in the table and compared bit by bit, so that
    nothing is lost where the guess was wrong. A value seen for the first time enters the table; two values in one place
    mean that there is no such grid.

    Parameters
    ----------
    samples : (n,) float32

    Returns
    -------
    Coded or None
        None where the samples do not sit on a grid of at most 65,536 values.
    """
    if samples.size == 0:
        return None
    low, high = float(samples.min()), float(samples.max())
    if not (np.isfinite(low) and np.isfinite(high)):
        return None
    probe = _probe(samples)
    step = _step(probe)
    if 0 < step < STEP_MIN:
        return None
    count = round((high - low) / step) + 1 if step > 0 else 1
    if count > CODES_MAX:
        return None
    scale, origin, half = np.float32(1 / step if step > 0 else 0), np.float32(low), np.float32(0.5)
    values = np.full(count, np.nan, np.float32)
    codes = np.empty(samples.size, np.uint16)
    size = min(BLOCK, max(samples.size, probe.size))
    floats, places, differs = np.empty(size, np.float32), np.empty(size, np.intp), np.empty(size, np.bool_)
    for piece, out in [(probe, None), *_blocks(samples, codes)]:
        held, place = floats[: piece.size], places[: piece.size]  # no new memory block after block
        np.subtract(piece, origin, out=held)
        np.multiply(held, scale, out=held)
        np.add(held, half, out=held)
        np.copyto(place, held, casting="unsafe")
        np.minimum(place, count - 1, out=place)
        values.take(place, out=held, mode="clip")
        np.not_equal(held.view(np.uint32), piece.view(np.uint32), out=differs[: piece.size])
        if differs[: piece.size].any():
            other = np.flatnonzero(differs[: piece.size])
            at, new = place[other], piece[other]
            if not np.isnan(values[at]).all():
                return None
            values[at] = new
            if not np.array_equal(values[at].view(np.uint32), new.view(np.uint32)):
                return None
        if out is not None:
            out[:] = place
    return Coded(codes=codes, values=np.nan_to_num(values, nan=0.0))


def _blocks(samples: Float32Array, codes: CodeArray) -> Iterator[tuple[Float32Array, CodeArray]]:
    for first in range(0, samples.size, BLOCK):
        yield samples[first : first + BLOCK], codes[first : first + BLOCK]


def _probe(samples: Float32Array) -> Float32Array:
    """Short stretches from all over the samples."""
    starts = np.linspace(0, max(0, samples.size - PROBE_SAMPLES), PROBES).astype(int)
    return np.concatenate([samples[s : s + PROBE_SAMPLES] for s in starts])


def _step(samples: Float32Array) -> float:
    """Distance of neighbours on the grid, zero for a constant."""
    seen = np.unique(samples).astype(np.float64)
    apart = np.diff(seen)
    if apart.size == 0:
        return 0.0
    single = apart[apart < 1.5 * apart.min()].mean()  # printed digits make steps uneven
    return float((seen[-1] - seen[0]) / np.rint(apart / single).sum())


def _compressor() -> zstandard.ZstdCompressor:
    """Each piece carries a checksum, so that a changed byte is seen wherever the piece is read."""
    return zstandard.ZstdCompressor(level=PACK_LEVEL, write_checksum=True)


def has_checksum(data: bytes | memoryview) -> bool:
    """Whether a packed piece carries one; pieces of the first version do not."""
    try:
        return bool(zstandard.get_frame_parameters(bytes(data[HEADER.size :])).has_checksum)
    except zstandard.ZstdError as error:
        raise CustodyError("a stored piece of its samples was changed") from error


def pack_coded(codes: CodeArray, values: Float32Array) -> bytes:
    """Compress places in a table together with the part of the table they use.

    Parameters
    ----------
    codes : (n,) uint16
    values : (m,) float32

    Returns
    -------
    bytes
    """
    first, last = int(codes.min()), int(codes.max())
    used = values[first : last + 1]
    relative = codes - np.uint16(first)
    small = relative.astype(np.uint8) if used.size <= 256 else relative
    raw = _planes(used).tobytes() + _planes(small).tobytes()
    return HEADER.pack(CODED, used.size) + _compressor().compress(raw)


def pack(values: NDArray[np.generic]) -> bytes:
    """Compress an array, bytes of equal weight side by side.

    Parameters
    ----------
    values : (n,) array of any fixed-size dtype

    Returns
    -------
    bytes
    """
    planes = _planes(np.ascontiguousarray(values))
    return HEADER.pack(PLAIN, 0) + _compressor().compress(planes.data)


def unpack(data: bytes | memoryview, dtype: type[np.generic], count: int) -> NDArray[np.generic]:
    """The inverse of ``pack`` and of ``pack_coded``.

    Parameters
    ----------
    data : bytes
    dtype : numpy dtype
    count : int

    Returns
    -------
    (count,) array

    Raises
    ------
    CustodyError
        The piece is not what was packed.
    """
    try:
        return _unpacked(data, dtype, count)
    except (zstandard.ZstdError, struct.error, ValueError, IndexError, MemoryError) as error:
        raise CustodyError("a stored piece of its samples was changed") from error


def _unpacked(data: bytes | memoryview, dtype: type[np.generic], count: int) -> NDArray[np.generic]:
    body = memoryview(data)[HEADER.size :]
    kind, used = HEADER.unpack_from(data)
    expand = zstandard.ZstdDecompressor().decompress
    if kind == PLAIN:
        return _joined(expand(body, max_output_size=count * np.dtype(dtype).itemsize), dtype, count)
    small: type[np.generic] = np.uint8 if used <= 256 else np.uint16
    raw = expand(body, max_output_size=4 * used + count * np.dtype(small).itemsize)
    values = _joined(raw[: 4 * used], np.float32, used)
    return np.asarray(values[_joined(raw[4 * used :], small, count)])


def _planes(values: NDArray[np.generic]) -> NDArray[np.uint8]:
    size = values.dtype.itemsize
    if size == 1:
        return values.view(np.uint8)
    words = values.view(f"<u{size}")
    planes: NDArray[np.uint8] = np.empty((size, values.size), np.uint8)
    for place in range(size):
        np.right_shift(words, 8 * place, out=planes[place], casting="unsafe")
    return planes


def _joined(raw: bytes, dtype: type[np.generic], count: int) -> NDArray[np.generic]:
    size = np.dtype(dtype).itemsize
    planes = np.frombuffer(raw, np.uint8).reshape(size, count)
    whole = np.dtype(f"<u{size}")
    words = planes[0].astype(whole)
    for place in range(1, size):
        words |= planes[place].astype(whole) << whole.type(8 * place)
    return np.asarray(words.view(dtype))

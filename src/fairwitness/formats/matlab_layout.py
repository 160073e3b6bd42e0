"""The layout of a MATLAB level 5 file, walked before a library is let at it.

The library trusts lengths and classes inside the file, and a damaged one can end the whole process. What is walked here
is published: MathWorks, MAT-File Format, level 5: data elements of a tag (type, length) and padded data; a matrix is
flags, dimensions, name and values in turn.
"""

from __future__ import annotations

import math
import struct
import zlib
from collections.abc import Iterator
from dataclasses import dataclass

from fairwitness.core.errors import TableError

HEADER_BYTES = 128
MATRIX, COMPRESSED = 14, 15
NUMERIC_CLASSES = range(6, 16)
CHAR_CLASS = 4
COMPLEX = 0x0800
ITEM_BYTES = {1: 1, 2: 1, 3: 2, 4: 2, 5: 4, 6: 4, 7: 4, 9: 8, 12: 8, 13: 8, 16: 1, 17: 2, 18: 4}
UTF8 = 16
DIMENSIONS_MAX = 3
UNPACKED_MAX = 2_400_000_000


@dataclass(frozen=True, slots=True)
class _Element:
    kind: int
    size: int
    begin: int
    """Of the data, after the tag."""
    end: int
    """After the padding."""


def plain_variables(data: bytes) -> list[str]:
    """Names of the arrays of real numbers or characters; all else is passed over unread.

    Parameters
    ----------
    data : bytes
        The whole file, or enough of it to hold every header when values are long.

    Raises
    ------
    TableError
        A length or a class inside cannot be.
    """
    if len(data) < HEADER_BYTES or data[126:128] not in (b"IM", b"MI"):
        raise _broken()
    order = "<" if data[126:128] == b"IM" else ">"
    names = []
    for element in _elements(data, order, HEADER_BYTES, len(data)):
        body = data[element.begin : element.begin + element.size]
        if element.kind == COMPRESSED:
            body = _unpacked(body)
            inner = next(_elements(body, order, 0, len(body)), None)
            if inner is None or inner.kind != MATRIX:
                raise _broken()
            body = body[inner.begin : inner.begin + inner.size]
        elif element.kind != MATRIX:
            raise _broken()
        name = _plain_name(body, order)
        if name is not None:
            names.append(name)
    if len(set(names)) != len(names):
        raise _broken()
    return names


def _elements(data: bytes, order: str, begin: int, end: int) -> Iterator[_Element]:
    at = begin
    while at < end:
        if at + 8 > end:
            raise _broken()
        (first,) = struct.unpack_from(f"{order}I", data, at)
        if first >> 16:  # small element: type and length share a word, data follow in the next
            kind, size, start = first & 0xFFFF, first >> 16, at + 4
            stop = at + 8
            if size > 4:
                raise _broken()
        else:
            (size,) = struct.unpack_from(f"{order}I", data, at + 4)
            kind, start = first, at + 8
            stop = start + size
            if kind != COMPRESSED:
                stop += -stop % 8 if begin == HEADER_BYTES else -(stop - begin) % 8
        if start + size > end:
            raise _broken()
        yield _Element(kind, size, start, min(stop, end))
        at = stop


def _plain_name(body: bytes, order: str) -> str | None:
    parts = list(_elements(body, order, 0, len(body)))
    if len(parts) < 3 or parts[0].kind != 6 or parts[0].size != 8:
        raise _broken()
    (flags,) = struct.unpack_from(f"{order}I", body, parts[0].begin)
    if flags & 0xFF not in (*NUMERIC_CLASSES, CHAR_CLASS) or flags & COMPLEX:
        return None
    _, shape, name, *values = parts
    if shape.kind != 5 or shape.size % 4 or not 2 <= shape.size // 4 <= DIMENSIONS_MAX or len(values) != 1:
        raise _broken()
    sides = struct.unpack_from(f"{order}{shape.size // 4}i", body, shape.begin)
    if name.kind not in (1, 2) or min(sides) < 0 or values[0].kind not in ITEM_BYTES:
        raise _broken()
    count, spare = divmod(values[0].size, ITEM_BYTES[values[0].kind])
    expected = math.prod(sides)
    fits = expected <= count <= 4 * expected if values[0].kind == UTF8 else count == expected
    if spare or not fits or (values[0].kind == UTF8 and flags & 0xFF != CHAR_CLASS):
        raise _broken()
    return body[name.begin : name.begin + name.size].decode("latin-1")


def _unpacked(body: bytes) -> bytes:
    unpacker = zlib.decompressobj()
    try:
        whole = unpacker.decompress(body, UNPACKED_MAX)
    except zlib.error:
        raise _broken() from None
    if not unpacker.eof:
        raise _broken()
    return whole


def _broken() -> TableError:
    return TableError("The file is broken or cut off.", remedy="Export it again.")

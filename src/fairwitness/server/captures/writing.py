"""Samples into the database: packed piece by piece, and long ones written before the capture that will hold them.

A capture appears in one short transaction, however long it is. What was written ahead of one that never came belongs to
nothing, is seen by nobody, and is swept away.
"""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from datetime import timedelta
from itertools import islice

import numpy as np
from django.db import transaction
from django.utils import timezone
from numpy.typing import NDArray

from fairwitness.core.model.capture import Capture, SampleArray
from fairwitness.core.model.lead import lead_block
from fairwitness.server.captures.models import SampleChunk, StoredCapture, StoredChannel
from fairwitness.server.captures.packing import CHUNK_SAMPLES, coded, has_checksum, pack, pack_coded
from fairwitness.server.captures.pyramid import Value, levels_of

ROWS_AT_ONCE = 64
"""Pieces of one transaction, 8 MB of samples at most: others write between them."""
AHEAD_FROM = 512
"""Pieces of a capture that is written ahead: some 16 million samples; what is shorter is held and written at once."""
LEFT_BEHIND = timedelta(hours=6)
"""What was written ahead longer ago than this is nobody's any more."""

Told = Callable[[float], None]
"""Is told the share of the samples that is written."""


@dataclass(frozen=True, slots=True)
class Packed:
    """One compressed chunk and its place."""

    position: int
    level: int
    index: int
    count: int
    data: bytes


@dataclass(frozen=True, slots=True, kw_only=True)
class WrittenAhead:
    """The channels of a capture that is not kept yet.

    Parameters
    ----------
    rows : sequence of StoredChannel
        Empty where everything is in ``rest``.
    rest : sequence of Packed
        What is to be written together with the capture: all of a short one.
    """

    rows: Sequence[StoredChannel] = ()
    rest: Sequence[Packed] = ()


def packed_pieces(capture: Capture) -> Iterator[Packed]:
    """Compress a capture's samples and pyramid on all cores, in order of channel, level and index.

    No more than a few pieces are held at once, however long the capture is.

    Parameters
    ----------
    capture : Capture

    Yields
    ------
    Packed
    """
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        under_way: deque[Future[Packed]] = deque()
        for position, channel in enumerate(capture.channels):
            for work in _pieces(position, channel.samples):
                under_way.append(pool.submit(work))
                if len(under_way) > ROWS_AT_ONCE:
                    yield under_way.popleft().result()
        while under_way:
            yield under_way.popleft().result()


def _pieces(position: int, samples: SampleArray) -> Iterator[Callable[[], Packed]]:
    plain = np.ascontiguousarray(samples, dtype=np.float32)
    code = coded(plain)
    if code is None:
        return _cut(position, plain, pack)
    return _cut(position, code.codes, lambda piece: pack_coded(piece, code.values))


def _cut(
    position: int, values: NDArray[Value], packer: Callable[[NDArray[Value]], bytes]
) -> Iterator[Callable[[], Packed]]:
    """Samples and the levels of their pyramid cut into chunks, each with the work of packing it."""

    def of(level: int, index: int, piece: NDArray[Value]) -> Callable[[], Packed]:
        return lambda: Packed(position, level, index, piece.size, packer(piece))

    for level, whole in enumerate(levels_of(values)):
        for index, first in enumerate(range(0, whole.size, CHUNK_SAMPLES)):
            yield of(level, index, whole[first : first + CHUNK_SAMPLES])


def write_ahead(capture: Capture, *, told: Told | None = None, under: str = "") -> WrittenAhead:
    """Pack a capture, and write it where it is long, in transactions of a few pieces each.

    Parameters
    ----------
    capture : Capture
    told : callable, optional
    under : str
        Name for ``sweep``.

    Returns
    -------
    WrittenAhead
        For ``attach``, or for ``forget`` where the capture is not kept after all.
    """
    pieces = packed_pieces(capture)
    first = list(islice(pieces, AHEAD_FROM))
    if len(first) < AHEAD_FROM:
        return WrittenAhead(rest=first)
    rows = _channels(capture, None, under=under)
    ahead = WrittenAhead(rows=rows)
    total = sum(c.samples.size for c in capture.channels)
    written = 0
    batch = first
    try:
        while batch:
            _keep(rows, batch)
            written += sum(p.count for p in batch if p.level == 0)
            if told is not None:
                told(written / total)
            batch = list(islice(pieces, ROWS_AT_ONCE))
    except BaseException:
        forget(ahead)
        raise
    return ahead


def attach(stored: StoredCapture, capture: Capture, ahead: WrittenAhead) -> None:
    """Give a kept capture its channels. Call it inside the transaction that stores the capture itself.

    Parameters
    ----------
    stored : StoredCapture
        Saved, without channels.
    capture : Capture
    ahead : WrittenAhead
    """
    rows = ahead.rows or _channels(capture, stored)
    if ahead.rows:
        StoredChannel.objects.filter(pk__in=[r.pk for r in rows]).update(
            capture=stored, ahead_since=None, ahead_under=""
        )
    _keep(rows, ahead.rest)


def forget(ahead: WrittenAhead) -> None:
    """Delete what was written ahead of a capture that is not kept."""
    _delete(r.pk for r in ahead.rows)


def sweep(under: str = "") -> int:
    """Delete what was written ahead by somebody who will not come back to it.

    Parameters
    ----------
    under : str
        The name it was written under; without one, whatever is older than anything can be under way.

    Returns
    -------
    int
        Channels deleted.
    """
    left = StoredChannel.objects.filter(capture=None)
    old = left.filter(ahead_since__lt=timezone.now() - LEFT_BEHIND)
    return _delete((left.filter(ahead_under=under) if under else old).values_list("pk", flat=True))


def _delete(keys: Iterable[int]) -> int:
    count = 0
    for count, key in enumerate(list(keys), start=1):  # noqa: B007 - each in a transaction of its own
        StoredChannel.objects.filter(pk=key, capture=None).delete()
    return count


def _channels(capture: Capture, stored: StoredCapture | None, under: str = "") -> list[StoredChannel]:
    """The channels of a capture, or of one that is still to come."""
    since = None if stored is not None else timezone.now()
    with transaction.atomic():
        return [
            StoredChannel.objects.create(
                capture=stored,
                ahead_since=since,
                ahead_under=under,
                position=position,
                name=channel.name[:200],
                role=channel.role.value,
                unit=channel.unit,
                cylinder=channel.cylinder,
                feeds=list(channel.feeds),
                sync=channel.sync,
                measured_at=channel.measured_at or "",
                lead=lead_block(channel.lead),
                unplugged=channel.unplugged,
            )
            for position, channel in enumerate(capture.channels)
        ]


def _keep(rows: Sequence[StoredChannel], packed: Iterable[Packed]) -> None:
    pieces = iter(packed)
    while batch := list(islice(pieces, ROWS_AT_ONCE)):
        SampleChunk.objects.bulk_create(
            SampleChunk(channel=rows[p.position], level=p.level, index=p.index, count=p.count, data=p.data)
            for p in batch
        )


def seal_pieces(stored: StoredCapture, capture: Capture) -> bool:
    """Pack a capture anew whose pieces carry no checksums, as the first version kept them; False where they do.

    Parameters
    ----------
    stored : StoredCapture
    capture : Capture
        As ``samples.read`` gave it: compared with its hash.
    """
    chunks = SampleChunk.objects.filter(channel__capture=stored)
    first = chunks.values_list("data", flat=True).first()
    if first is None or has_checksum(first):
        return False
    pieces = tuple(packed_pieces(capture))
    with transaction.atomic():
        chunks.delete()
        _keep(list(stored.channels.all()), pieces)
    return True

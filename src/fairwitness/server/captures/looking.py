"""Looking at a kept capture: windows of samples, cycles, folds, readings between cursors, and files for elsewhere."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import CaptureError
from fairwitness.core.model.capture import Capture, Channel, SampleArray, TimeBase
from fairwitness.core.model.engine import CYCLE_DEG
from fairwitness.core.signal.conditioning import low_pass
from fairwitness.core.signal.cycle_folding import (
    CycleView,
    Reading,
    averaged,
    cycle_view,
    fold,
    oddness,
    read_between,
    snap,
)
from fairwitness.core.signal.pressure.reference import Reference, references
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.formats import recordings
from fairwitness.server.captures import samples
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.captures.packing import Float32Array
from fairwitness.server.engines.records import engine_of

HELD_SAMPLES = 4_000_000
ODD_BINS = 360
FILTER_ROOM = 3.0
"""Periods of the corner frequency read beyond a window, so that its edges do not ring."""


def cycles_of(stored: StoredCapture) -> CycleView:
    """Where the cycles of a kept capture lie.

    Raises
    ------
    CaptureError
        Nothing marks a cylinder.
    """
    return _cycles(stored.pk, stored.sha256)


@lru_cache(maxsize=16)
def _cycles(capture_id: int, _sha256: str) -> CycleView:
    """Neither the samples nor the engine of a kept capture change."""
    stored = StoredCapture.objects.select_related("case").get(pk=capture_id)
    return cycle_view(_whole(stored), engine_of(stored.case))


@lru_cache(maxsize=4)
def _read(capture_id: int, _sha256: str) -> Capture:
    """A capture's samples never change: the few looked at now stay at hand."""
    return samples.read(StoredCapture.objects.get(pk=capture_id))


def _whole(stored: StoredCapture) -> Capture:
    return _read(stored.pk, stored.sha256) if stored.samples <= HELD_SAMPLES else samples.read(stored)


def _channel(stored: StoredCapture, position: int) -> tuple[Channel, TimeBase]:
    capture = _whole(stored)
    if not 0 <= position < len(capture.channels):
        raise CaptureError("There is no such channel.", where=stored.name)
    return capture.channels[position], capture.time


def pressure_references(stored: StoredCapture, view: CycleView) -> list[tuple[Reference, float]]:
    """Computed cycles beside the measured ones, and where each cylinder's top dead centre stands on the folded axis."""
    reported = references(evenly_sampled(_whole(stored)), engine_of(stored.case))
    return [(r, _summit_deg(stored, r.channel, view) + r.lag_deg) for r in reported]


def _summit_deg(stored: StoredCapture, position: int, view: CycleView) -> float:
    """Where the averaged cycle of a channel stands highest, degrees of the folded axis."""
    middle = averaged(folded(stored, position, view, ODD_BINS))[0]
    return float(view.from_deg + (float(np.nanargmax(middle)) + 0.5) * CYCLE_DEG / middle.size)


def folded(stored: StoredCapture, position: int, view: CycleView, bins: int) -> Float32Array:
    """A channel folded by cycle, see ``core.cycle_view.fold``."""
    channel, time = _channel(stored, position)
    return fold(channel.samples, time, view, bins)


def oddness_of(stored: StoredCapture, view: CycleView) -> NDArray[np.float64]:
    """How odd each cycle is, by the first channel that is no sync."""
    capture = _whole(stored)
    channel = next((c for c in capture.channels if not c.sync), capture.channels[0])
    return oddness(fold(channel.samples, capture.time, view, ODD_BINS))


def reading(stored: StoredCapture, position: int, from_s: float, to_s: float) -> Reading:
    """What lies between two cursors."""
    channel, time = _channel(stored, position)
    return read_between(channel.samples, time, from_s, to_s)


def snapped(stored: StoredCapture, position: int, at_s: float, reach_s: float, kind: str) -> float:
    """The nearest edge or peak."""
    channel, time = _channel(stored, position)
    return snap(channel.samples, time, at_s, kind=kind, reach_s=reach_s)


def window(
    stored: StoredCapture, span: tuple[int, int], points: int, corner_hz: float = 0.0
) -> tuple[Float32Array, int]:
    """What a stretch of every channel looks like, below a corner frequency if one is given; nothing stored is changed.

    Parameters
    ----------
    stored : StoredCapture
    span : (int, int)
        First sample and the one after the last.
    points : int
        Columns wanted of each channel.
    corner_hz : float
        0 for no filter.

    Returns
    -------
    (values, step)
        (channels, k) float32, each row as from ``samples.envelopes``.
    """
    if corner_hz > 0:
        capture = _whole(stored)
        pairs = [_filtered(c.samples, capture.time, span, points, corner_hz) for c in capture.channels]
        rows, step = [values for values, _ in pairs], pairs[0][1] if pairs else 1
    else:
        rows, step = samples.envelopes(stored, *span, points)
    return (np.stack(rows) if rows else np.empty((0, 0), np.float32)), step


def _filtered(
    values: SampleArray, time: TimeBase, span: tuple[int, int], points: int, corner_hz: float
) -> tuple[Float32Array, int]:
    begin, end = max(0, span[0]), min(time.samples, span[1])
    room = int(FILTER_ROOM * time.rate_hz / corner_hz)
    first, last = max(0, begin - room), min(time.samples, end + room)
    smooth = low_pass(values[first:last], time.rate_hz, corner_hz)[begin - first : end - first]
    return samples.thinned(np.asarray(smooth, dtype=np.float32), points)


def export_capture(stored: StoredCapture, kind: str, stretch: tuple[float, float] | None) -> bytes:
    """A capture, or a stretch of it, in an open format.

    Raises
    ------
    TableError, CaptureError
    """
    capture = _whole(stored)
    return recordings.write_recording(recordings.cut(capture, *stretch) if stretch else capture, kind)

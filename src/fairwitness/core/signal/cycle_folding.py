"""Any capture folded by engine cycle, for looking at: cycles beside each other on one 720 degree axis.

Nothing here judges. It says where cycles lie, cuts them into columns that keep every peak, and ranks the odd ones out.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import CaptureError
from fairwitness.core.model.capture import Capture, Channel, Role, SampleArray, TimeBase
from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.signal.sync import (
    TIMING_ROLES,
    Anchor,
    Cycles,
    cycles_from_events,
    find_events,
    sync_channel,
    waste_spark_split,
)

FloatArray = NDArray[np.float64]
Float32Array = NDArray[np.float32]

LEAD_SHARE = 0.15
"""A cylinder's window begins this share of the shortest interval before its event: a dwell belongs to its spark."""
SPREAD_PERCENT = (10.0, 90.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """A cylinder's stretch of the cycle axis, degrees from the sync event."""

    cylinder: int
    from_deg: float
    to_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CycleView:
    """Where the cycles of a capture lie.

    Parameters
    ----------
    cycles : Cycles
    sync : str
        Name of the channel the cycles were read from.
    from_deg : float
        Where the axis begins, degrees from the sync event; it is 720 degrees long.
    windows : tuple of Window
        In firing order from the synced cylinder.
    """

    cycles: Cycles
    sync: str
    from_deg: float
    windows: tuple[Window, ...]

    @property
    def certain(self) -> bool:
        """Whether the windows name the right cylinders rather than perhaps their companions."""
        return self.cycles.anchor is Anchor.COMPRESSION


def cycle_view(capture: Capture, engine: Engine) -> CycleView:
    """Find the cycles of a capture.

    Parameters
    ----------
    capture : Capture
        With at least one channel that times a cylinder.
    engine : Engine

    Returns
    -------
    CycleView

    Raises
    ------
    CaptureError
        No channel times a cylinder, or it carries too few events.
    """
    channel = timing_channel(capture)
    if channel is None:
        raise CaptureError(
            "No channel of this capture marks a cylinder.",
            where=capture.name,
            remedy="Record a sync beside it to see cycles; the whole strip can be looked at.",
        )
    events = find_events(channel, capture.time, engine)
    if channel.role is Role.SECONDARY_VOLTAGE:
        events = waste_spark_split(events) or events
    anchor = events.anchors[0] if events.anchors else Anchor.NONE
    begin = capture.time.start_s
    cycles = cycles_from_events(events, anchor, begin_s=begin, end_s=begin + capture.time.duration_s)
    if cycles.count < 1:
        raise CaptureError(f"Channel {channel.name} marks too few cycles to fold.", where=capture.name)
    lead = LEAD_SHARE * float(min(engine.firing_intervals_deg))
    return CycleView(cycles=cycles, sync=channel.name, from_deg=-lead, windows=_windows(engine, cycles.cylinder, lead))


def timing_channel(capture: Capture) -> Channel | None:
    """The sync, or else the first channel of one cylinder that carries an event per cycle."""
    return sync_channel(capture) or next((c for c in capture.with_role(*TIMING_ROLES) if c.cylinder is not None), None)


def _windows(engine: Engine, cylinder: int | None, lead_deg: float) -> tuple[Window, ...]:
    start = engine.position(cylinder) if cylinder in engine.firing_order and cylinder is not None else 0
    windows, at = [], -lead_deg
    for step in range(engine.cylinders):
        place = (start + step) % engine.cylinders
        width = engine.firing_intervals_deg[place]
        windows.append(Window(cylinder=engine.firing_order[place], from_deg=at, to_deg=at + width))
        at += width
    return tuple(windows)


def fold(samples: SampleArray, time: TimeBase, view: CycleView, bins: int) -> Float32Array:
    """Cut a channel into cycles of equal columns; each column keeps its lowest and highest sample.

    Parameters
    ----------
    samples : (n,) float
    time : TimeBase
    view : CycleView
    bins : int
        Columns per cycle.

    Returns
    -------
    (n_cycles, 2 * bins) float32
        Low and high in turn. Where a column holds no sample of its own, both are read between its neighbours.
    """
    cycles = view.cycles
    length = cycles.ends_s - cycles.starts_s
    shares = view.from_deg / CYCLE_DEG + np.arange(bins + 1) / bins
    edges = cycles.starts_s[:, None] + length[:, None] * shares[None, :]
    places = _index_of(time, edges)
    folded = np.empty((cycles.count, 2 * bins), np.float32)
    for row, at in enumerate(places):
        folded[row, 0::2], folded[row, 1::2] = _columns(samples, at)
    return folded


def _index_of(time: TimeBase, moments: FloatArray) -> FloatArray:
    if time.stamps_s is not None:
        return np.asarray(np.interp(moments, time.stamps_s, np.arange(time.samples)))
    return np.asarray((moments - time.start_s) * time.rate_hz)


def _columns(samples: SampleArray, edges: FloatArray) -> tuple[Float32Array, Float32Array]:
    """Lowest and highest sample between fractional indices, read between samples where columns are narrower."""
    last = samples.size - 1
    first = np.clip(np.ceil(edges[:-1]), 0, last).astype(np.intp)
    until = np.clip(np.ceil(edges[1:]), 0, last + 1).astype(np.intp)
    middle = np.clip(0.5 * (edges[:-1] + edges[1:]), 0, last)
    left = middle.astype(np.intp)
    right = np.minimum(left + 1, last)
    between = samples[left] + (middle - left) * (samples[right] - samples[left])
    outside = (edges[1:] < 0) | (edges[:-1] > last)
    full = until > first
    low, high = between.astype(np.float32), between.astype(np.float32)
    if full.any():
        part = samples[int(first[full][0]) : int(until[full][-1])]
        starts = first[full] - int(first[full][0])
        low[full] = np.fmin.reduceat(part, starts)
        high[full] = np.fmax.reduceat(part, starts)
    low[outside], high[outside] = np.nan, np.nan
    return low, high


def averaged(folded: Float32Array) -> Float32Array:
    """The median cycle and its spread.

    Parameters
    ----------
    folded : (n_cycles, 2 * bins) float32

    Returns
    -------
    (3, bins) float32
        Median of the middles, then the 10th and 90th percentile.
    """
    middles = 0.5 * (folded[:, 0::2] + folded[:, 1::2])
    low, centre, high = np.nanpercentile(middles, (SPREAD_PERCENT[0], 50.0, SPREAD_PERCENT[1]), axis=0)
    return np.asarray(np.stack((centre, low, high)), dtype=np.float32)


def oddness(folded: Float32Array) -> FloatArray:
    """How far each cycle is from the median one, in spreads of the usual cycle.

    Parameters
    ----------
    folded : (n_cycles, 2 * bins) float32

    Returns
    -------
    (n_cycles,) float, 1
    """
    middles = 0.5 * (folded[:, 0::2].astype(np.float64) + folded[:, 1::2])
    centre = np.nanmedian(middles, axis=0)
    away = np.sqrt(np.nanmean((middles - centre) ** 2, axis=1))
    usual = float(np.nanmedian(away)) or 1.0
    return np.asarray(np.nan_to_num(away / usual))


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """What lies between two cursors on one channel, in its written unit."""

    from_s: float
    to_s: float
    first: float
    last: float
    low: float
    high: float
    mean: float
    area: float
    """Integral over time, unit times s."""
    slope: float
    """Rise per second from the first to the last sample."""

    @property
    def hertz(self) -> float:
        """One over the time between the cursors."""
        return 1.0 / (self.to_s - self.from_s)


def read_between(samples: SampleArray, time: TimeBase, from_s: float, to_s: float) -> Reading:
    """Read a stretch of a channel.

    Parameters
    ----------
    samples : (n,) float
    time : TimeBase
    from_s, to_s : float, s

    Returns
    -------
    Reading

    Raises
    ------
    CaptureError
        No samples between the cursors.
    """
    from_s, to_s = min(from_s, to_s), max(from_s, to_s)
    begin, end = _index_of(time, np.array([from_s, to_s]))
    first, last = max(0, int(np.ceil(begin))), min(time.samples - 1, int(np.floor(end)))
    part = np.asarray(samples[first : last + 1], dtype=np.float64)
    if part.size < 2 or not np.isfinite(part).any():
        raise CaptureError("There are no samples between the cursors.", remedy="Move them apart.")
    moments = time.at(np.arange(first, last + 1))
    good = np.isfinite(part)
    values, moments = part[good], moments[good]
    area = float(np.trapezoid(values, moments))
    span = float(moments[-1] - moments[0]) or 1.0
    return Reading(
        from_s=float(from_s),
        to_s=float(to_s),
        first=float(values[0]),
        last=float(values[-1]),
        low=float(values.min()),
        high=float(values.max()),
        mean=float(values.mean()),
        area=area,
        slope=float((values[-1] - values[0]) / span),
    )


def snap(samples: SampleArray, time: TimeBase, at_s: float, *, kind: str, reach_s: float) -> float:
    """The nearest steepest edge or extreme within reach of a moment.

    Parameters
    ----------
    samples : (n,) float
    time : TimeBase
    at_s, reach_s : float, s
    kind : str
        ``edge`` or ``peak``.

    Returns
    -------
    float, s
        ``at_s`` itself where the trace stands still.
    """
    begin, end = _index_of(time, np.array([at_s - reach_s, at_s + reach_s]))
    first, last = max(0, int(begin)), min(time.samples, int(end) + 2)
    part = np.asarray(samples[first:last], dtype=np.float64)
    if part.size < 3 or not np.isfinite(part).any() or np.nanmax(part) == np.nanmin(part):
        return at_s
    if kind == "edge":
        steps = np.abs(np.diff(part))
        at = first + int(np.nanargmax(steps)) + 0.5
    else:
        at = first + int(np.nanargmax(np.abs(part - np.nanmedian(part))))
    return float(time.at(np.array([at]))[0])

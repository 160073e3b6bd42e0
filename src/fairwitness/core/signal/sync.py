"""From a sync channel to engine cycles. What stays ambiguous is a value here, not a comment.

A sync marks one cylinder. Its events are found, strikes of one event grouped, lost events said. Cycles are pairs of
times; within a cycle crank angle follows from them, so a speed that drifts does no harm.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.model.capture import Capture, Channel, Role, SampleArray, TimeBase
from fairwitness.core.model.engine import Engine, Ignition, Injection
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.conditioning import block_extremes, crossings
from fairwitness.core.signal.event_gaps import bridge_missing, group_strikes, regular
from fairwitness.core.signal.runs import runs

REPEATED_STRIKES_COUNTED = template(
    "sync.repeated_strikes_counted", "{grouped} repeated strikes were counted with their first."
)
SYNC_CHANNEL_CARRIES = template(
    "sync.sync_channel_carries", "The sync channel {name} carries no events: is it on a working cylinder?"
)
MISSING_SYNC_EVENTS = template("sync.missing_sync_events", "{bridged} missing sync events were bridged.")
UNEVEN_CYCLES_LEFT = template("sync.uneven_cycles_left", "{dropped} uneven cycles were left out.")
SYNC_LOST_AFTER = template(
    "sync.sync_lost_after", "The sync was lost after {times:.1f} s; the last {lost:.1f} s are not assigned."
)
COMPRESSION_WASTE_SPARKS = template(
    "sync.compression_waste_sparks", "Compression and waste sparks were told apart by their firing voltage."
)


FloatArray = NDArray[np.float64]

TIMING_ROLES = (
    Role.COIL_CONTROL,
    Role.COIL_CURRENT,
    Role.SECONDARY_VOLTAGE,
    Role.INJECTOR_VOLTAGE,
    Role.INJECTOR_CURRENT,
    Role.CYLINDER_PRESSURE,
    Role.CAM_SENSOR,
)
QUIET_FACTOR = 10.0
"""[M] an event stands this far above the usual wander of the trace, or it is noise."""
SPARK_ROLES = (Role.COIL_CONTROL, Role.COIL_CURRENT, Role.SECONDARY_VOLTAGE)


class Side(StrEnum):
    """To which side of rest the events of a channel go."""

    ABOVE = "above"
    BELOW = "below"
    BOTH = "both"

    def upright(self, samples: FloatArray, quiet: float) -> FloatArray:
        """(n,) float: how far samples are from rest, events upwards."""
        away = samples - quiet
        return np.abs(away) if self is Side.BOTH else -away if self is Side.BELOW else away


class Anchor(StrEnum):
    """What a sync event says about the crank."""

    COMPRESSION = "compression"
    """Near TDC compression of the marked cylinder."""
    REVOLUTION = "revolution"
    """Near TDC of the marked cylinder, compression or exhaust."""
    CYCLE = "cycle"
    """Once per cycle at an angle that is not known (port injection, cam)."""
    NONE = "none"
    """No sync."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SyncEvents:
    """Events of the marked cylinder.

    Parameters
    ----------
    cylinder : int
    times_s : (n,) float, s
    heights : (n,) float
        Size of each event, for telling event from waste spark.
    anchors : tuple of Anchor
        What the events may mean, likeliest first.
    """

    cylinder: int | None
    times_s: FloatArray
    heights: FloatArray
    anchors: tuple[Anchor, ...]
    reasons: tuple[Reason, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Cycles:
    """Engine cycles in time.

    Parameters
    ----------
    starts_s, ends_s : (n_cycles,) float, s
        Each begins at an event of ``cylinder`` (or at a chosen point where the anchor is CYCLE or NONE).
    anchor : Anchor
    cylinder : int or None
    """

    starts_s: FloatArray
    ends_s: FloatArray
    anchor: Anchor
    cylinder: int | None
    reasons: tuple[Reason, ...] = ()

    @property
    def count(self) -> int:
        """How many cycles."""
        return int(self.starts_s.size)

    @property
    def speed_rpm(self) -> FloatArray:
        """(n_cycles,) float, rpm: two revolutions per cycle."""
        return np.asarray(120.0 / (self.ends_s - self.starts_s))


SWITCHED = (Role.COIL_CONTROL, Role.INJECTOR_VOLTAGE)
"""Wires that a driver pulls to earth or to its supply."""


def sync_channel(capture: Capture) -> Channel | None:
    """The channel that marks a cylinder: the one flagged, else the only timing channel of one cylinder."""
    flagged = [c for c in capture.channels if c.sync]
    if flagged:
        return flagged[0]
    named = [c for c in capture.with_role(*TIMING_ROLES) if c.cylinder is not None]
    return named[0] if len(named) == 1 else None


def find_events(channel: Channel, time: TimeBase, engine: Engine) -> SyncEvents:
    """Find the events of a sync channel.

    Parameters
    ----------
    channel : Channel
    time : TimeBase
    engine : Engine

    Returns
    -------
    SyncEvents
        Empty where the channel carries none, with the reason.
    """
    anchors = _anchors(channel, engine)
    nothing = SyncEvents(
        cylinder=channel.cylinder,
        times_s=np.empty(0),
        heights=np.empty(0),
        anchors=anchors,
        reasons=(Reason("sync_silent", SYNC_CHANNEL_CARRIES(name=channel.name)),),
    )
    block = max(1, int(time.rate_hz / 2000.0))
    low, high = block_extremes(channel.samples, block)
    good = np.isfinite(low) & np.isfinite(high)
    if np.count_nonzero(good) < 20:
        return nothing
    quiet = float(np.median((low[good] + high[good]) / 2))
    up, down = np.where(good, high - quiet, 0.0), np.where(good, quiet - low, 0.0)
    both_ways = channel.role is Role.SECONDARY_VOLTAGE
    reach = np.maximum(up, down) if both_ways else (up if _robust_top(up) >= _robust_top(down) else down)
    top = _robust_top(reach)
    floor = QUIET_FACTOR * float(np.median(reach)) + 1e-12
    if not top > max(floor, 1e-9):
        return nothing
    if channel.role in SWITCHED and top < limit.SYNC_SWITCHES_SHARE.value * abs(quiet):
        return nothing  # a supply that sags while the starter turns, not a wire that is switched
    side = Side.BOTH if both_ways else Side.BELOW if reach is down else Side.ABOVE
    share = 0.12 if both_ways else 0.5
    level = max(share * top, min(floor, 0.6 * top))
    rises, falls, heights = _events_in(channel.samples, quiet, side, reach, block, level)
    if rises.size == 0:
        return nothing
    marks = falls if channel.role in (Role.COIL_CONTROL, Role.COIL_CURRENT) else rises
    times = time.at(marks)
    times, heights, grouped = group_strikes(times, heights)
    if not regular(times):
        return nothing
    reasons: tuple[Reason, ...] = ()
    if grouped:
        reasons = (Reason("multi_strike", REPEATED_STRIKES_COUNTED(grouped=grouped)),)
    return SyncEvents(cylinder=channel.cylinder, times_s=times, heights=heights, anchors=anchors, reasons=reasons)


def cycles_from_events(events: SyncEvents, anchor: Anchor, *, begin_s: float, end_s: float) -> Cycles:
    """Pair events into cycles inside a stretch of cranking.

    Parameters
    ----------
    events : SyncEvents
    anchor : Anchor
        REVOLUTION pairs every second event.
    begin_s, end_s : float, s
        Events outside are left out, and the first event inside with them (the first cycle is not steady).

    Returns
    -------
    Cycles
        Cycles further than CYCLE_LENGTH_TOLERANCE from their neighbours are left out, with the reason.
    """
    times = events.times_s[(events.times_s >= begin_s) & (events.times_s <= end_s)]
    reasons: list[Reason] = []
    if times.size >= 3:
        times, bridged = bridge_missing(times)
        if bridged:
            reasons.append(Reason("sync_bridged", MISSING_SYNC_EVENTS(bridged=bridged)))
    if anchor is Anchor.REVOLUTION:
        times = times[::2]
    starts, ends = times[:-1], times[1:]
    lengths = ends - starts
    if lengths.size:
        usual = float(np.median(lengths))
        steady = np.abs(lengths - usual) <= limit.CYCLE_LENGTH_TOLERANCE.value * usual
        dropped = int(np.count_nonzero(~steady))
        if dropped:
            reasons.append(Reason("cycles_dropped", UNEVEN_CYCLES_LEFT(dropped=dropped)))
        starts, ends = starts[steady], ends[steady]
        lost = end_s - float(times[-1])
        if lost > 1.6 * usual:
            reasons.append(Reason("sync_lost", SYNC_LOST_AFTER(times=times[-1], lost=lost)))
    return Cycles(starts_s=starts, ends_s=ends, anchor=anchor, cylinder=events.cylinder, reasons=tuple(reasons))


def waste_spark_split(events: SyncEvents) -> SyncEvents | None:
    """Tell compression events from waste events by their size: pressure raises the firing voltage.

    Returns
    -------
    SyncEvents or None
        The compression events alone; None where the sizes do not alternate clearly.
    """
    heights = events.heights
    if heights.size < 8:
        return None
    even, odd = heights[0::2], heights[1::2]
    pairs = min(even.size, odd.size)
    larger = np.mean(even[:pairs] > odd[:pairs])
    ratio = float(np.median(even) / max(float(np.median(odd)), 1e-12))
    if larger >= 0.85 and ratio > 1.3:
        start = 0
    elif larger <= 0.15 and ratio < 1 / 1.3:
        start = 1
    else:
        return None
    return SyncEvents(
        cylinder=events.cylinder,
        times_s=events.times_s[start::2],
        heights=heights[start::2],
        anchors=(Anchor.COMPRESSION,),
        reasons=(
            *events.reasons,
            Reason("waste_spark_told", COMPRESSION_WASTE_SPARKS()),
        ),
    )


def cycles_by_autocorrelation(
    values: FloatArray, rate_hz: float, first_s: float, *, cycle_s: float, begin_s: float, end_s: float
) -> Cycles:
    """Follow the cycle without a sync, each stretch laid on the one before where it fits best.

    Parameters
    ----------
    values : (n,) float
        Slow trace at ``rate_hz``, starting at ``first_s``.
    cycle_s : float, s
        Length to start from.
    begin_s, end_s : float, s

    Returns
    -------
    Cycles
        Anchor NONE: the first start is an arbitrary point.
    """
    length = round(cycle_s * rate_hz)
    at = round((begin_s - first_s) * rate_hz)
    last = min(values.size, int((end_s - first_s) * rate_hz))
    edges = [at]
    reach = max(2, int(0.06 * length))
    while at + 2 * length + reach < last:
        piece = values[at : at + length]
        piece = piece - piece.mean()
        ahead = values[at + length - reach : at + 2 * length + reach]
        fit = np.correlate(ahead, piece, mode="valid")
        sums = np.cumsum(np.concatenate(([0.0], ahead)))
        squares = np.cumsum(np.concatenate(([0.0], ahead**2)))
        total = sums[length:] - sums[:-length]
        power = squares[length:] - squares[:-length] - total**2 / length
        fit = fit / np.sqrt(np.maximum(power, 1e-12))
        at = at + length - reach + int(np.argmax(fit))
        edges.append(at)
    times = first_s + np.array(edges, dtype=np.float64) / rate_hz
    return Cycles(starts_s=times[:-1], ends_s=times[1:], anchor=Anchor.NONE, cylinder=None)


def _events_in(
    samples: SampleArray,
    quiet: float,
    side: Side,
    reach: FloatArray,
    block: int,
    level: float,
) -> tuple[NDArray[np.intp], NDArray[np.intp], FloatArray]:
    """Edges and heights, looked for only in the blocks that reach the level; most of a sync channel is quiet."""
    arm = 0.7 * level
    busy = np.flatnonzero(reach >= arm)
    if busy.size == 0:
        return np.empty(0, np.intp), np.empty(0, np.intp), np.empty(0)
    firsts, lasts = runs(busy, gap=2)
    rises, falls, heights = [], [], []
    for first, last in zip(firsts, lasts, strict=True):
        begin, end = max(0, (first - 1) * block), min(samples.size, (last + 2) * block)
        upright = side.upright(samples[begin:end].astype(np.float64), quiet)
        up, down = crossings(upright, arm=arm, fire=level)
        rises += (up + begin).tolist()
        falls += (down + begin).tolist()
        heights += [float(np.nanmax(upright[a:b])) for a, b in zip(up, down, strict=True)]
    return np.array(rises, np.intp), np.array(falls, np.intp), np.array(heights)


def _anchors(channel: Channel, engine: Engine) -> tuple[Anchor, ...]:
    if channel.role in SPARK_ROLES:
        if engine.ignition is Ignition.WASTE_SPARK:
            return (Anchor.REVOLUTION, Anchor.COMPRESSION)
        return (Anchor.COMPRESSION, Anchor.REVOLUTION)
    if channel.role is Role.CYLINDER_PRESSURE:
        return (Anchor.COMPRESSION,)
    if channel.role in (Role.INJECTOR_VOLTAGE, Role.INJECTOR_CURRENT) and (
        engine.injection is Injection.COMMON_RAIL or engine.ignition is Ignition.COMPRESSION_IGNITION
    ):
        return (Anchor.COMPRESSION,)
    return (Anchor.CYCLE,)


def _robust_top(reach: FloatArray) -> float:
    """Height most events reach: the fifth-largest block, so that one spike does not set it."""
    if reach.size < 5:
        return float(reach.max(initial=0.0))
    return float(np.partition(reach, -5)[-5])

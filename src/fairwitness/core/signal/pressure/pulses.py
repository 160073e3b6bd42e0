"""One pulse per cylinder and cycle in a shared pipe: how large each is, and how late they arrive.

The shape of a pulse is not known and the delay depends on the pipe, so both are fitted: the sound cylinders show them.
Amplitudes of all cylinders are solved together, since pulses of neighbours run into each other.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.model.angles import signed
from fairwitness.core.model.capture import Capture, Channel, Role, TimeBase
from fairwitness.core.model.engine import CYCLE_DEG, Engine
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.conditioning import block_means, bridge_gaps
from fairwitness.core.signal.sync import Cycles, cycles_from_events, find_events, sync_channel, waste_spark_split

WITHOUT_SYNC_ONE = template(
    "pressure.pulses.without_sync_one", "Without a sync on one cylinder pulses cannot be assigned: record one."
)
ONLY_CYCLES_MARKED = template("pressure.pulses.only_cycles_marked", "Only {count} cycles were marked by the sync.")


FloatArray = NDArray[np.float64]

POINTS = 180
"""Per cycle: pulses are tens of degrees long."""
WIDTHS_DEG = (60.0, 90.0, 130.0)
DELAY_STEP_DEG = 6.0
DELAY_REACH = 3.0
"""Standard deviations of the expected delay that are tried."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Pulses:
    """Amplitudes, solved.

    Parameters
    ----------
    per_cycle : (cycles, cylinders) float
        In firing-order position, unit of the channel.
    amplitudes : (cylinders,) float
        Of the averaged cycle.
    delay_deg : float
        From TDC compression of a cylinder to the middle of its pulse.
    residual : float
        Share of the averaged cycle's movement that is not explained.
    folded : (cycles, POINTS) float
    """

    per_cycle: FloatArray
    amplitudes: FloatArray
    delay_deg: float
    residual: float
    folded: FloatArray


def marked_cycles(capture: Capture, engine: Engine) -> Cycles | Reason:
    """Cycles by the capture's sync, or why there are none.

    Parameters
    ----------
    capture : Capture
        Evenly sampled.
    engine : Engine

    Returns
    -------
    Cycles or Reason
    """
    channel = sync_channel(capture)
    if channel is None or channel.cylinder is None:
        return Reason("unsynced", WITHOUT_SYNC_ONE(), blocking=True)
    events = find_events(channel, capture.time, engine)
    if channel.role is Role.SECONDARY_VOLTAGE:
        events = waste_spark_split(events) or events
    end = capture.time.start_s + capture.time.duration_s
    cycles = cycles_from_events(events, events.anchors[0], begin_s=capture.time.start_s, end_s=end)
    if cycles.count < limit.RUNNING_CYCLES_MIN.value:
        return Reason("too_short", ONLY_CYCLES_MARKED(count=cycles.count), blocking=True)
    return cycles


def folded_slow(channel: Channel, time: TimeBase, cycles: Cycles) -> FloatArray:
    """A slow channel over crank angle, one row a cycle, each row's mean and ramp taken out.

    Parameters
    ----------
    channel : Channel
    time : TimeBase
        Even steps.
    cycles : Cycles

    Returns
    -------
    (cycles, POINTS) float
        SI unit of the channel.
    """
    block = max(1, int(time.rate_hz * float(np.median(cycles.ends_s - cycles.starts_s)) / (4 * POINTS)))
    values = block_means(channel.samples, block) * channel.si_factor
    values = bridge_gaps(values) if np.isfinite(values).any() else np.zeros(values.size)
    moments = time.start_s + (np.arange(values.size) + 0.5) * block / time.rate_hz - 0.5 / time.rate_hz
    share = np.arange(POINTS) / POINTS
    at = cycles.starts_s[:, None] + (cycles.ends_s - cycles.starts_s)[:, None] * share
    rows = np.interp(at.reshape(-1), moments, values).reshape(at.shape)
    ramp = np.interp(cycles.ends_s, moments, values) - rows[:, 0]
    rows = rows - ramp[:, None] * share
    return np.asarray(rows - rows.mean(axis=1, keepdims=True))


def solve_pulses(folded: FloatArray, events_deg: FloatArray, *, delay_deg: float, spread_deg: float) -> Pulses:
    """Solve for the amplitudes.

    Parameters
    ----------
    folded : (cycles, POINTS) float
        From TDC compression of the first cylinder of the firing order.
    events_deg : (cylinders,) float
        TDC compressions within the cycle.
    delay_deg, spread_deg : float
        Where the middle of a pulse is expected after TDC compression, and how far that may be off.

    Returns
    -------
    Pulses
    """
    mean = np.median(folded, axis=0) if folded.shape[0] >= 5 else folded.mean(axis=0)
    mean = mean - mean.mean()
    moved = float(np.sum(mean**2)) + 1e-30
    best: tuple[float, float, FloatArray, float] | None = None
    reach = DELAY_REACH * spread_deg
    for delay in np.arange(delay_deg - reach, delay_deg + reach + 1e-9, DELAY_STEP_DEG):
        off = (delay - delay_deg) / spread_deg
        for width in WIDTHS_DEG:
            shapes = raised_cosines(events_deg + float(delay), width)
            solution = np.linalg.lstsq(shapes, mean, rcond=1e-6)[0]
            rest = float(np.sum((mean - shapes @ solution) ** 2)) / moved
            negative = float(np.sum(np.minimum(solution, 0.0) ** 2)) / (float(np.sum(solution**2)) + 1e-30)
            score = rest + 0.15 * negative + 0.01 * off**2
            if best is None or score < best[0]:
                best = (score, float(delay), shapes, rest)
    assert best is not None
    _, delay, shapes, rest = best
    solver = np.linalg.pinv(shapes, rcond=1e-6)
    return Pulses(
        per_cycle=(folded - folded.mean(axis=1, keepdims=True)) @ solver.T,
        amplitudes=np.asarray(solver @ mean),
        delay_deg=delay,
        residual=float(np.sqrt(rest)),
        folded=folded,
    )


def raised_cosines(centres_deg: FloatArray, width_deg: float) -> FloatArray:
    """One smooth pulse per centre, over one cycle, its mean taken out.

    Parameters
    ----------
    centres_deg : (n,) float, degrees
    width_deg : float
        Half the length of a pulse; it falls to nothing there.

    Returns
    -------
    (POINTS, n) float
        From 1 at the centre to 0 outside, less the mean.
    """
    angle = np.arange(POINTS) * CYCLE_DEG / POINTS
    apart = signed(angle[:, None] - centres_deg[None, :])
    bump = np.where(np.abs(apart) < width_deg, 0.5 * (1 + np.cos(np.pi * apart / width_deg)), 0.0)
    return np.asarray(bump - bump.mean(axis=0))

"""A starter current or battery voltage made ready: cleaned, cranking found, compressions upward, reasons against it.

From a channel of a capture; its slow trace goes to ``reading``. Nothing here removes evidence: what was put right is
said in a reason that the measurement carries.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.battery import nominal_volts, scaled
from fairwitness.core.model.capture import Channel, Role
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal import clamp_level
from fairwitness.core.signal.conditioning import block_means, bridge_gaps, remove_spikes
from fairwitness.core.signal.runs import runs

CHANNEL_HOLDS_USABLE = template("cranking.trace.channel_holds_usable", "Channel {name} holds no usable samples.")
CHANNEL_HOLDS_VALUES = template(
    "cranking.trace.channel_holds_values", "Channel {name} holds values no clamp or probe gives."
)
ONE_INTERFERENCE_SPIKE = template("cranking.trace.one_interference_spike", "One interference spike was")
INTERFERENCE_SPIKES = template("cranking.trace.interference_spikes", "{spikes} interference spikes were")
CHANNEL_STANDS_STILL = template(
    "cranking.trace.channel_stands_still", "Channel {name} stands still: nothing was connected or recorded."
)
CLAMP_BACKWARDS = template("cranking.trace.clamp_backwards", "clamp was on backwards")
LEADS_SWAPPED = template("cranking.trace.leads_swapped", "leads were swapped")
MS_SAMPLES_MISSING = template("cranking.trace.ms_samples_missing", "{sum} ms of samples are missing and were bridged.")
TAKEN_OUT_RE = template("cranking.trace.taken_out_re", "{found} taken out; re-route leads near the clamp.")
TRACE_TURNED_OVER = template(
    "cranking.trace.trace_turned_over", "The {what}: the trace was turned over before measuring."
)
CLAMP_STOOD_REST = template(
    "cranking.trace.clamp_stood_rest", "The clamp stood at {rest:+.0f} A at rest; that was taken out."
)
BATTERY_SAGS_ONLY = template("cranking.trace.battery_sags_only", "The battery sags only {dip:.0f} mV: not cranking.")
RESTED_BATTERY_STANDS = template(
    "cranking.trace.rested_battery_stands", "The rested battery stands at {rest:.2f} V: charge it first."
)
TRACE_CUT_OFF = template(
    "cranking.trace.trace_cut_off", "The trace is cut off at {level:.4g} {unit}: choose a larger range and repeat."
)
ONLY_STARTER_TURNING = template(
    "cranking.trace.only_starter_turning", "Only {draw:.1f} A: the starter was not turning the engine."
)
CRANKING_V_BELOW = template(
    "cranking.trace.cranking_v_below",
    "Cranking at {volts:.1f} V, below {cranking_volt_min:g} V: charge the battery and repeat.",
)


FloatArray = NDArray[np.float64]

WORKING_RATE_HZ = 1000.0
"""Cranking humps live below 100 Hz; slow work is done at this rate."""
CLIPPING_SAMPLES = 30_000
"""Enough to see how crowded the top level is."""
LEVEL = "starter_level"


@dataclass(frozen=True, slots=True, kw_only=True)
class SlowTrace:
    """A starter current or battery voltage made ready: humps upward, rest level at zero.

    Parameters
    ----------
    values : (n,) float
        Unit of the channel; crest of a compression upward, offset taken out.
    rate_hz : float
    first_s : float
        Time of the first value.
    cranking_s : (float, float)
        Begin and end of the cranking found in the trace.
    rest_level : float or None
        Level before or after cranking, in the channel's own sense.
    inverted : bool
        The trace was upside down and has been turned over.
    """

    values: FloatArray
    rate_hz: float
    first_s: float
    cranking_s: tuple[float, float]
    rest_level: float | None
    inverted: bool
    reasons: tuple[Reason, ...]

    @property
    def times_s(self) -> FloatArray:
        """(n,) float, s."""
        return self.first_s + np.arange(self.values.size) / self.rate_hz

    @property
    def usable(self) -> bool:
        """No blocking reason so far."""
        return not any(r.blocking for r in self.reasons)


def shape_of(trace: SlowTrace) -> SlowTrace | None:
    """A current that is too small for a starter, to be judged by its shape alone: the clamp's gain may be wrong.

    Parameters
    ----------
    trace : SlowTrace

    Returns
    -------
    SlowTrace or None
        With the level said to be unknown; None where anything else speaks against the trace.
    """
    blocking = [r for r in trace.reasons if r.blocking]
    if [r.code for r in blocking] != [LEVEL]:
        return None
    begin, end = ((at - trace.first_s) * trace.rate_hz for at in trace.cranking_s)
    draw = float(np.median(trace.values[max(int(begin), 0) : int(end) + 1]))
    kept = tuple(r for r in trace.reasons if not r.blocking)
    return replace(trace, reasons=(*kept, clamp_level.unknown(draw, clamp_level.STARTER)))


def slow_trace(channel: Channel, rate_hz: float, start_s: float) -> SlowTrace:
    """Decimate, clean, find the cranking, and set humps upward.

    Parameters
    ----------
    channel : Channel
        Starter current or battery voltage, evenly sampled.
    rate_hz, start_s : float
        Of the channel.

    Returns
    -------
    SlowTrace
        With blocking reasons where the trace cannot be cranking.
    """
    block = max(1, int(rate_hz // WORKING_RATE_HZ))
    rate = rate_hz / block
    means = block_means(channel.samples, block)
    first_s = start_s + 0.5 * (block - 1) / rate_hz
    reasons: list[Reason] = []

    def refused(code: str, statement: Message) -> SlowTrace:
        return SlowTrace(
            values=np.zeros(means.size),
            rate_hz=rate,
            first_s=first_s,
            cranking_s=(first_s, first_s),
            rest_level=None,
            inverted=False,
            reasons=(*reasons, Reason(code, statement, blocking=True)),
        )

    missing = ~np.isfinite(means)
    if missing.all() or means.size < 8:
        return refused("no_samples", CHANNEL_HOLDS_USABLE(name=channel.name))
    if missing.any():
        reasons.append(Reason("gaps", MS_SAMPLES_MISSING(sum=int(missing.sum()))))
    with np.errstate(over="ignore", invalid="ignore"):
        values = bridge_gaps(means) * channel.si_factor
    ceiling = (limit.STARTER_CURRENT_MAX_A if channel.si_unit == "A" else limit.BATTERY_VOLT_MAX).value
    if not float(np.percentile(np.abs(values), 99)) <= ceiling:
        return refused("impossible_values", CHANNEL_HOLDS_VALUES(name=channel.name))
    values, spikes = remove_spikes(values, sigma=limit.SPIKE_SIGMA.value)
    if spikes:
        found = ONE_INTERFERENCE_SPIKE() if spikes == 1 else INTERFERENCE_SPIKES(spikes=spikes)
        reasons.append(Reason("spikes", TAKEN_OUT_RE(found=found)))
    if float(np.ptp(values)) <= 1e-9 * max(1.0, float(np.abs(values).max())):
        return refused("dead_channel", CHANNEL_STANDS_STILL(name=channel.name))

    begin, end, rest = _cranking_zone(values, rate)
    crank = values[begin:end]
    is_current = channel.role is Role.STARTER_CURRENT
    inverted = _is_inverted(values, crank, rest, is_current)
    sense = (-1.0 if inverted else 1.0) * (1.0 if is_current else -1.0)
    if inverted:
        what = CLAMP_BACKWARDS() if is_current else LEADS_SWAPPED()
        reasons.append(Reason("reversed", TRACE_TURNED_OVER(what=what)))
    zero = rest if rest is not None else 0.0
    if is_current and rest is not None and abs(rest) > limit.CLAMP_ZERO_MAX_A.value:
        reasons.append(Reason("clamp_zero", CLAMP_STOOD_REST(rest=rest)))
    upward = (values - zero) * sense
    reasons += _level_reasons(values, crank, rest, is_current, inverted, upward[begin:end])
    crest_up = sense > 0
    reasons += _clipping(channel, rate_hz, begin * block, end * block, crest_up=crest_up)
    return SlowTrace(
        values=upward,
        rate_hz=rate,
        first_s=first_s,
        cranking_s=(first_s + begin / rate, first_s + (end - 1) / rate),
        rest_level=rest,
        inverted=inverted,
        reasons=tuple(reasons),
    )


def _cranking_zone(values: FloatArray, rate: float) -> tuple[int, int, float | None]:
    """Sample range of the longest crank and the level at rest beside it (None: never at rest)."""
    step = max(1, int(0.01 * rate))
    coarse = values[: values.size // step * step].reshape(-1, step).mean(axis=1)
    if coarse.size < 20:
        return 0, values.size, None
    edge = max(3, min(int(0.12 * rate / step), coarse.size // 6))
    span = float(np.percentile(coarse, 98) - np.percentile(coarse, 2))
    rests = []
    for piece in (coarse[:edge], coarse[-edge:]):
        if float(np.ptp(piece)) < 0.12 * span:
            rests.append(float(np.median(piece)))
    shortest = min(0.3 * coarse.size, limit.CRANK_MIN_S.value * rate / step)
    for rest in rests:
        away = coarse - rest
        # The starter is the heaviest load there is: neither the charging that follows nor a long rest sets the level.
        heavy = away[np.abs(away) > 0.25 * float(np.percentile(np.abs(away), 98))]
        working = float(np.median(heavy)) if heavy.size else 0.0
        if abs(working) < 0.08 * span:
            continue
        active = away * np.sign(working) > 0.12 * abs(working)
        begin, end = _longest_run(active, bridge=max(1, int(0.25 * rate / step)))
        if end - begin >= shortest and end - begin < coarse.size - 1:
            return begin * step, min(end * step, values.size), rest
    return 0, values.size, None


def _longest_run(active: NDArray[np.bool_], *, bridge: int) -> tuple[int, int]:
    """Longest stretch of true values, breaks shorter than ``bridge`` ignored."""
    where = np.flatnonzero(active)
    if where.size == 0:
        return 0, 0
    starts, lasts = runs(where, gap=bridge)
    best = int(np.argmax(lasts - starts))
    return int(starts[best]), int(lasts[best]) + 1


def _is_inverted(values: FloatArray, crank: FloatArray, rest: float | None, is_current: bool) -> bool:
    level = float(np.median(crank))
    if not is_current and abs(level) > 1.0:
        return level < 0
    if rest is not None:
        return (level < rest) if is_current else (level > rest)
    swing = float(np.percentile(crank, 99) - np.percentile(crank, 1))
    if abs(level) > 0.6 * swing:
        return level < 0
    # Neither rest nor a clear level: inrush is the one large excursion, and it points the way of the load.
    up, down = float(values.max()) - level, level - float(values.min())
    return (up < down) if is_current else (up > down)


def _level_reasons(
    values: FloatArray, crank: FloatArray, rest: float | None, is_current: bool, inverted: bool, upward: FloatArray
) -> list[Reason]:
    reasons = []
    level = float(np.median(upward))
    if is_current:
        draw = level if rest is not None else float(np.percentile(upward, 95) - np.percentile(upward, 5))
        if draw < limit.STARTER_CURRENT_MIN_A.value:
            reasons.append(Reason(LEVEL, ONLY_STARTER_TURNING(draw=draw), blocking=True))
        return reasons
    volts = float(np.median(crank)) * (-1.0 if inverted else 1.0)
    nominal = nominal_volts(volts if rest is None else rest, rested=rest is not None)
    least = scaled(limit.CRANKING_VOLT_MIN.value, nominal)
    dip = float(np.percentile(values, 99) - np.percentile(values, 1))
    if dip < limit.BATTERY_DIP_MIN_V.value:
        reasons.append(Reason("not_cranking", BATTERY_SAGS_ONLY(dip=dip * 1000), blocking=True))
    elif 2.0 < volts < least:
        reasons.append(Reason("battery_weak", CRANKING_V_BELOW(volts=volts, cranking_volt_min=least), blocking=True))
    if rest is not None and 5.0 < abs(rest) < scaled(limit.RESTED_VOLT_MIN.value, nominal):
        reasons.append(Reason("battery_low", RESTED_BATTERY_STANDS(rest=abs(rest))))
    return reasons


def _clipping(channel: Channel, rate_hz: float, begin: int, end: int, *, crest_up: bool) -> list[Reason]:
    """Steady crests cut off at a range limit.

    Only the crest side counts: a starter that overruns draws nothing, and that floor is real. An inrush alone cut off
    does no harm.
    """
    settled = begin + int(limit.INRUSH_DROP_S.value * rate_hz)
    steady = channel.samples[settled:end]
    sample = steady[:: max(1, steady.size // CLIPPING_SAMPLES)]
    sample = np.sort(sample[np.isfinite(sample)].astype(np.float64))
    if sample.size < 200:
        return []
    sample = sample if crest_up else -sample[::-1]
    top = float(sample[-1])
    swing = float(np.percentile(sample, 99) - np.percentile(sample, 1))
    steps = np.diff(sample)
    step = float(steps[steps > 1e-6 * max(swing, 1e-12)].min(initial=swing))
    at_limit = float(np.mean(sample >= top - 1e-6 * max(swing, 1e-12)))
    band = max(0.02 * swing, 1.5 * step)
    next_band = float(np.mean(sample >= top - band)) - at_limit
    if at_limit > limit.CLIPPED_SHARE_MIN.value and at_limit > limit.CLIPPED_TOP_BIN_RATIO.value * next_band:
        level = top if crest_up else -top
        return [
            Reason(
                "clipped",
                TRACE_CUT_OFF(level=level, unit=channel.unit),
                blocking=True,
            )
        ]
    return []

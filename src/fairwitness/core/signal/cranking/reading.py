"""Reading one trace of a crank: which cycles it holds, what its sync means, and each cylinder's height in every cycle.

Shared by whatever measures compressions from a slow trace; judging the heights is the measurement's business.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.model.capture import Capture, Channel
from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, Engine
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.cranking.compression_pulse import (
    DEG_PER_POINT,
    GRID,
    PulseFit,
    fit_cycle,
    lag_range_deg,
    solve_heights,
)
from fairwitness.core.signal.cranking.cycle_lengths import autocorrelation, interval_said, length_of_equal_humps, peaks
from fairwitness.core.signal.cranking.trace import SlowTrace
from fairwitness.core.signal.sync import (
    Anchor,
    Cycles,
    SyncEvents,
    cycles_by_autocorrelation,
    cycles_from_events,
    find_events,
    sync_channel,
    waste_spark_split,
)

TRACE_DOES_RISE = template(
    "cranking.reading.trace_does_rise", "The trace does not rise and fall with compressions; nothing can be compared."
)
FEWER_THAN_WHOLE = template("cranking.reading.fewer_than_whole", "fewer than {cranking_cycles_min:g} whole cycles")
ONLY_CRANKING_CRANK = template(
    "cranking.reading.only_cranking_crank", "Only {seconds:.1f} s of cranking, {cycles}. Crank for 5 to 10 s."
)
CRANKING_HOLD_REPEAT = template(
    "cranking.reading.cranking_hold_repeat",
    "{seconds:.1f} s of cranking hold {cycles} that repeat: the engine hardly turned.",
)
CHARGE_BATTERY_CHECK = template(
    "cranking.reading.charge_battery_check", "{what} Charge the battery, check the starter."
)
SYNC_GAVE_TOO = template(
    "cranking.reading.sync_gave_too", "The sync gave too few cycles; cylinders are not assigned by it."
)

SYNCED_MIN = limit.CRANKING_CYCLES_SYNCED_MIN.value

FloatArray = NDArray[np.float64]

SPEED_PRIOR_RPM = 200.0
SPEED_PRIOR_SPREAD = 0.35
SECOND_READING_PENALTY = 0.35
ALTERNATIVE_RESIDUAL_RATIO = 1.25
NO_COMPRESSIONS = Reason("no_humps", TRACE_DOES_RISE(), blocking=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """Heights of one channel with the cycles they came from.

    Parameters
    ----------
    per_cycle : (n_cycles, cylinders) float
        Heights in firing-order position, unit of the trace.
    order_offsets : tuple of int
        By how many places of the firing order the heights may be turned; more than one where that is open.
    score : float
        Lower is better: misfit, plausibility of the speed, and of what the sync was taken for.
    """

    channel: Channel
    trace: SlowTrace
    cycles: Cycles
    folded: FloatArray
    fit: PulseFit
    per_cycle: FloatArray
    order_offsets: tuple[int, ...]
    score: float


def read_trace(
    capture: Capture, channel: Channel, trace: SlowTrace, engine: Engine
) -> tuple[Reading | None, tuple[Reason, ...]]:
    """The best reading of one channel over what its sync may mean.

    Parameters
    ----------
    capture : Capture
        Evenly sampled.
    channel : Channel
        Starter current or battery voltage.
    trace : SlowTrace
        Of that channel.
    engine : Engine

    Returns
    -------
    (reading, reasons)
        None with a blocking reason where no cycles are found.
    """
    begin, end = trace.cranking_s
    settled = begin + limit.INRUSH_DROP_S.value
    sync = sync_channel(capture)
    why: tuple[Reason, ...] = ()
    readings: list[Reading] = []
    said_s: float | None = None
    if sync is not None:
        events = find_events(sync, capture.time, engine)
        why = events.reasons
        said_s = interval_said(events, begin, end)
        readings = _synced_readings(channel, trace, engine, events, settled, end)
    if not readings:
        if sync is not None and "sync_silent" not in {r.code for r in why}:
            why += (Reason("sync_useless", SYNC_GAVE_TOO()),)
        readings = _unsynced_readings(channel, trace, engine, (settled, end), said_s)
    if not readings:
        return None, (*why, _too_few(end - begin))
    return min(readings, key=lambda r: r.score), why


def _too_few(seconds: float) -> Reason:
    """Too short a crank, or an engine that hardly turned."""
    cycles = FEWER_THAN_WHOLE(cranking_cycles_min=limit.CRANKING_CYCLES_MIN.value)
    if seconds > limit.CRANKING_ENOUGH_S.value:
        what = CRANKING_HOLD_REPEAT(seconds=seconds, cycles=cycles)
        return Reason("battery_weak", CHARGE_BATTERY_CHECK(what=what), blocking=True)
    what = ONLY_CRANKING_CRANK(seconds=max(seconds, 0.0), cycles=cycles)
    return Reason("too_short", what, blocking=True)


def _synced_readings(
    channel: Channel, trace: SlowTrace, engine: Engine, events: SyncEvents, settled: float, end: float
) -> list[Reading]:
    readings: list[Reading] = []
    if Anchor.REVOLUTION in events.anchors and (split := waste_spark_split(events)) is not None:
        cycles = cycles_from_events(split, Anchor.COMPRESSION, begin_s=settled, end_s=end)
        reported = Cycles(
            starts_s=cycles.starts_s,
            ends_s=cycles.ends_s,
            anchor=cycles.anchor,
            cylinder=cycles.cylinder,
            reasons=cycles.reasons + split.reasons[-1:],
        )
        readings += _fitted(channel, trace, engine, reported, penalty=0.0, fewest=SYNCED_MIN)
        if readings and _plausible(readings[0]):
            return readings
    for place, anchor in enumerate(events.anchors):
        cycles = cycles_from_events(events, anchor, begin_s=settled, end_s=end)
        if cycles.count and float(np.median(cycles.speed_rpm)) > limit.SYNC_NOISE_RPM.value:
            continue
        found = _fitted(channel, trace, engine, cycles, penalty=place * SECOND_READING_PENALTY, fewest=SYNCED_MIN)
        readings += found
        if found and _plausible(found[0]):
            break
    return [r for r in readings if not _may_be_half(r)]


def _may_be_half(reading: Reading) -> bool:
    """Too fast for a starter, too short to have been tried at half the speed: half the cylinders would look dead."""
    too_fast = float(np.median(reading.cycles.speed_rpm)) > limit.CRANKING_RPM_HIGH.value
    return too_fast and reading.cycles.count < 2 * limit.CRANKING_CYCLES_MIN.value


def _plausible(reading: Reading) -> bool:
    speed = float(np.median(reading.cycles.speed_rpm))
    usual = limit.SYNC_TRUSTED_RPM_MIN.value <= speed <= limit.SYNC_TRUSTED_RPM_MAX.value
    return usual and reading.fit.residual < limit.SYNC_TRUSTED_RESIDUAL.value


def _unsynced_readings(
    channel: Channel, trace: SlowTrace, engine: Engine, between_s: tuple[float, float], said_s: float | None
) -> list[Reading]:
    """Readings for each cycle length the trace repeats itself at; none of a length that the sync contradicts."""
    settled, end = between_s
    begin_at = int((settled - trace.first_s) * trace.rate_hz)
    end_at = int((end - trace.first_s) * trace.rate_hz)
    steady = trace.values[max(begin_at, 0) : end_at]
    shortest = int(120 / limit.CRANKING_RPM_SEARCH_MAX.value * trace.rate_hz)
    longest = int(min(120 / limit.CRANKING_RPM_SEARCH_MIN.value * trace.rate_hz, steady.size / 3))
    if longest <= shortest:
        return []
    likeness = autocorrelation(steady, longest)
    lags = peaks(likeness, shortest)
    lags = lags[likeness[lags] > limit.UNSYNCED_LIKENESS_MIN.value]
    if said_s is not None:
        ratios = lags / (said_s * trace.rate_hz)
        lags = lags[np.min(np.abs(ratios[:, None] - [[1.0, 2.0]]), axis=1) <= limit.SYNC_LENGTH_TOLERANCE.value]

    def fitted(lag: float, fewest: int) -> list[Reading]:
        cycle_s = lag / trace.rate_hz
        cycles = cycles_by_autocorrelation(
            trace.values, trace.rate_hz, trace.first_s, cycle_s=cycle_s, begin_s=settled, end_s=end
        )
        return _fitted(channel, trace, engine, cycles, penalty=0.0, fewest=fewest)

    readings: list[Reading] = []
    for lag in lags[np.argsort(-likeness[lags])][:12]:
        found = fitted(lag, int(limit.CRANKING_CYCLES_MIN.value))
        whole = length_of_equal_humps(likeness, int(lag), engine) if engine.is_even else None
        if found and whole is not None and 120 * trace.rate_hz / whole >= limit.CRANKING_RPM_UNUSABLE.value:
            healthy = fitted(whole, int(limit.FOLDED_MIN.value))
            if not healthy or found[0].fit.residual > healthy[0].fit.residual / limit.EQUAL_HUMPS_BETTER.value:
                found = [r for r in healthy if r.cycles.count >= limit.CRANKING_CYCLES_MIN.value]
        readings += found
    return readings


def _fitted(
    channel: Channel,
    trace: SlowTrace,
    engine: Engine,
    cycles: Cycles,
    *,
    penalty: float,
    fewest: float = limit.CRANKING_CYCLES_MIN.value,
) -> list[Reading]:
    if cycles.count < fewest:
        return []
    folded = _fold(trace, cycles)
    average = np.asarray(np.median(folded, axis=0))
    options = _start_options(engine, cycles)
    fits = []
    for start_deg, lags in options:
        turn = round(start_deg / DEG_PER_POINT)
        fits.append((fit_cycle(np.roll(average, turn), engine, lags_deg=lags), turn))
    best = min(fit.residual for fit, _ in fits)
    told_apart = not engine.is_even  # even intervals look the same half a cycle on
    kept = [(f, t) for f, t in fits if not told_apart or f.residual <= ALTERNATIVE_RESIDUAL_RATIO * best + 0.01]
    if engine.cylinders % 2 and len(kept) > 1:
        kept = [min(kept, key=lambda item: item[0].residual)]  # no compression lies half a cycle from another
    fit, turn = min(kept, key=lambda item: item[0].residual)
    per_cycle = solve_heights(np.roll(folded, turn, axis=1), engine, fit)
    order_offsets = _order_offsets(engine, cycles, turn, [t for _, t in kept])
    speed = float(np.median(cycles.speed_rpm))
    score = math.log(max(fit.residual, 0.02)) + penalty
    score += 0.25 * (math.log(speed / SPEED_PRIOR_RPM) / SPEED_PRIOR_SPREAD) ** 2
    return [
        Reading(
            channel=channel,
            trace=trace,
            cycles=cycles,
            folded=np.roll(folded, turn, axis=1),
            fit=fit,
            per_cycle=per_cycle,
            order_offsets=order_offsets,
            score=score,
        )
    ]


def _start_options(engine: Engine, cycles: Cycles) -> list[tuple[float, tuple[float, float]]]:
    """Where in the firing order the cycle may begin, each with the lags to try."""
    known = lag_range_deg(engine)
    own = engine.tdc_deg(cycles.cylinder) if cycles.cylinder is not None else 0.0
    if cycles.anchor is Anchor.COMPRESSION:
        return [(own, known)]
    if cycles.anchor is Anchor.REVOLUTION:
        return [(own, known), ((own + REVOLUTION_DEG) % CYCLE_DEG, known)]
    if engine.is_even:
        return [(0.0, (0.0, CYCLE_DEG / engine.cylinders))]
    step = 24.0
    return [(float(s), (0.0, step)) for s in np.arange(0.0, CYCLE_DEG, step)]


def _order_offsets(engine: Engine, cycles: Cycles, turn: int, order_offsets: list[int]) -> tuple[int, ...]:
    """By how many places of the firing order the heights may be turned."""
    if cycles.anchor is Anchor.COMPRESSION:
        return (0,)
    if cycles.anchor in (Anchor.CYCLE, Anchor.NONE):
        return tuple(range(engine.cylinders))
    per_place = CYCLE_DEG / engine.cylinders
    places = {round((t - turn) * DEG_PER_POINT / per_place) % engine.cylinders for t in order_offsets}
    return tuple(sorted(places))


def _fold(trace: SlowTrace, cycles: Cycles) -> FloatArray:
    """(n_cycles, GRID) float: each cycle divided evenly, slow drift between its ends taken out."""
    share = np.arange(GRID) / GRID
    at = cycles.starts_s[:, None] + (cycles.ends_s - cycles.starts_s)[:, None] * share[None, :]
    folded = np.interp(at, trace.times_s, trace.values)
    drift = np.gradient(folded.mean(axis=1))
    return np.asarray(folded - drift[:, None] * (share[None, :] - 0.5))

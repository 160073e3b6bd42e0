"""One channel of secondary voltage, spark by spark: breakdown, spark line, what rings after it, the dwell before it.

A spark is the one sharp excursion that follows a turn-on of the other sign. Which sign that is depends on pick-up and
coil end, so it is found, not asked.
"""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.capture import SampleArray
from fairwitness.core.signal.conditioning import block_extremes
from fairwitness.core.signal.runs import runs

FloatArray = NDArray[np.float64]
IndexArray = NDArray[np.intp]

BLOCK_S = 25e-6
BIN_S = 20e-6
"""Width of the steps a spark line is read in: shorter than any ringing, longer than sampling noise."""
BEFORE_S, AFTER_S = 9e-3, 5e-3
"""What is looked at round a breakdown: the longest dwell, and the longest spark with its ringing."""
TOGETHER_S = 4e-3
"""Excursions closer than this belong to one spark (restrikes)."""
SOON_SHARE = 0.2
ANSWER_S = 0.5e-3
"""[M] the shortest dwell; what swings the other way sooner is the same oscillation."""
CLUSTER_S = 0.25e-3
BREAKDOWN_OVER = 1.25
"""[M] how far a breakdown stands above what swings the other way round it."""
RESTRIKE_SHARE, RESTRIKE_S = 0.25, 8e-6
"""[M] how far above the line towards the first breakdown, and how long, a new one stands."""
CAPACITIVE_S = 0.12e-3
"""[M] the first part of a discharge is the coil's capacity emptying; the line is read after it."""
CYCLE_LONGEST_S = 0.2
"""A cycle at 600 rpm: at least one spark of a running cylinder falls in it."""
EVENT_SHARE = 0.12
ABOVE_NOISE = 6.0


@dataclass(frozen=True, slots=True, kw_only=True)
class _Spark:
    """What is read of one spark; the same figures as arrays make ``Sparks``."""

    firing_kv: float
    line_kv: float
    duration_ms: float
    rise: float
    roughness: float
    ringing: float
    rings: float
    dwell_ms: float
    step_kv: float
    restrikes: float


NAMES = tuple(f.name for f in fields(_Spark))


@dataclass(frozen=True, slots=True, kw_only=True)
class Sparks:
    """Sparks of one channel, breakdown upwards.

    Parameters
    ----------
    at_s : (n,) float, s
        Moment of each breakdown after the first sample.
    firing_kv : (n,) float
        Height of the breakdown, in the unit of the samples.
    line_kv : (n,) float
        Median of the spark line; 0 where none burns.
    duration_ms : (n,) float
    rise : (n,) float
        By how much the line rises from its begin to its end, as a share of its level.
    roughness : (n,) float
        Standard deviation about that slope, as a share of the level.
    ringing : (n,) float
        Half the swing after the line has ended, as a share of the level.
    rings : (n,) float
        Full oscillations counted there.
    dwell_ms : (n,) float
        NaN where no turn-on is seen.
    step_kv : (n,) float
        Size of the turn-on excursion; NaN where none is seen.
    restrikes : (n,) float
        Further breakdowns while the line burns: the arc was blown out and struck again.
    inverted : bool
        Breakdown points downwards in the samples.
    noise_kv : float
        Half width of the quiet trace.
    """

    at_s: FloatArray
    firing_kv: FloatArray
    line_kv: FloatArray
    duration_ms: FloatArray
    rise: FloatArray
    roughness: FloatArray
    ringing: FloatArray
    rings: FloatArray
    dwell_ms: FloatArray
    step_kv: FloatArray
    restrikes: FloatArray
    inverted: bool
    noise_kv: float

    @property
    def count(self) -> int:
        """How many sparks."""
        return int(self.at_s.size)

    def chosen(self, which: NDArray[np.bool_]) -> Sparks:
        """Some of the sparks."""
        return Sparks(
            at_s=self.at_s[which],
            inverted=self.inverted,
            noise_kv=self.noise_kv,
            **{name: getattr(self, name)[which] for name in NAMES},
        )


def find_sparks(kv: SampleArray, rate_hz: float, *, inverted: bool | None = None) -> Sparks:
    """Find and read the sparks of one channel.

    Parameters
    ----------
    kv : (n,) float
        Secondary voltage of any polarity and offset; NaN where a sample is missing.
    rate_hz : float
    inverted : bool, optional
        Breakdown points downwards; found where left out.

    Returns
    -------
    Sparks
        Empty where nothing stands out of the noise.
    """
    block = max(1, round(BLOCK_S * rate_hz))
    low, high = block_extremes(kv, block)
    known = np.isfinite(low) & np.isfinite(high)
    if np.count_nonzero(known) < 20:
        return _none()
    quiet = float(np.median((low[known] + high[known]) / 2))
    noise = max(float(np.median((high - low)[known])) / 2, 1e-9)
    up = np.where(known, high - quiet, 0.0)
    down = np.where(known, quiet - low, 0.0)
    per_block = block / rate_hz
    inverted = _turned(up, down, per_block) if inverted is None else inverted
    reach = down if inverted else up
    top = _usual_top(reach, per_block)
    level = max(EVENT_SHARE * top, ABOVE_NOISE * noise)
    clusters = _firsts(reach >= level, round(CLUSTER_S / per_block))
    firsts = _breakdowns(clusters, reach, down if reach is up else up, per_block)
    if not firsts.size or top < level:
        return _none(inverted=inverted, noise=noise)
    sign = -1.0 if inverted else 1.0
    peaks = _apart(_peaks(kv, sign, firsts * block, block, rate_hz))
    sparks = [_read(kv, sign, quiet, int(p), rate_hz, noise) for p in peaks]
    table = {name: np.array([getattr(s, name) for s in sparks], dtype=np.float64) for name in NAMES}
    return Sparks(at_s=np.asarray(peaks / rate_hz, dtype=np.float64), inverted=inverted, noise_kv=noise, **table)


def _none(*, inverted: bool = False, noise: float = 0.0) -> Sparks:
    return Sparks(at_s=np.empty(0), inverted=inverted, noise_kv=noise, **{name: np.empty(0) for name in NAMES})


def _usual_top(reach: FloatArray, block_s: float) -> float:
    """Height that about one excursion in the longest cycle reaches: a single stray spike does not set it."""
    window = max(1, round(5e-3 / block_s))
    count = reach.size // window
    if count < 2:
        return float(reach.max(initial=0.0))
    tops = np.sort(reach[: count * window].reshape(count, window).max(axis=1))[::-1]
    rank = max(0, int(reach.size * block_s / CYCLE_LONGEST_S) - 1)
    return float(tops[min(rank, count - 1)])


def _turned(up: FloatArray, down: FloatArray, block_s: float) -> bool:
    """Which way breakdown points: far the larger excursion, else the one that comes after the turn-on."""
    top_up, top_down = _usual_top(up, block_s), _usual_top(down, block_s)
    if max(top_up, top_down) > 2.2 * min(top_up, top_down):
        return top_down > top_up
    level = 0.3 * max(top_up, top_down)
    both = np.maximum(up, down) >= level
    votes = 0
    for first in _firsts(both, round(BEFORE_S / block_s)):
        span = slice(int(first), int(first) + round(BEFORE_S / block_s))
        if up[span].max() < level or down[span].max() < level:
            continue
        upwards = bool(up[first] >= level)
        answer = int(np.argmax((down if upwards else up)[span])) * block_s
        turn_on = answer > ANSWER_S  # breakdown comes a dwell later; a swing back at once is ringing
        votes += 1 if upwards is turn_on else -1
    return votes > 0 if votes else top_down > top_up


def _firsts(above: NDArray[np.bool_], apart: int) -> IndexArray:
    """First block of each group of blocks further apart than ``apart``."""
    where = np.flatnonzero(above)
    if not where.size:
        return where
    kept = [int(where[0])]
    for i in where[np.concatenate(([False], np.diff(where) > 1))]:
        if i - kept[-1] > apart:
            kept.append(int(i))
    return np.array(kept, dtype=np.intp)


def _breakdowns(clusters: IndexArray, reach: FloatArray, against: FloatArray, block_s: float) -> IndexArray:
    """Clusters that are breakdowns, the first of each spark: a turn-on swings the other way first and further."""
    back, on = round(0.15e-3 / block_s), max(2, round(0.4e-3 / block_s))
    kept: list[int] = []
    for first in clusters:
        around = slice(max(0, int(first) - back), int(first) + on)
        if reach[around].max() <= BREAKDOWN_OVER * against[around].max():
            continue
        if not kept or first - kept[-1] > round(TOGETHER_S / block_s):
            kept.append(int(first))
    return np.array(kept, dtype=np.intp)


def _peaks(kv: SampleArray, sign: float, firsts: IndexArray, block: int, rate_hz: float) -> IndexArray:
    reach = max(2 * block, round(80e-6 * rate_hz))
    peaks = []
    for first in firsts:
        begin = max(0, int(first) - 1)
        piece = np.nan_to_num(sign * kv[begin : int(first) + reach], nan=-np.inf)
        peaks.append(begin + int(np.argmax(piece)))
    return np.array(peaks, dtype=np.intp)


def _apart(peaks: IndexArray) -> IndexArray:
    """Leave out what follows a breakdown far sooner than the next one is due: the end of a long spark."""
    gaps = np.diff(peaks)
    if gaps.size < 2:
        return peaks
    usual = float(np.median(gaps[gaps >= 0.25 * gaps.max()]))
    return peaks[np.concatenate(([True], gaps > SOON_SHARE * usual))]


def _read(kv: SampleArray, sign: float, quiet: float, peak: int, rate_hz: float, noise: float) -> _Spark:
    firing = sign * (float(kv[peak]) - quiet)
    width = max(1, round(BIN_S * rate_hz))
    step_s = width / rate_hz
    after = _binned(kv[peak : peak + round(AFTER_S * rate_hz)], width, sign, quiet)
    before = kv[max(0, peak - round(BEFORE_S * rate_hz)) : peak]
    charging = _binned(before[before.size % width :], width, -sign, quiet)
    calm = noise / np.sqrt(width)
    dwell_ms, step_kv = _dwell(charging, step_s, 4 * calm + 0.01 * firing)
    line = _line(after, step_s, firing, calm)
    ringing, rings = _ringing(after, round(line.length_s / step_s), step_s, line.level, calm)
    burning = kv[peak + round(CAPACITIVE_S * rate_hz) : peak + round(line.length_s * rate_hz)]
    return _Spark(
        firing_kv=firing,
        line_kv=line.level,
        duration_ms=1e3 * line.length_s,
        rise=line.rise,
        roughness=line.roughness,
        ringing=ringing,
        rings=rings,
        dwell_ms=dwell_ms,
        step_kv=step_kv,
        restrikes=_restrikes(_binned(burning, 1, sign, quiet), line.level, firing, rate_hz),
    )


def _binned(piece: SampleArray, width: int, sign: float, quiet: float) -> FloatArray:
    count = piece.size // width
    values = piece[: count * width].astype(np.float64).reshape(count, width)
    return np.asarray(sign * (np.nan_to_num(values, nan=quiet).mean(axis=1) - quiet))


def _dwell(charging: FloatArray, step_s: float, floor: float) -> tuple[float, float]:
    """From the turn-on, the largest excursion against the breakdown, to the breakdown."""
    shortest = round(0.3e-3 / step_s)
    if charging.size <= shortest:
        return np.nan, np.nan
    largest = float(charging[: charging.size - shortest].max())
    if largest < floor:
        return np.nan, np.nan
    first = int(np.argmax(charging >= 0.5 * largest))
    return (np.nan if first == 0 else 1e3 * (charging.size - first) * step_s), largest


@dataclass(frozen=True, slots=True)
class _Line:
    """A spark line: level in kV, length, rise over its length and roughness as shares of the level; zeros for none."""

    level: float = 0.0
    length_s: float = 0.0
    rise: float = 0.0
    roughness: float = 0.0


def _line(after: FloatArray, step_s: float, firing: float, calm: float) -> _Line:
    begin, early = round(CAPACITIVE_S / step_s), round(0.26e-3 / step_s)
    head = after[begin:early]
    if head.size < 2:
        return _Line()
    level = float(np.median(head))
    burns = level > max(4 * calm, 0.015 * firing) and float(np.mean(head > 0.4 * level)) >= 0.8
    if not burns or head[-1] < 0.4 * head[0]:  # a decaying swing is not a line
        return _Line()
    under = after[begin:] < 0.5 * level
    ends = np.flatnonzero(under[:-1] & under[1:])
    end = begin + (int(ends[0]) if ends.size else under.size)
    whole = after[begin:end]
    if whole.size < 8:
        return _Line(level, end * step_s)
    level = float(np.median(whole))
    piece = whole[int(0.2 * whole.size) : max(int(0.95 * whole.size), int(0.2 * whole.size) + 4)]
    at = np.arange(piece.size) - (piece.size - 1) / 2
    slope = float((at * piece).sum() / (at**2).sum())
    left = piece - piece.mean() - slope * at
    rough = np.sqrt(max(float(np.mean(left**2)) - (0.6 * calm) ** 2, 0.0))
    return _Line(level, end * step_s, slope * whole.size / level, float(rough / level))


def _restrikes(burning: FloatArray, line: float, firing: float, rate_hz: float) -> float:
    """Breakdowns within the line; a single sample may be interference and is none."""
    if line <= 0 or burning.size < 4:
        return 0.0
    high = np.flatnonzero(burning > line + RESTRIKE_SHARE * max(firing - line, line))
    if not high.size:
        return 0.0
    starts = np.searchsorted(high, runs(high, gap=CLUSTER_S * rate_hz / 2)[0])
    lengths = np.diff(np.append(starts, high.size))
    return float(np.count_nonzero(lengths >= max(2, round(RESTRIKE_S * rate_hz))))


def _ringing(after: FloatArray, end: int, step_s: float, line: float, calm: float) -> tuple[float, float]:
    """Half the swing once the spark has ended, as a share of the line, and full oscillations in it."""
    tail = after[end + 1 : end + 1 + round(1.5e-3 / step_s)]
    if tail.size < 4 or line <= 0:
        return 0.0, 0.0
    swing = float(np.ptp(tail[: round(0.5e-3 / step_s)])) / 2
    margin = max(4 * calm, 0.06 * line)
    sides = np.sign(np.where(np.abs(tail) > margin, tail, 0.0))
    sides = sides[sides != 0]
    crossings = int(np.count_nonzero(np.diff(sides)))
    return max(swing - 2 * calm, 0.0) / line, (crossings + 1) / 2 if crossings else 0.0

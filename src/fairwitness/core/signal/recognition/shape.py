"""The shape of a trace in a few numbers that do not depend on its gain, and its level where the unit means something.

A trace rests somewhere and leaves its rest now and then, mostly to one side: what it does while it is away (how long,
how often, how it climbs and falls) tells a coil from an injector and a spark from a tooth.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.units import UNIT_TO_SI

FloatArray = NDArray[np.float64]
LOOKED_AT = 1 << 18
STRETCHES = 16
FEWEST = 16
USUAL_HZ = 20_000.0
EXTREME_SHARE, EXTREME_LEAST, EXTREME_MOST = 2e-4, 3, 60
"""So many samples from the end stands what is called highest: single spikes are not, rare pulses are."""
REST_BINS = 128
AWAY = 0.3
"""Share of the reach beyond which a trace is away from its rest."""
PULSES_MOST = 80
NAMES = (
    "is_volts", "is_amperes", "is_pressure",
    "rest_log", "reach_log", "rest_negative", "rest_of_reach", "stands_off",
    "other_side", "noise", "at_rest", "away_share", "pulses_per_s", "away_s",
    "gap_spread", "long_gaps", "length_spread", "height_spread",
    "near_top", "half_way", "climb", "fall", "summit", "usual_level", "ends_high", "travel",
)  # fmt: skip
"""Of the columns of ``shape``."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Outline:
    """A trace between its ends, and where it rests.

    Parameters
    ----------
    values : (n,) float
        Finite samples; of a long trace stretches from all over.
    low, high : float
        Single spikes left out unless there is nothing else.
    rest : float
        Where it is most often.
    """

    values: FloatArray
    low: float
    high: float
    rest: float

    @property
    def height(self) -> float:
        """How far it reaches from its rest."""
        return max(self.high - self.rest, self.rest - self.low)

    @property
    def away(self) -> FloatArray:
        """(n,) float: distance from the rest as a share of the height, to the side it reaches further."""
        sign = 1.0 if self.high - self.rest >= self.rest - self.low else -1.0
        return sign * (self.values - self.rest) / self.height

    @property
    def standing(self) -> float:
        """How high it usually stands away from its rest: of a starter current that of turning, not of its inrush."""
        apart = np.abs(self.values - self.rest)
        beyond = apart[apart > 0.1 * self.height]
        return float(np.median(beyond)) if beyond.size else self.height


def outline_of(samples: NDArray[np.floating]) -> Outline | None:
    """The outline of a trace; None for one that stands still or holds too few numbers.

    Parameters
    ----------
    samples : (n,) float
        As written; NaN where a sample is missing.
    """
    values = stretches_of(samples)
    if values.size < FEWEST:
        return None
    low, high = _ends(values)
    return Outline(values=values, low=low, high=high, rest=_rest(values, low, high)) if high > low else None


def shape(outline: Outline, rate_hz: float | None, unit: str | None) -> FloatArray:
    """The numbers of ``NAMES`` for one trace.

    Parameters
    ----------
    outline : Outline
    rate_hz : float or None
        None where nobody knows: as if it were a usual one.
    unit : str or None
        As written; None where the file does not say.

    Returns
    -------
    (k,) float
    """
    low, high, rest, height, away = outline.low, outline.high, outline.rest, outline.height, outline.away
    up = high - rest >= rest - low
    factor, si = UNIT_TO_SI.get(unit or "", (1.0, ""))
    pulses = _pulses(away)
    steps = np.abs(np.diff(away))
    return np.array(
        [
            si == "V", si == "A", si == "Pa",
            _log(abs(rest) * factor) if si else 0.0, _log(height * factor) if si else 0.0, float(rest < 0),
            float(np.clip((rest if up else -rest) / height, -5, 5)), _stands_off(low, high),
            (high - low - height) / height, _log(float(np.median(steps))), float(np.mean(np.abs(away) < 0.05)),
            float(np.mean(away > AWAY)),
            *_rhythm(pulses, rate_hz or USUAL_HZ, away.size),
            *_inside(away, pulses),
            min(float(np.log10(steps.sum() / max(len(pulses), 1) + 1e-3)), 3.0),
        ],
        dtype=np.float64,
    )  # fmt: skip


def pulses_hz(outline: Outline, rate_hz: float) -> float | None:
    """How often a trace leaves its rest; None where it does so less than three times."""
    begins = [b for b, _ in _pulses(outline.away)]
    return rate_hz / float(np.median(np.diff(begins))) if len(begins) >= 3 else None


def _ends(values: FloatArray) -> tuple[float, float]:
    """Lowest and highest, single spikes left out unless there is nothing else."""
    order = np.sort(values)
    few = min(int(np.clip(EXTREME_SHARE * values.size, EXTREME_LEAST, EXTREME_MOST)), (values.size - 1) // 2)
    low, high = float(order[few]), float(order[-1 - few])
    if not high - low > 1e-9 * max(1.0, abs(high), abs(low)):
        low, high = float(order[0]), float(order[-1])
    return low, high


def stretches_of(samples: NDArray[np.floating]) -> FloatArray:
    """The finite samples; of a long trace those of stretches from all over."""
    if samples.size > LOOKED_AT:
        length = LOOKED_AT // STRETCHES
        starts = np.linspace(0, samples.size - length, STRETCHES).astype(int)
        samples = np.concatenate([samples[s : s + length] for s in starts])
    values = np.asarray(samples, dtype=np.float64)
    return values[np.isfinite(values)]


def _stands_off(low: float, high: float) -> float:
    """How near to zero a trace comes: 0 where it does or crosses it, near 1 where it hardly moves beside its level."""
    least, most = sorted((abs(low), abs(high)))
    return least / most if low * high > 0 else 0.0


def _log(value: float) -> float:
    return float(np.log10(max(value, 1e-5)))


def _rest(values: FloatArray, low: float, high: float) -> float:
    """Where the trace is most often."""
    counts, edges = np.histogram(values, REST_BINS, (low, high))
    at = int(np.argmax(np.convolve(counts, (1, 1, 1), "same")))
    inside = values[(values >= edges[max(at - 1, 0)]) & (values <= edges[min(at + 2, REST_BINS)])]
    return float(np.median(inside)) if inside.size else 0.5 * (low + high)


def _pulses(away: FloatArray) -> list[tuple[int, int]]:
    """Stretches away from rest; what is noise about the threshold is one."""
    beyond = away > AWAY
    near = away > 0.5 * AWAY
    edges = np.diff(near.astype(np.int8), prepend=0, append=0)
    begins, ends = np.flatnonzero(edges == 1), np.flatnonzero(edges == -1)
    reached = np.concatenate(([0], np.cumsum(beyond)))
    real = reached[ends] > reached[begins]
    return [(int(b), int(e)) for b, e in zip(begins[real], ends[real], strict=True)]


def _rhythm(pulses: Sequence[tuple[int, int]], rate: float, count: int) -> tuple[float, ...]:
    """Pulses per second and their length (logs), spread of gaps, share of long ones, spread of lengths."""
    if len(pulses) < 2:
        length = float(np.mean([e - b for b, e in pulses])) if pulses else 1.0
        return _log(max(len(pulses), 0.3) * rate / count), _log(length / rate), 0.0, 0.0, 0.0
    begins = np.array([b for b, _ in pulses], dtype=np.float64)
    lengths = np.array([e - b for b, e in pulses], dtype=np.float64)
    gaps = np.diff(begins)
    usual = float(np.median(gaps))
    return (
        _log(rate / usual), _log(float(np.median(lengths)) / rate), _spread(gaps),
        float(np.mean((gaps > 1.5 * usual) & (gaps < 4 * usual))), _spread(lengths),
    )  # fmt: skip


def _spread(values: FloatArray) -> float:
    return float(np.log10(np.percentile(values, 85) / max(float(np.percentile(values, 15)), 1e-9)))


def _inside(away: FloatArray, pulses: Sequence[tuple[int, int]]) -> tuple[float, ...]:
    """What the pulses look like: heights' spread, then medians over them of where the time goes and how it climbs."""
    told = []
    heights = []
    for begin, end in pulses[:: max(1, len(pulses) // PULSES_MOST)]:
        inside = away[begin:end]
        height = float(np.max(inside))
        heights.append(height)
        if end - begin < 3:
            told.append((0.5, 0.5, 0.0, 0.0, 0.5, 1.0, 0.5))
            continue
        level = inside / height
        top = int(np.argmax(level > 0.9))
        last = level.size - 1 - int(np.argmax(level[::-1] > 0.9))
        end_level = float(np.mean(level[-max(2, level.size // 8) : -1]))
        told.append(
            (
                float(np.mean(level > 0.85)),
                float(np.mean((level > 0.4) & (level < 0.75))),
                top / level.size,
                (level.size - 1 - last) / level.size,
                float(np.argmax(level)) / level.size,
                float(np.median(level)),
                end_level,
            )
        )
    if not told:
        return (0.0,) * 8
    middle = np.median(np.array(told), axis=0)
    return (_spread(np.array(heights)), *(float(v) for v in middle))

"""Pulses of injector current: when each begins, how long it lasts, and what it looks like on the average.

An injector is a resistance and an inductance with a needle in it: the current rises exponentially, and dips a little
where the needle lifts, because a moving core takes voltage for itself. A log may last for minutes: the trace is read in
stretches, and only the figures of each pulse are kept.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, fields, replace

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.model.capture import SampleArray
from fairwitness.core.model.engine import InjectorDrive
from fairwitness.core.signal.conditioning import block_means, bridge_gaps, crossings
from fairwitness.core.signal.ignition.primary import fit_rl
from fairwitness.core.signal.robust import sample_noise

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.intp]

WORKING_RATE_HZ = 50_000.0
STRETCH_S = 8.0
OVERLAP_S = 0.06
"""Longer than any injection: a pulse cut by the end of a stretch is whole in the next."""
SURVEYED = 6
"""Stretches that tell levels, polarity and noise of a long trace."""
SHAPES_AVERAGED = 160
SHORTEST_S, SHORTEST_BOOSTED_S = 0.25e-3, 0.12e-3
SPIKE_SAMPLES = 5
BEFORE_S = 0.3e-3
STEP_S = 150e-6
BLANKED_STEPS = 14
"""About 2 ms to either side of a high pulse: its own rise and fall."""
FIRE_SHARE, ARM_SHARE = 0.25, 0.15
"""Of the usual height: where a pulse begins, and where it has ended."""
BUSY_SIGMA = 8.0
EDGES_TELL = 3.0
"""Ratio of the sharpness of falls and rises from which they tell the polarity, unless the current rests at zero."""
AT_ZERO = 0.08
"""[M] of the height of pulses: a zeroed clamp rests below this. Eddy currents make a rise as sharp as a fall."""
LATE_FROM_S, LATE_TO_S, LATE_TOLERANCE_S = -20e-6, 160e-6, 0.5e-6
REST_SHARE = 0.08
"""Of the highest pulses: what lower ones must still reach to be pulses, where one injector draws far more."""
OFF_SHARE = 0.88
"""Of the held current: the last moment above it is the switch-off."""
HOLD_FROM = 0.7
"""Part of the on-time from which the current is the hold current."""


@dataclass(frozen=True, kw_only=True, eq=False)
class Trace:
    """A current trace that can be read piece by piece, upright and without spikes.

    Parameters
    ----------
    samples : (n,) float
        As recorded; never copied as a whole.
    block : int
        Samples averaged into one.
    rate_hz : float
        After averaging.
    sign : float
        -1 where the clamp was on backwards.
    top, noise_a : float, A
        Height most pulses reach, and standard deviation of a sample.
    """

    samples: SampleArray
    block: int
    rate_hz: float
    sign: float
    top: float
    noise_a: float

    @property
    def count(self) -> int:
        """Samples after averaging."""
        return int(self.samples.size // self.block)

    def piece(self, first: int, last: int) -> tuple[FloatArray, int]:
        """Current from one sample to before another, its quiet level at zero, and the spikes taken out."""
        raw = _averaged(self.samples, self.block, first, last)
        cleaned = scipy.ndimage.median_filter(raw, size=SPIKE_SAMPLES, mode="nearest")
        spikes = int(np.count_nonzero(np.abs(raw - cleaned) > max(10 * self.noise_a, 0.1 * self.top)))
        upright = self.sign * cleaned
        return np.asarray(upright - _quiet(upright, self.noise_a)), spikes

    def stretches(self) -> Iterator[tuple[int, int, int]]:
        """First sample, last sample, and where the next stretch begins."""
        length, overlap = round(STRETCH_S * self.rate_hz), round(OVERLAP_S * self.rate_hz)
        for first in range(0, max(1, self.count - overlap), length):
            yield first, min(self.count, first + length + overlap), first + length


@dataclass(frozen=True, kw_only=True, eq=False)
class Pulses:
    """Pulses of one trace in time order, with the trace they are in.

    Parameters
    ----------
    begin_s, on_ms : (n,) float
    peak_a, hold_a, charge_mc : (n,) float
        Highest current of each, current of its last part, and its integral in milliampere seconds.
    trace : Trace
    spikes : int
        Interference spikes taken out.
    """

    begin_s: FloatArray
    on_ms: FloatArray
    peak_a: FloatArray
    hold_a: FloatArray
    charge_mc: FloatArray
    trace: Trace
    spikes: int

    @property
    def count(self) -> int:
        """How many pulses."""
        return int(self.begin_s.size)

    @property
    def rate_hz(self) -> float:
        """Of the trace as read."""
        return self.trace.rate_hz

    @property
    def noise_a(self) -> float:
        """Standard deviation of a sample."""
        return self.trace.noise_a

    @property
    def inverted(self) -> bool:
        """The clamp was on backwards."""
        return self.trace.sign < 0

    def chosen(self, which: NDArray[np.bool_]) -> Pulses:
        """Some of the pulses, (n,) bool."""
        if which.all():
            return self
        names = [f.name for f in fields(_Pulse)]
        return replace(self, **{name: getattr(self, name)[which] for name in names})

    def mean_shape(self, which: NDArray[np.bool_]) -> FloatArray:
        """Median course of some pulses from their begin over the shortest usual on-time among them, A.

        Parameters
        ----------
        which : (n,) bool
            Of many, an evenly spread part is taken.
        """
        chosen = np.flatnonzero(which)
        if not chosen.size:
            return np.empty(0)
        chosen = chosen[np.unique(np.linspace(0, chosen.size - 1, SHAPES_AVERAGED).astype(np.intp))]
        length = round(float(np.percentile(self.on_ms[chosen], 10)) / 1000 * self.rate_hz)
        lead = round(OVERLAP_S / 4 * self.rate_hz)
        rows = []
        for i in chosen:
            begin = round(float(self.begin_s[i]) * self.rate_hz)
            if begin + length <= self.trace.count:
                around, _ = self.trace.piece(max(0, begin - lead), min(self.trace.count, begin + length + lead))
                rows.append(around[min(begin, lead) : min(begin, lead) + length])
        whole = [row for row in rows if row.size == length]
        return np.median(np.array(whole), axis=0) if whole and length else np.empty(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Pulse:
    """What is read of one pulse; the same figures as arrays make ``Pulses``."""

    begin_s: float
    on_ms: float
    peak_a: float
    hold_a: float
    charge_mc: float


def find_pulses(amps: SampleArray, rate_hz: float, *, drive: InjectorDrive = InjectorDrive.SATURATED) -> Pulses:
    """Find the pulses of an injector current.

    Parameters
    ----------
    amps : (n,) float
        Any unit, polarity and offset; NaN where a sample is missing.
    rate_hz : float
    drive : InjectorDrive
        Of a saturated drive the current falls faster than it rises, which tells the polarity of a busy feed.

    Returns
    -------
    Pulses
        Empty where nothing stands out of the noise.
    """
    trace = _survey(amps, rate_hz, drive)
    rows: list[_Pulse] = []
    spikes = 0
    if trace.top >= max(8 * trace.noise_a, limit.INJECTOR_CURRENT_MIN_A.value) and trace.count >= 50:
        shortest = SHORTEST_BOOSTED_S if drive is InjectorDrive.BOOSTED else SHORTEST_S
        for first, last, begins_before in trace.stretches():
            upright, found = trace.piece(first, last)
            spikes += found
            rows += _read_stretch(upright, first, begins_before, trace, shortest)
    columns = {f.name: np.array([getattr(pulse, f.name) for pulse in rows], np.float64) for f in fields(_Pulse)}
    return Pulses(trace=trace, spikes=spikes, **columns)


def _survey(amps: SampleArray, rate_hz: float, drive: InjectorDrive) -> Trace:
    """Polarity, usual height and noise, from a few stretches spread over the trace."""
    block = max(1, int(rate_hz // WORKING_RATE_HZ))
    rate, count = rate_hz / block, amps.size // block
    length = min(count, round(STRETCH_S * rate))
    firsts = np.unique(np.linspace(0, count - length, SURVEYED).astype(np.intp)) if count > length else np.array([0])
    rows = []
    for first in firsts:
        values = _averaged(amps, block, int(first), int(first) + length)
        if values.size >= 3:
            rows.append(_levels(values, max(1, round(STEP_S * rate))))
    if not rows:
        return Trace(samples=amps, block=block, rate_hz=rate, sign=1.0, top=0.0, noise_a=1e-9)
    usual = _Levels(**{f.name: float(np.median([getattr(r, f.name) for r in rows])) for f in fields(_Levels)})
    noise, up, down = usual.noise, usual.up, usual.down
    edges = (usual.fall, usual.rise)
    at_zero = abs(usual.middle) < AT_ZERO * max(up, down)  # it rests there: where it goes from it is up
    edges_tell = drive is InjectorDrive.SATURATED and max(edges) > EDGES_TELL * min(edges) and not at_zero
    upright = usual.fall >= usual.rise if edges_tell else up >= down
    top = up + down if min(up, down) > BUSY_SIGMA * noise else max(up, down)
    rest = usual.rest_up if upright else usual.rest_down
    if REST_SHARE * top < rest < FIRE_SHARE * top and rest > BUSY_SIGMA * noise:
        top = rest  # one injector draws so much that the others would not be seen beside it
    return Trace(samples=amps, block=block, rate_hz=rate, sign=1.0 if upright else -1.0, top=top, noise_a=noise)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Levels:
    """How a stretch of current moves: its noise, its median, how far it reaches above and below that, the same with the
    highest pulses left out (``rest``), and how sharply it falls and rises.

    Sharpness is a third moment: of all changes the steep ones count.
    """

    noise: float
    middle: float
    up: float
    down: float
    rest_up: float
    rest_down: float
    fall: float
    rise: float


def _levels(values: FloatArray, step: int) -> _Levels:
    cleaned = scipy.ndimage.median_filter(values, size=SPIKE_SAMPLES, mode="nearest")
    noise = sample_noise(values) + 1e-9
    middle = float(np.median(cleaned))
    low, high = np.percentile(cleaned, (0.5, 99.5))
    change = cleaned[step:] - cleaned[:-step] if cleaned.size > step else np.zeros(1)
    fall, rise = (float(np.mean(np.clip(way, 0.0, None) ** 3)) for way in (-change, change))
    up, down = float(high) - middle, middle - float(low)
    return _Levels(
        noise=noise,
        middle=middle,
        up=up,
        down=down,
        rest_up=_beside(cleaned - middle, FIRE_SHARE * up, step),
        rest_down=_beside(middle - cleaned, FIRE_SHARE * down, step),
        fall=fall,
        rise=rise,
    )


def _beside(reach: FloatArray, level: float, step: int) -> float:
    """Height usually reached away from what stands above a level."""
    blanked = scipy.ndimage.maximum_filter1d((reach >= level).astype(np.int8), 2 * BLANKED_STEPS * step + 1)
    left = reach[blanked == 0]
    return float(np.percentile(left, 99.5)) if left.size > reach.size // 10 else 0.0


def _averaged(samples: SampleArray, block: int, first: int, last: int) -> FloatArray:
    values = block_means(samples[first * block : last * block], block)
    return bridge_gaps(values) if np.isfinite(values).any() else np.zeros(values.size)


def _quiet(upright: FloatArray, noise: float) -> float:
    """Level without current: the median, or the floor where currents overlap so much that the median is none."""
    if not upright.size:
        return 0.0
    low, middle = np.percentile(upright, (3, 50))
    return float(low if middle - low > BUSY_SIGMA * noise else middle)


def _read_stretch(
    upright: FloatArray, offset: int, begins_before: int, trace: Trace, shortest_s: float
) -> list[_Pulse]:
    """Figures of each pulse that begins in a stretch and ends in it or in its overlap."""
    rate, top = trace.rate_hz, trace.top
    rises, falls = crossings(upright, arm=ARM_SHARE * top, fire=FIRE_SHARE * top)
    real = (falls - rises >= shortest_s * rate) & (rises > 0) & (falls < upright.size)
    floor = max(3 * trace.noise_a, 0.04 * top)
    rows = []
    for rise, fall in zip(rises[real], falls[real], strict=True):
        begin = _begin(upright, int(rise), rate, floor)
        if offset + rise >= begins_before:
            break  # whole in the next stretch
        part = _until_off(upright[begin:fall])
        hold = part[int(HOLD_FROM * part.size) :]
        rows.append(
            _Pulse(
                begin_s=(offset + begin) / rate,
                on_ms=1e3 * part.size / rate,
                peak_a=_ranked(part, 0.97),
                hold_a=_ranked(hold, 0.5),
                charge_mc=float(1e3 * part.sum() / rate),
            )
        )
    return rows


def _ranked(values: FloatArray, share: float) -> float:
    """The value that a share of the others does not exceed; many short pieces are ranked, so without ceremony."""
    at = min(values.size - 1, int(share * values.size))
    return float(np.partition(values, at)[at])


def _until_off(part: FloatArray) -> FloatArray:
    """A pulse up to its switch-off: what follows is the field collapsing."""
    held = _ranked(part[int(0.5 * part.size) : int(0.85 * part.size) + 1], 0.5)
    return part[: int(np.flatnonzero(part >= OFF_SHARE * held)[-1]) + 1]


def _begin(upright: FloatArray, at: int, rate: float, floor: float) -> int:
    """Where the current leaves the quiet level before it was found."""
    back = upright[max(0, at - round(BEFORE_S * rate)) : at]
    low = np.flatnonzero(back < floor)
    return at - back.size + int(low[-1]) + 1 if low.size else at


def fit_rise(shape: FloatArray, rate_hz: float) -> tuple[float, float, float]:
    """Plateau, time constant and true begin of an average pulse.

    A pulse is found a little late, when its current has left the noise; the begin is fitted with the rise.

    Parameters
    ----------
    shape : (n,) float, A
        From where it was found; n at least 8.
    rate_hz : float

    Returns
    -------
    (final_a, tau_s, late_s) : float, float, float
        V/R, L/R, and how late the pulse was found.
    """

    def misfit(late: float) -> tuple[float, float, float]:
        seconds = np.asarray((np.arange(shape.size) + 0.5) / rate_hz + late, dtype=np.float64)
        final, tau = fit_rl(seconds, shape)
        return float(((shape - final * -np.expm1(-seconds / tau)) ** 2).sum()), final, tau

    best = scipy.optimize.minimize_scalar(
        lambda late: misfit(late)[0],
        bounds=(LATE_FROM_S, LATE_TO_S), method="bounded", options={"xatol": LATE_TOLERANCE_S},
    )  # fmt: skip
    late = float(best.x)
    _, final, tau = misfit(late)
    return final, tau, late

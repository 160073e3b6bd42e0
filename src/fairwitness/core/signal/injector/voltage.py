"""The control side of an injector: when it is pulled to earth, what it rests at, and what happens when it is let go."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.model.capture import SampleArray
from fairwitness.core.signal.conditioning import bridge_gaps, crossings
from fairwitness.core.signal.robust import robust_sigma

FloatArray = NDArray[np.float64]

LEVEL_SAMPLES = 200_000
"""So many samples, evenly taken, tell the levels of a trace however long."""
LOW_PERCENT, SHUT_PERCENT = 0.25, 92.0
"""Percentiles that lie on earth and on rest: an injector is on for 1 % of the time and more, kicks are shorter yet."""
NOISE_SIGMA = 6.0
SMOOTH_S = 0.25e-3
"""A small pull in a noisy trace is looked for again after so much smoothing."""
BIN_V = 0.25
CEILING_V, CEILING_SHARE = 3.0, 0.002
"""[M] a highest value this close to rest, and met this often, is the range and no kick."""
SHORTEST_S, LONGEST_S = 0.1e-3, 60e-3
PULLED_SHARE = 0.5
"""Between rest and earth: below it the injector is on."""
PULL_MIN_V = 1.2
"""[M] a pull smaller than this is noise on a dead wire."""
KICK_S = 1.5e-3
DECAY_FROM_S, DECAY_TO_S = 0.35e-3, 2.6e-3
BUMP_S = 0.2e-3
"""[M] about how long a closing needle shows."""
LOOKED_AT = 400


@dataclass(frozen=True, kw_only=True, eq=False)
class Openings:
    """What the control side of one injector does.

    Parameters
    ----------
    rest_v, low_v : float, V
        Level while shut, and while on; ``low_v`` is NaN where it is never pulled down.
    off_s, on_ms : (n,) float
        Switch-off and on-time of each opening.
    kick_v : (n,) float, V
        Above rest, after each of up to 400 openings.
    decay_v : (n,) float, V
        Median course above rest after switch-off, from DECAY_FROM_S to DECAY_TO_S; empty where there is none.
    capped : bool
        The range ends so close above rest that no kick could be seen.
    """

    rest_v: float
    low_v: float
    off_s: FloatArray
    on_ms: FloatArray
    kick_v: FloatArray
    decay_v: FloatArray
    capped: bool

    @property
    def count(self) -> int:
        """How many openings."""
        return int(self.off_s.size)


def find_openings(volts: SampleArray, rate_hz: float) -> Openings:
    """Read the control side of an injector.

    Parameters
    ----------
    volts : (n,) float, V
        Earth at 0; NaN where a sample is missing.
    rate_hz : float

    Returns
    -------
    Openings
    """
    known, none = _some(volts), np.empty(0)
    if known.size < 50:
        return Openings(rest_v=np.nan, low_v=np.nan, off_s=none, on_ms=none, kick_v=none, decay_v=none, capped=False)
    rest, low = _levels(known)
    if not rest - low > PULL_MIN_V:
        smooth = max(1, round(SMOOTH_S * rate_hz))
        volts = scipy.ndimage.uniform_filter1d(bridge_gaps(np.asarray(volts, dtype=np.float64)), smooth)
        known = _some(volts)
        rest, low = _levels(known)
    if not rest - low > PULL_MIN_V:
        return Openings(rest_v=rest, low_v=np.nan, off_s=none, on_ms=none, kick_v=none, decay_v=none, capped=False)
    middle = low + PULLED_SHARE * (rest - low)
    swing = 0.2 * (rest - low)
    downs, ups = crossings(-volts, arm=-(middle + swing), fire=-middle)
    lasts = ups - downs
    real = (lasts >= SHORTEST_S * rate_hz) & (lasts <= LONGEST_S * rate_hz) & (downs > 0) & (ups < volts.size)
    downs, ups = downs[real], ups[real]
    chosen = np.unique(np.linspace(0, ups.size - 1, LOOKED_AT).astype(np.intp)) if ups.size else np.empty(0, np.intp)
    kicks = np.array([_kick(volts, int(ups[i]), rate_hz, rest) for i in chosen])
    return Openings(
        rest_v=rest,
        low_v=low,
        off_s=np.asarray(ups / rate_hz, dtype=np.float64),
        on_ms=np.asarray(1e3 * (ups - downs) / rate_hz, dtype=np.float64),
        kick_v=kicks,
        decay_v=_decay(volts, ups[chosen], rate_hz, rest),
        capped=_capped(known, rest),
    )


def _some(volts: SampleArray) -> FloatArray:
    some = volts[:: max(1, volts.size // LEVEL_SAMPLES)]
    return np.asarray(some[np.isfinite(some)], dtype=np.float64)


def _levels(known: FloatArray) -> tuple[float, float]:
    """Rest and earth, the same twice where nothing moves. Kicks and decays are passed through, levels are stayed at."""
    lowest, shut = np.percentile(known, (LOW_PERCENT, SHUT_PERCENT))
    middle = 0.5 * (lowest + shut)
    above, below = known[known > middle], known[known <= middle]
    if not below.size or not above.size:
        return float(shut), float(shut)
    rest, earth = float(np.median(above)), float(np.median(below))
    noise = robust_sigma(above)
    return (rest, earth) if rest - earth > max(PULL_MIN_V, NOISE_SIGMA * noise) else (float(np.median(known)),) * 2


def _capped(known: FloatArray, rest: float) -> bool:
    """Whether the trace lies at its own highest value again and again: the range cuts it there."""
    highest = float(known.max())
    return highest - rest < CEILING_V and float(np.mean(known > highest - BIN_V)) > CEILING_SHARE


def _kick(volts: SampleArray, off: int, rate_hz: float, rest: float) -> float:
    after = volts[off : off + round(KICK_S * rate_hz)]
    return float(np.nanmax(after)) - rest if after.size and np.isfinite(after).any() else 0.0


def _decay(volts: SampleArray, offs: NDArray[np.intp], rate_hz: float, rest: float) -> FloatArray:
    first, last = round(DECAY_FROM_S * rate_hz), round(DECAY_TO_S * rate_hz)
    rows = [volts[o + first : o + last] for o in offs if o + last <= volts.size]
    if last - first < 24 or not rows:
        return np.empty(0)
    middle = np.nanmean(np.array(rows, dtype=np.float64), axis=0)
    return np.asarray(scipy.ndimage.uniform_filter1d(middle - rest, max(1, round(BUMP_S * rate_hz))))


def bump_apart(decays: Sequence[FloatArray], own: int) -> tuple[float, float]:
    """How far one decay leaves the others where their needles fall shut.

    Parameters
    ----------
    decays : sequence of (n,) float, V
        At least three, equally long.
    own : int

    Returns
    -------
    (apart_v, usual_v) : float, float
        Largest swing of its difference from the others' middle, and the usual swing of the others among themselves.
    """

    def swing(i: int, beside: list[int]) -> float:
        scale = float(np.median([decays[j][0] for j in beside])) / max(float(decays[i][0]), 1e-9)
        apart = decays[i] * min(max(scale, 0.5), 2.0) - np.median([decays[j] for j in beside], axis=0)
        return float(apart.max() - apart.min())

    others = [j for j in range(len(decays)) if j != own]
    usual = float(np.median([swing(j, [k for k in others if k != j]) for j in others]))
    return swing(own, others), usual

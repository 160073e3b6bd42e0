"""The needle that lifts: the pattern it leaves in a pulse of current, beside what most injectors show."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.signal.injector.current import fit_rise

NEEDLE_S = 0.2e-3
"""[M] about how long a lifting needle shows."""


NEEDLE_REACH_S = 0.4e-3


FloatArray = NDArray[np.float64]
NEEDLE_FROM, NEEDLE_TO = 0.15, 0.85
"""Part of the on-time in which the needle may lift."""
SHAPE_MIN = 24


def unexplained(shape: FloatArray, rate_hz: float) -> FloatArray:
    """What a plain rise leaves unexplained of an average pulse, as a share of its final current.

    Parameters
    ----------
    shape : (n,) float, A
        From its begin; n at least 24.
    rate_hz : float

    Returns
    -------
    (m,) float
        Over the part of the on-time in which a needle may lift: negative where it does.
    """
    final, tau, late = fit_rise(shape, rate_hz)
    seconds = np.asarray((np.arange(shape.size) + 0.5) / rate_hz + late, dtype=np.float64)
    left = scipy.ndimage.uniform_filter1d(shape - final * -np.expm1(-seconds / tau), max(3, round(NEEDLE_S * rate_hz)))
    part = left[int(NEEDLE_FROM * shape.size) : int(NEEDLE_TO * shape.size)]
    return np.asarray(part / max(float(shape[-max(1, shape.size // 8) :].mean()), 1e-9))


@dataclass(frozen=True, slots=True, kw_only=True)
class Needles:
    """How the needles of several injectors lift.

    Parameters
    ----------
    usual_dip : float
        Depth of the usual dip, as a share of the final current.
    usual_ms : float
        When it is deepest, after switch-on.
    shares : dict of int to float
        Each injector's dip beside the usual one: 1 alike, 0 none.
    sigmas : dict of int to float
        What noise makes of each share.
    """

    usual_dip: float
    usual_ms: float
    shares: dict[int, float]
    sigmas: dict[int, float]


def _level_ends(part: FloatArray) -> FloatArray:
    """A stretch with the straight line through its ends taken off."""
    edge = max(1, part.size // 8)
    first, last = float(part[:edge].mean()), float(part[-edge:].mean())
    return np.asarray(part - np.linspace(first, last, part.size))


def needles(shapes: Mapping[int, FloatArray], rate_hz: float, noises: Mapping[int, float]) -> Needles:
    """Compare the dips of lifting needles: each pulse against the pattern that most of them show.

    Parameters
    ----------
    shapes : mapping of injector to (n,) float, A
        Average pulses.
    rate_hz : float
    noises : mapping of injector to float
        Standard deviation of a sample of the average pulse, as a share of its current.

    Returns
    -------
    Needles
        Without shares where there is no pattern.
    """
    size = min((s.size for s in shapes.values()), default=0)
    if size < SHAPE_MIN:
        return Needles(usual_dip=0.0, usual_ms=float("nan"), shares={}, sigmas={})
    left = {c: unexplained(s[:size], rate_hz) for c, s in shapes.items()}
    usual = np.median(np.array(list(left.values())), axis=0)
    deepest = int(np.argmin(usual))
    at = 1e3 * (int(NEEDLE_FROM * size) + deepest + 0.5) / rate_hz
    # Only the dip itself: a slow misfit that all pulses share says nothing of needles.
    reach = round(NEEDLE_REACH_S * rate_hz)
    window = slice(max(0, deepest - reach), deepest + reach + 1)
    pattern = _level_ends(usual[window])
    left = {c: _level_ends(own[window]) for c, own in left.items()}
    power = float((pattern**2).sum())
    if power <= 0:
        return Needles(usual_dip=0.0, usual_ms=at, shares={}, sigmas={})
    return Needles(
        usual_dip=float(-pattern.min()),
        usual_ms=at,
        shares={c: float(own @ pattern) / power for c, own in left.items()},
        sigmas={c: noises[c] / float(np.sqrt(power)) for c in left},
    )

"""A capture judged beside known good ones of the same engine, with their own spread.

From what was measured of both; what lies outside goes to whoever looks at the trace. It accuses nobody by itself:
cylinders are compared with their peers first, and another day or another lead moves all of them together.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.messages.message import Message
from fairwitness.core.model.measurement import Measured

LEAST_SPREAD = 0.025
"""[M] no figure is read more finely than this share of itself."""
OUTSIDE_SIGMAS = 3.0


@dataclass(frozen=True, slots=True)
class FigureName:
    """A figure that can be held up to a known good one.

    Parameters
    ----------
    words : Message
    unit : str
    day : float
        [M] how far it moves from one vehicle of a kind, one day and one instrument to the next: one sigma, as a share
        of itself; of angles in degrees.
    """

    words: Message
    unit: str
    day: float


def _named(id: str, english: str, unit: str, day: float) -> FigureName:
    return FigureName(phrase(f"known_good.{id}", english), unit, day)


FIGURES: Mapping[str, FigureName] = {
    "firing_kv": _named("firing_kv", "firing voltage", "kV", 0.15),
    "line_kv": _named("line_kv", "spark line", "kV", 0.15),
    "duration_ms": _named("duration_ms", "spark duration", "ms", 0.12),
    "dwell_ms": _named("dwell_ms", "dwell", "ms", 0.1),
    "peak_a": _named("peak_a", "peak current", "A", 0.08),
    "level_a": _named("level_a", "settled current", "A", 0.05),
    "on_ms": _named("on_ms", "on-time", "ms", 0.2),
    "tau_ms": _named("tau_ms", "time constant of the rise", "ms", 0.1),
    "kick_v": _named("kick_v", "inductive kick", "V", 0.05),
    "low_v": _named("low_v", "voltage while pulled low", "V", 0.2),
    "peak_bar": _named("peak_bar", "peak of compression", "bar", 0.07),
    "intake_closes_deg": _named("intake_closes_deg", "intake closes", "°", 4.0),
    "exhaust_opens_deg": _named("exhaust_opens_deg", "exhaust opens", "°", 4.0),
}
"""Figures of a capture that mean the same on another day; counts and helpers of a measurement are none."""
ANGLES = (FIGURES["intake_closes_deg"], FIGURES["exhaust_opens_deg"])
SHARE = _named("share", "share of its peers", "%", 0.0)
SHARES = ("relative_compression", "crank_speed", "exhaust_pulse")
"""Tests whose finding is a share of the peers: it needs no calibration, and no day moves it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BesideGood:
    """One figure beside what known good captures read.

    Parameters
    ----------
    test : str
    figure : FigureName
    here : mapping of cylinder to float
    usual : float
        Middle of the known good readings.
    spread : float
        One sigma of their cylinders among each other: what a single cylinder is judged by, day and lead cancelled.
    level_spread : float
        One sigma of the middle of another vehicle, another day, another lead.
    captures : int
        How many known good ones.
    level : str
        ``high`` or ``low`` where all cylinders together lie outside; empty where they do not.
    high, low : tuple of int
        Cylinders that lie outside among their peers.
    """

    test: str
    figure: FigureName
    here: Mapping[int, float]
    usual: float
    spread: float
    level_spread: float
    captures: int
    level: str
    high: tuple[int, ...]
    low: tuple[int, ...]


def judged_beside(measured: Sequence[Measured], good: Sequence[Measured]) -> tuple[BesideGood, ...]:
    """Hold what was measured of one capture up to known good ones.

    Parameters
    ----------
    measured : sequence of Measured
        Of one capture.
    good : sequence of Measured
        Of captures that show how this engine ought to look.

    Returns
    -------
    tuple of BesideGood
        Figures that both have; empty where they share none.
    """
    told = []
    for one in measured:
        own = _readings(one)
        theirs = [_readings(other) for other in good if other.test == one.test and other.usable]
        for name, here in own.items():
            held = [list(reading[name].values()) for reading in theirs if reading.get(name)]
            if one.usable and held:
                told.append(_beside(one.test, name, here, held))
    return tuple(told)


def _readings(measured: Measured) -> dict[str, dict[int, float]]:
    """Figures by name, then by cylinder."""
    found: dict[str, dict[int, float]] = {}
    for cylinder, figures in measured.figures.items():
        for name in FIGURES:
            if name in figures and np.isfinite(figures[name]):
                found.setdefault(name, {})[cylinder] = float(figures[name])
    if measured.test in SHARES:
        shares = {
            f.cylinder: 100.0 * f.value
            for f in measured.findings
            if f.cylinder is not None and f.value is not None and not f.is_remark
        }
        if shares:
            found["share"] = shares
    return found


def _beside(test: str, name: str, here: Mapping[int, float], held: Sequence[Sequence[float]]) -> BesideGood:
    figure = FIGURES.get(name, SHARE)
    usual = float(np.median([np.median(one) for one in held]))
    # Each capture about its own middle: what is left is how far cylinders of a sound engine differ.
    among = np.concatenate([np.asarray(one) - np.median(one) for one in held])
    within = float(scipy.stats.median_abs_deviation(among, scale="normal")) if among.size > 2 else 0.0
    day = figure.day if figure in ANGLES else figure.day * abs(usual)
    spread = max(within, LEAST_SPREAD * abs(usual), day if figure in ANGLES else 0.0)
    level_spread = float(np.hypot(spread, day * np.sqrt(1 + 1 / len(held))))
    middle = _middle(np.array(list(here.values())), usual, OUTSIDE_SIGMAS * spread)
    moved = middle - usual
    level = "" if abs(moved) <= OUTSIDE_SIGMAS * level_spread else "high" if moved > 0 else "low"
    apart = {c: value - middle for c, value in here.items()}
    return BesideGood(
        test=test,
        figure=figure,
        here=dict(here),
        usual=usual,
        spread=spread,
        level_spread=level_spread,
        captures=len(held),
        level=level,
        high=tuple(sorted(c for c, d in apart.items() if d > OUTSIDE_SIGMAS * spread)),
        low=tuple(sorted(c for c, d in apart.items() if d < -OUTSIDE_SIGMAS * spread)),
    )


def _middle(values: NDArray[np.float64], usual: float, far: float) -> float:
    """Middle of the cylinders; where half of them are ill it lies between two groups, and the usual one counts."""
    middle = float(np.median(values))
    if values.max() - middle <= far or middle - values.min() <= far:
        return middle
    nearest = values[np.argsort(abs(values - usual), kind="stable")[: (values.size + 1) // 2]]
    return float(np.median(nearest))

"""Remarks on a long log of injector current: the moment one fails for good, and what heat does to the currents.

From the trains of pulses and their figures; the remarks go to the measurement.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.message import Message
from fairwitness.core.model.capture import CaptureTest
from fairwitness.core.model.copper import copper_temperature
from fairwitness.core.model.measurement import Finding, Origin, State
from fairwitness.core.procedures.injector_current.words import (
    ALL_CURRENTS_FALL,
    CURRENT_CYLINDER_FALLS,
    CYLINDER_FIRST_INJECTION,
    MIN,
    RESISTANCE_GROWS,
    SECONDS,
    VOLTAGE_FALLS,
)
from fairwitness.core.signal.injector.assignment import Assigned
from fairwitness.core.signal.injector.trend import Presence, drift

Figures = Mapping[str, float]
TEST = CaptureTest.INJECTOR_CURRENT.value
NEAR = 0.06
"""[M] injectors within this share of the median are the peers whose mean is the usual value."""
MISSING_SHARE = 0.8
"""[M] an injector that misses more of its pulses than this shows none."""


def clock(seconds: float) -> Message:
    """A moment of a log in minutes and seconds."""
    minutes, rest = divmod(seconds, 60.0)
    return MIN(minutes=int(minutes), rest=rest) if minutes else SECONDS(rest=rest)


def warming(
    assigned: Assigned,
    figures: Mapping[int, Figures],
    came: Mapping[int, Presence],
    level: Mapping[int, float],
    origin: Origin,
) -> tuple[Finding, ...]:
    """Remarks on a long log: the moment of failure as a number, and what heat did to the currents.

    Parameters
    ----------
    assigned : Assigned
    figures : mapping of cylinder to figures
    came : mapping of cylinder to Presence
        Which pulses came.
    level : mapping of cylinder to float, A
        Of each cylinder's peers.
    origin : Origin

    Returns
    -------
    tuple of Finding
        Remarks, which accuse nobody.
    """
    found = []
    common = _common_trend(assigned, figures, level)
    for c, train in assigned.trains.items():
        lost = came[c].lost_at
        if lost is not None:
            at = assigned.starts_s[min(lost, len(assigned.starts_s) - 1)]
            found.append(_remark(c, "lost_at", at, "s", CYLINDER_FIRST_INJECTION(c=c, clock=clock(at)), origin))
        change = drift(train, common)
        if change is not None and change < -limit.INJECTOR_DRIFT.value:
            text = CURRENT_CYLINDER_FALLS(c=c, value=-100 * change)
            found.append(_remark(c, "current_drift", round(change, 4), "1", RESISTANCE_GROWS(text=text), origin))
    levels = [common[k] for k in sorted(common)]
    if len(levels) >= 600:
        tenth = len(levels) // 10
        ratio = float(np.median(levels[:tenth])) / max(float(np.median(levels[-tenth:])), 1e-9)
        kelvin = copper_temperature(ratio, 1.0, at_c=20.0) - 20.0
        if kelvin > limit.WARMING_TOLD_K.value:
            text = ALL_CURRENTS_FALL(ratio=100 * (1 - 1 / ratio), kelvin=kelvin)
            found.append(_remark(None, "warming", round(kelvin), "K", VOLTAGE_FALLS(text=text), origin))
    return tuple(found)


def _remark(cylinder: int | None, quantity: str, value: float, unit: str, text: Message, origin: Origin) -> Finding:
    return Finding(
        test=TEST, cylinder=cylinder, quantity=quantity, value=value, unit=unit, spread=None, events=1,
        state=State.NORMAL, statement=text, origin=origin, is_remark=True,
    )  # fmt: skip


def _common_trend(assigned: Assigned, figures: Mapping[int, Figures], level: Mapping[int, float]) -> dict[int, float]:
    """Median current of the sound injectors in every cycle."""
    sound = [
        c for c, f in figures.items()
        if f["pulses"] and abs(f["level_a"] / level[c] - 1) < NEAR and f["missed"] < MISSING_SHARE
    ]  # fmt: skip
    table = np.full((len(sound), assigned.cycles + 1), np.nan)
    for row, c in zip(table, sound, strict=True):
        train = assigned.trains[c]
        inside = (train.cycle >= 0) & (train.cycle <= assigned.cycles)
        row[train.cycle[inside]] = train.level_a[inside]
    filled = np.flatnonzero(np.isfinite(table).any(axis=0)) if sound else np.empty(0, dtype=np.intp)
    middles = np.nanmedian(table[:, filled], axis=0) if filled.size else np.empty(0)
    return dict(zip(filled.tolist(), middles.tolist(), strict=True))

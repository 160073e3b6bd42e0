"""In which condition each cylinder is under each hypothesis: what a piece of evidence is looked up by."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.model.engine import CYCLE_DEG, REVOLUTION_DEG, Engine
from fairwitness.core.reason.inference.hypotheses import Placed
from fairwitness.core.reason.knowledge.fault_spec import FaultMode, Mode
from fairwitness.core.reason.knowledge.faults import OTHER, OTHER_MECHANICAL
from fairwitness.core.reason.knowledge.signatures import WAYS_SHOWN

IntArray = NDArray[np.intp]

Condition = tuple[FaultMode, ...]
"""What is wrong with one cylinder; the unlisted stand under their own names."""
SOUND_CONDITION: Condition = ()
UNLISTED: tuple[Condition, ...] = ((FaultMode(OTHER),), (FaultMode(OTHER_MECHANICAL),))


@dataclass(frozen=True, slots=True)
class Conditions:
    """Which condition each cylinder is in under each hypothesis.

    Parameters
    ----------
    kinds : tuple of Condition
        The first is sound.
    at : (hypotheses + 1, cylinders) int
        Index into ``kinds``, in firing order; the last row is a sound engine.
    common : (hypotheses + 1,) bool
        Every cylinder has the same fault.
    """

    kinds: tuple[Condition, ...]
    at: IntArray
    common: NDArray[np.bool_]


@lru_cache(maxsize=64)
def opposite_of(engine: Engine) -> tuple[tuple[int, ...], ...]:
    """Of each cylinder in firing order, those fired a revolution later: its companion, or both beside that moment."""
    reach = 0.75 * CYCLE_DEG / engine.cylinders
    tdc = {c: engine.tdc_deg(c) for c in engine.firing_order}
    return tuple(
        tuple(d for d in engine.firing_order if abs((tdc[d] - tdc[c]) % CYCLE_DEG - REVOLUTION_DEG) < reach and d != c)
        for c in engine.firing_order
    )


@lru_cache(maxsize=64)
def conditions_of(
    placed: tuple[tuple[str, tuple[Placed, ...]], ...],
    firing_order: tuple[int, ...],
    opposite: tuple[tuple[int, ...], ...],
) -> Conditions:
    """Conditions under many hypotheses, kept for the next piece of evidence.

    Parameters
    ----------
    placed : tuple of (str, tuple of Placed)
        Name and faults of each hypothesis.
    firing_order : tuple of int
    opposite : tuple of tuple of int
        As ``opposite_of`` gives it.

    Returns
    -------
    Conditions
    """
    kinds: dict[Condition, int] = {SOUND_CONDITION: 0}
    at = np.zeros((len(placed) + 1, len(firing_order)), dtype=np.intp)
    place = {c: i for i, c in enumerate(firing_order)}
    for row, (name, faults) in enumerate(placed):
        if name in (OTHER, OTHER_MECHANICAL):
            at[row] = kinds.setdefault((FaultMode(name),), len(kinds))
            continue
        if len(faults) == 1:  # the usual case, and the quick one
            index = kinds.setdefault((faults[0].shown,), len(kinds))
            left = FaultMode(faults[0].fault, Mode.OPPOSITE)
            if faults[0].mode is Mode.STAYS and left.row in WAYS_SHOWN:
                mark = kinds.setdefault((left,), len(kinds))
                for c in faults[0].cylinders:
                    at[row, [place[d] for d in opposite[place[c]]]] = mark
            for c in faults[0].cylinders:
                at[row, place[c]] = index
            continue
        for position, cylinder in enumerate(firing_order):
            here = tuple(p.shown for p in faults if cylinder in p.cylinders)
            at[row, position] = kinds.setdefault(here, len(kinds))
    alone = np.array([*(len(faults) == 1 for _, faults in placed), False])
    common = alone & (at[:, 0] != 0) & (np.ptp(at, axis=1) == 0)
    return Conditions(tuple(kinds), at, common)

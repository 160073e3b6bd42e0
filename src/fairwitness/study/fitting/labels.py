"""What each single reading was taken of: the row of the signature table that its cylinder stands in."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from fairwitness.core.reason.inference.conditions import opposite_of
from fairwitness.core.reason.inference.likelihood import BESIDE, BESIDE_REACH, SPREADS_ROUND
from fairwitness.core.reason.knowledge.outcomes import SOUND, faults_of, of_all
from fairwitness.simulate.garage import ENGINES
from fairwitness.study.fitting.readings import KnownVehicle


@dataclass(frozen=True, slots=True)
class Reading:
    """One cylinder in one line.

    Parameters
    ----------
    column : str
    row : str
        Of the signature table; ``sound`` or ``beside``.
    share, sigma : float
    """

    column: str
    row: str
    share: float
    sigma: float


def readings_of(vehicles: Sequence[KnownVehicle]) -> Iterator[Reading]:
    """Every reading whose cylinder stands in one row alone.

    Where half the cylinders or more are ill, shares are taken of the ill ones, so that they tell nothing here.

    Parameters
    ----------
    vehicles : sequence of KnownVehicle

    Yields
    ------
    Reading
    """
    for known in vehicles:
        order = ENGINES[known.engine].firing_order
        ill = known.fault.cylinders if known.fault else ()
        if known.fault is not None and (known.everywhere or not ill or 2 * len(ill) >= len(order)):
            continue
        rows = _rows(known, order, ill)
        for line in known.lines:
            for place, (share, sigma) in enumerate(zip(line.alternatives[0], line.sigmas, strict=True)):
                row = rows[place]
                if row == BESIDE and line.line not in SPREADS_ROUND:
                    row = SOUND
                if row and sigma < 1.0:
                    yield Reading(line.line, row, float(share), float(sigma))


def _rows(known: KnownVehicle, order: tuple[int, ...], ill: tuple[int, ...]) -> list[str]:
    """Row of each place in the firing order; empty for the companion of an ill one, which may bear its mark."""
    count, fault = len(order), known.fault
    if fault is None:
        return [SOUND] * count
    rows = [SOUND] * count
    reach = BESIDE_REACH.get(count, 1)
    at = [order.index(c) for c in ill]
    for place in at:
        for n in range(-reach, reach + 1):
            rows[(place + n) % count] = BESIDE
        for companion in opposite_of(ENGINES[known.engine])[place]:
            rows[order.index(companion)] = ""
    for place in at:
        rows[place] = fault.shown.row
    return rows


def outcomes_seen(vehicles: Sequence[KnownVehicle]) -> Iterator[tuple[str, str, str]]:
    """Test, row and outcome of everything that came out of a test without a scale.

    Parameters
    ----------
    vehicles : sequence of KnownVehicle

    Yields
    ------
    (test, row, outcome) : three str
    """
    for known in vehicles:
        fault = known.fault
        order = ENGINES[known.engine].firing_order
        ill = set(order if known.everywhere else fault.cylinders if fault else ())
        for seen in known.outcomes:
            rows = faults_of(seen.kind)
            here = bool(ill & set(seen.cylinders or order))
            named: tuple[str, ...] = ()
            if fault is not None and here:
                named = (*((of_all(fault.fault),) if known.everywhere else ()), fault.shown.row, fault.fault)
            yield seen.kind, next((r for r in named if r in rows), SOUND), seen.outcome

"""Injections of one injector cycle by cycle: which are missing, from when on, and how the current drifts with heat."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.intp]
BoolArray = NDArray[np.bool_]

DRIFT_BINS = 20
DRIFT_CYCLES_MIN = 600
"""[M] about two minutes of idling: less shows no warming."""
CHANCE = 0.02
"""[M] how often an injection of a working injector is overlooked, and one of a dead one imagined."""


@dataclass(frozen=True, kw_only=True, eq=False)
class Train:
    """Injections of one injector, one entry per engine cycle with any.

    Parameters
    ----------
    cycle : (n,) int
        Number of the cycle.
    begin_s : (n,) float, s
    level_a, hold_a : (n,) float, A
        Highest and held current.
    on_ms : (n,) float
        Longest pulse of the injection.
    charge_mc : (n,) float
        All its pulses.
    pulses : (n,) int
        Pulses of the injection: pilot, main and what follows.
    """

    cycle: IntArray
    begin_s: FloatArray
    level_a: FloatArray
    hold_a: FloatArray
    on_ms: FloatArray
    charge_mc: FloatArray
    pulses: IntArray

    @property
    def count(self) -> int:
        """Cycles with an injection."""
        return int(self.cycle.size)


@dataclass(frozen=True, slots=True, kw_only=True)
class Presence:
    """How faithfully an injector was served.

    Parameters
    ----------
    due, missed : int
        Cycles in which its peers injected, and in how many of them it did not.
    lost_at : int or None
        Number of the first cycle from which it never came back.
    """

    due: int
    missed: int
    lost_at: int | None

    @property
    def missed_share(self) -> float:
        """Share of the due injections that did not come."""
        return self.missed / self.due if self.due else 0.0


def gather(cycle: IntArray, figures: Mapping[str, FloatArray]) -> Train:
    """Put the pulses of one cycle together as one injection.

    Parameters
    ----------
    cycle : (n,) int
        Cycle of each pulse, in time order.
    figures : mapping of str to (n,) float
        ``begin_s``, ``level_a``, ``hold_a``, ``on_ms``, ``charge_mc``.
    """
    numbers, first, counts = np.unique(cycle, return_index=True, return_counts=True)
    if not numbers.size:
        none = np.empty(0)
        return Train(cycle=numbers, begin_s=none, level_a=none, hold_a=none, on_ms=none, charge_mc=none, pulses=counts)
    order = np.argsort(cycle, kind="stable")
    begins = np.searchsorted(cycle[order], numbers)
    ordered = {name: values[order] for name, values in figures.items()}
    return Train(
        cycle=numbers,
        begin_s=figures["begin_s"][first],
        level_a=np.maximum.reduceat(ordered["level_a"], begins),
        hold_a=np.maximum.reduceat(ordered["hold_a"], begins),
        on_ms=np.maximum.reduceat(ordered["on_ms"], begins),
        charge_mc=np.add.reduceat(ordered["charge_mc"], begins),
        pulses=counts,
    )


def presences(trains: Sequence[Train], cycles: int) -> list[Presence]:
    """Compare the trains of one engine: a cycle counts for an injector where at least half its peers injected.

    Where all stop together the control unit cut the fuel (overrun): nobody misses anything then.

    Parameters
    ----------
    trains : sequence of Train
    cycles : int
        How many were watched; the first and the last may be cut and are not counted.

    Returns
    -------
    list of Presence
    """
    came = np.zeros((len(trains), max(cycles, 1)), dtype=np.bool_)
    for row, train in zip(came, trains, strict=True):
        row[train.cycle[(train.cycle >= 0) & (train.cycle < cycles)]] = True
    working = came.mean(axis=1) > 0.05
    inner = np.zeros(came.shape[1], dtype=np.bool_)
    inner[1:-1] = True
    found = []
    for i, row in enumerate(came):
        peers = [j for j in range(len(trains)) if j != i and working[j]]
        counted = inner & (came[peers].mean(axis=0) >= 0.5) if peers else inner
        at = np.flatnonzero(counted)
        here = row[at]
        lost = lost_from(here)
        found.append(
            Presence(
                due=int(at.size),
                missed=int(np.count_nonzero(~here)),
                lost_at=None if lost is None else int(at[lost]),
            )
        )
    return found


def lost_from(here: BoolArray) -> int | None:
    """The event from which something that worked never works again.

    The likeliest change point of a yes-or-no sequence: working before, dead after.

    Parameters
    ----------
    here : (n,) bool
        Whether each event came.

    Returns
    -------
    int or None
        Index of the first event that is missing; None where it works to the end, or never worked.
    """
    if here.size < 2 * limit.LOST_EVENTS_MIN.value or here[-int(limit.LOST_EVENTS_MIN.value) :].any():
        return None
    gain = np.where(here, np.log((1 - CHANCE) / CHANCE), -np.log((1 - CHANCE) / CHANCE))
    before = np.concatenate(([0.0], np.cumsum(gain)))
    at = int(np.argmax(before))
    lasting = here[at:].mean() <= CHANCE if at < here.size else False
    worked = at >= limit.LOST_EVENTS_MIN.value and here[:at].mean() > 0.5
    return at if lasting and worked else None


def drift(train: Train, usual: Mapping[int, float]) -> float | None:
    """Change of an injector's current beside its peers from the begin of a long log to its end.

    Parameters
    ----------
    train : Train
    usual : mapping of cycle to float, A
        What its peers drew in each cycle.

    Returns
    -------
    float or None
        Share: -0.04 is four per cent less than at the begin. None where the log is too short to tell.
    """
    shared = np.array([usual.get(int(c), np.nan) for c in train.cycle])
    known = np.isfinite(shared) & (shared > 0)
    if np.count_nonzero(known) < DRIFT_CYCLES_MIN:
        return None
    share = train.level_a[known] / shared[known]
    bins = np.array_split(share, DRIFT_BINS)
    middles = np.array([float(np.median(b)) for b in bins])
    slope, first = np.polyfit(np.linspace(0.0, 1.0, DRIFT_BINS), middles, 1)
    return float(slope / max(first, 1e-9))

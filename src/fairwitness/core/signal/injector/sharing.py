"""What else hangs on a feed, and whether several injectors fire at once: whose a pulse may be before it is given away.

From the pulses of one clamp; those of injectors go on to be assigned. Coils on the same feed draw another current at
other places, so that more pulses come than there are injectors, of two heights. Injectors fired together draw a
multiple of what one draws, so that fewer come, evenly.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit

FloatArray = NDArray[np.float64]
BoolArray = NDArray[np.bool_]

MORE_THAN_INJECTORS = 1.4
"""[M] pulses a cycle and injector from which something else hangs on the feed."""
HEIGHTS_APART, CLASS_SHARE = 1.8, 0.2
"""[M] ratio of two kinds of pulses, and the least share of the rarer kind."""
AT_SYNC = 0.12
"""[M] of a cycle: how near to the sync's own switch-off a pulse must end to be that injector's."""
SUPPLY_V = 13.8
TOGETHER_FROM, BEYOND_ONE = 1.35, 1.15
"""[M] of what one injector can draw, from which several fire at once: windings differ by a fifth, and a short pulse
ends low. Where nobody said how many ohms one has: of what the lowest of the usual windings draws."""


def of_injectors(peaks_a: FloatArray, begins: int, cycles: int, injectors: int, at_sync: BoolArray | None) -> BoolArray:
    """Which pulses of a feed are those of its injectors.

    Parameters
    ----------
    peaks_a : (n,) float, A
    begins : int
        How many injections the pulses would be, several pulses of one taken together.
    cycles : int
    injectors : int
        On the feed.
    at_sync : (n,) bool or None
        Pulses that end where the sync's own injector is switched off; None where the sync is no injector.

    Returns
    -------
    (n,) bool
        All of them where nothing else hangs on the feed, or nothing tells the kinds apart.
    """
    everything = np.ones(peaks_a.size, dtype=np.bool_)
    if cycles < 2 or begins < MORE_THAN_INJECTORS * injectors * (cycles + 2):  # with those begun and not ended
        return everything
    ranked = np.sort(np.log(np.maximum(peaks_a, 1e-9)))
    first, last = int(CLASS_SHARE * ranked.size), int((1 - CLASS_SHARE) * ranked.size)
    gaps = np.diff(ranked)[first:last]
    if not gaps.size or gaps.max() < np.log(HEIGHTS_APART):
        return everything
    cut = first + int(np.argmax(gaps))
    low: BoolArray = np.asarray(np.log(np.maximum(peaks_a, 1e-9)) <= ranked[cut] + 1e-9)
    if at_sync is None:
        return low
    high_at_sync = np.count_nonzero(at_sync & ~low) > np.count_nonzero(at_sync & low)
    return np.asarray(~low if high_at_sync else low, dtype=np.bool_)


def fired_together(present: Sequence[bool], level_a: float, ohms: float | None) -> int:
    """How many injectors fire at once, where pulses come only at every so many places, and draw that much.

    Parameters
    ----------
    present : sequence of bool
        In firing order, the sync's own first.
    level_a : float, A
        Highest of those that come.
    ohms : float or None
        Of one injector, where the engine data hold it; else the usual range decides.

    Returns
    -------
    int
        1 where each fires alone, as far as this tells.
    """
    count = len(present)
    coming = sum(present)
    if coming in (0, count) or count % coming:
        return 1
    together = count // coming
    if any(here != (i % together == 0) for i, here in enumerate(present)):
        return 1
    least = TOGETHER_FROM * SUPPLY_V / ohms if ohms else BEYOND_ONE * SUPPLY_V / limit.SATURATED_OHM_MIN.value
    return together if level_a > least else 1

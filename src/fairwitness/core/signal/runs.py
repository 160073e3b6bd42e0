"""Groups of neighbours in a rising sequence."""

from __future__ import annotations

from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Number = TypeVar("Number", np.intp, np.float64)


def runs(ranked: NDArray[Number], gap: float) -> tuple[NDArray[Number], NDArray[Number]]:
    """First and last member of every group that is nowhere wider apart than a gap.

    Parameters
    ----------
    ranked : (n,) int or float, rising
    gap : float
        Neighbours further apart than this belong to different groups.

    Returns
    -------
    (firsts, lasts) : two (groups,) arrays
        Empty for an empty sequence.
    """
    if ranked.size == 0:
        return ranked, ranked
    cuts = np.flatnonzero(np.diff(ranked) > gap)
    return ranked[np.concatenate(([0], cuts + 1))], ranked[np.concatenate((cuts, [ranked.size - 1]))]

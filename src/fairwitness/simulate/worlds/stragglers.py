"""Sound cylinders that burn badly now and then, and cylinders that differ for good."""

from __future__ import annotations

from numpy.random import Generator

REBOUND = 0.3
"""[M] what a strong rebound adds to the cycle after a bad one, as a share of its heat."""
BAD = (0.2, 0.8)
"""[M] heat of a bad cycle beside a usual one."""


class Stragglers:
    """Cycle after cycle, who burns how well beside the usual scatter.

    Parameters
    ----------
    often, rebound : float
        How often a cycle is bad, and how much of a rebound follows.
    uneven : tuple of float
        Heat of each cylinder beside the usual one, cylinder 1 first; empty: all alike.
    rng : numpy Generator
        Of its own: worlds without stragglers draw nothing.
    """

    def __init__(self, often: float, rebound: float, uneven: tuple[float, ...], rng: Generator) -> None:
        self.often, self.rebound, self.uneven, self.rng = often, rebound, uneven, rng
        self.bad_before: set[int] = set()

    def factor(self, cylinder: int) -> float:
        """Factor on the heat of the next cycle of a cylinder."""
        factor = self.uneven[cylinder - 1] if self.uneven else 1.0
        if not self.often:
            return factor
        if cylinder in self.bad_before:
            self.bad_before.discard(cylinder)
            factor *= 1 + self.rebound * REBOUND
        if float(self.rng.random()) < self.often:
            self.bad_before.add(cylinder)
            factor *= float(self.rng.uniform(*BAD))
        return factor

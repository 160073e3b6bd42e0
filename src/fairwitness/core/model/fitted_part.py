"""A part that is to be fitted, measured beside its peers first: a new one is a suspect like any other.

From a hand reading before fitting; goes to the board, the journal and the claim sheet for the supplier.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message

PEERS_FEWEST = 2
OFF = 0.2
"""[C] a resistance that differs by more than a fifth from its peers, all equally warm, is looked at again."""
SPREADS_OFF = 3.0
"""[C] where the peers themselves spread wider, three of their spreads."""
ROBUST = 1.4826
"""Standard deviation per median absolute deviation of a normal distribution."""


class PartCondition(StrEnum):
    """What became of a part that was to be fitted."""

    FITS = "fits"
    STANDS_OFF = "stands_off"
    UNMEASURED = "unmeasured"
    BROKEN_FITTING = "broken_fitting"


CONDITION_WORDS = {
    PartCondition.FITS: phrase("fitted_part.fits", "like its peers"),
    PartCondition.STANDS_OFF: phrase("fitted_part.stands_off", "bad out of the box: not like its peers"),
    PartCondition.UNMEASURED: phrase("fitted_part.unmeasured", "not measured before fitting"),
    PartCondition.BROKEN_FITTING: phrase("fitted_part.broken_fitting", "broken while fitting"),
}
BESIDE = template("fitted_part.beside", "{value:g} {unit} beside {middle:g} {unit} of its peers")


@dataclass(frozen=True, slots=True, kw_only=True)
class BesidePeers:
    """A reading of a part beside those of its peers.

    Parameters
    ----------
    value : float
    peers : tuple of float
    middle : float
        Median of the peers.
    allowed : float
        How far the part may be from it, in the same unit.
    """

    value: float
    peers: tuple[float, ...]
    middle: float
    allowed: float

    @property
    def fits(self) -> bool:
        """No further off than peers are from each other."""
        return abs(self.value - self.middle) <= self.allowed


def beside_peers(value: float, peers: Sequence[float]) -> BesidePeers:
    """Compare a part with its peers, measured the same way and equally warm.

    Parameters
    ----------
    value : float
    peers : sequence of float
        At least two.

    Returns
    -------
    BesidePeers

    Raises
    ------
    ObservationError
        Too few peers, or a value that is no positive number.
    """
    if len(peers) < PEERS_FEWEST:
        raise ObservationError(
            "A part is compared with two peers at least.", where="peers", remedy="Measure those that stay in."
        )
    if any(not math.isfinite(v) or v <= 0 for v in (value, *peers)):
        raise ObservationError("A reading is a number above zero.", where="peers", remedy="Write OL as a large number.")
    middle = statistics.median(peers)
    spread = ROBUST * statistics.median(abs(p - middle) for p in peers)
    return BesidePeers(value=value, peers=tuple(peers), middle=middle, allowed=max(OFF * middle, SPREADS_OFF * spread))


def beside_words(found: BesidePeers, unit: str) -> Message:
    """The comparison as one reads it."""
    return BESIDE(value=found.value, unit=unit, middle=found.middle)

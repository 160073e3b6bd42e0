"""What a test takes now, in minutes of work."""

from __future__ import annotations

from collections.abc import Sequence

from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.reason.planning.approach import Approach, Bay

CONNECTED = 0.25
"""[T] share of the set-up that is left where the tools hang on the vehicle already."""
REFUEL_MINUTES = 1.0
"""[T] to enable fuel again before a running test; disabling it is part of a cranking test's own minutes."""


def minutes_of(test: Offer, scope: Sequence[int], approach: Approach, bay: Bay) -> float:
    """What a test takes now: own access minutes, tools that hang on already, fuel to be switched.

    Parameters
    ----------
    test : Offer
    scope : sequence of int
    approach : Approach
    bay : Bay

    Returns
    -------
    float, min
    """
    usual = approach.minutes.get(test.id)
    factor = 1.0 if usual is None else usual / test.minutes
    connected = bool(test.needs) and set(test.needs) <= bay.connected
    set_up = test.set_up * (CONNECTED if connected else 1.0)
    further = test.each * (len(scope) - 1)
    switching = REFUEL_MINUTES if bay.fuel_disabled and test.turning is Turning.RUNNING else 0.0
    return max(0.5, round(2 * (factor * (set_up + test.work + further) + switching)) / 2)

"""Nominal voltage of a vehicle's battery: limits are for 12 V and go with it."""

from __future__ import annotations

REFERENCE_V = 12
SIX_BELOW_V, TWENTY_FOUR_FROM_V = 7.6, 17.0
"""[T] a rested 6 V battery stands at 6.3 V and charges to 7.5, a rested 12 V one never stands so low that it still
turns an engine; one of 24 V rests at 24 to 26 V and cranks at 17 and more."""


def nominal_volts(volts: float, *, rested: bool) -> int:
    """Nominal voltage by what was measured.

    Parameters
    ----------
    volts : float, V
        At the battery.
    rested : bool
        Without load; while cranking a tired 12 V battery falls to where one of 6 V stands, and is taken as what it is.

    Returns
    -------
    int, V
        6, 12 or 24.
    """
    if abs(volts) >= TWENTY_FOUR_FROM_V:
        return 24
    return 6 if rested and 4.5 < abs(volts) < SIX_BELOW_V else REFERENCE_V


def scaled(limit_v: float, nominal_v: int) -> float:
    """A limit given for 12 V at another nominal voltage, V."""
    return limit_v * nominal_v / REFERENCE_V

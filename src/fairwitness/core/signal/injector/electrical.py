"""Ohm's law of an injector, with the temperature of its copper: what current to expect, and back again."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.errors import ObservationError
from fairwitness.core.model.copper import REFERENCE_C, copper_resistance

DRIVER_DROP_V = 0.5
"""[M] what a driver that is fully on keeps for itself."""
LOWEST_C, HIGHEST_C = -50.0, 200.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Expected:
    """A figure with the span a sound part lies in."""

    value: float
    low: float
    high: float


def rise(seconds: float, *, ohm: float, henry: float, volts: float) -> float:
    """Current of a saturated drive so long after switch-on, A: V/R (1 - exp(-t R/L))."""
    return float(volts / ohm * -np.expm1(-seconds * ohm / henry))


def expected_current(ohm: float, volts: float, celsius: float) -> Expected:
    """Current that a winding of so many ohm at 20 degrees C settles at.

    Parameters
    ----------
    ohm : float
    volts : float
        Of the feed, under load.
    celsius : float
        Of the winding.

    Returns
    -------
    Expected
        A; the span is the spread of sound injectors.

    Raises
    ------
    ObservationError
        A value that cannot be.
    """
    _check(ohm=ohm, volts=volts, celsius=celsius)
    current = (volts - DRIVER_DROP_V) / copper_resistance(ohm, celsius)
    apart = limit.INJECTOR_OHM_APART.value
    return Expected(value=current, low=current / (1 + apart), high=current / (1 - apart))


def expected_ohms(amps: float, volts: float, celsius: float) -> Expected:
    """Resistance at 20 degrees C of a winding that settles at a current.

    Raises
    ------
    ObservationError
        A value that cannot be.
    """
    _check(ampere=amps, volts=volts, celsius=celsius)
    ohm = copper_resistance((volts - DRIVER_DROP_V) / amps, REFERENCE_C, at_c=celsius)
    apart = limit.INJECTOR_OHM_APART.value
    return Expected(value=ohm, low=ohm * (1 - apart), high=ohm * (1 + apart))


def _check(*, volts: float, celsius: float, ohm: float = 1.0, ampere: float = 1.0) -> None:
    if not 0.05 <= ohm <= 1000.0:
        raise ObservationError(f"{ohm:g} ohm is no injector.", where="ohms", remedy="Give 0.05 to 1000 ohm at 20 °C.")
    if not 0.005 <= ampere <= 60.0:
        raise ObservationError(f"{ampere:g} A is no injector.", where="amps", remedy="Give 0.005 to 60 A.")
    if not DRIVER_DROP_V < volts <= 200.0:
        raise ObservationError(f"{volts:g} V is no feed.", where="volts", remedy="Give the feed's voltage under load.")
    if not LOWEST_C <= celsius <= HIGHEST_C:
        raise ObservationError(f"{celsius:g} °C is no winding.", where="celsius", remedy="Give -50 to 200 °C.")

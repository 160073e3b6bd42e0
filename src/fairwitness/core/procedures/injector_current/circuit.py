"""What a pulse of current tells of its circuit: resistance and inductance, or the rise where the driver regulates."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.signal.injector.current import fit_rise
from fairwitness.core.signal.injector.electrical import DRIVER_DROP_V

FloatArray = NDArray[np.float64]
RISE_SAMPLES_MIN = 16
HEADS_FOR = 1.4
"""A rise that heads further beyond what it reaches is too short to tell where."""
RISE_SHARE = 0.9
"""Of a regulated peak: up to here its rise tells the resistance."""


def circuit_of(shape: FloatArray, rate_hz: float, level_a: float, supply_v: float | None) -> dict[str, float]:
    """Time constant of the average pulse, and resistance and inductance where the voltage is known."""
    final, tau, _ = fit_rise(shape, rate_hz)
    found = {"tau_ms": round(1e3 * tau, 4)}
    if 0.97 * level_a < final < HEADS_FOR * level_a:
        found["level_a"] = round(final, 5)  # where the pulse ends before its plateau, the plateau it heads for
    if supply_v is not None and final > 0.5 * level_a:
        ohm = (supply_v - DRIVER_DROP_V) / final
        found |= {"ohms": round(ohm, 3), "henry_mh": round(1e3 * tau * ohm, 3)}
    return found


def regulated_of(shape: FloatArray, rate_hz: float, peak_a: float) -> dict[str, float]:
    """A driver that holds the peak hides the resistance from the plateau: its rise still heads for V/R."""
    top = int(np.argmax(shape >= RISE_SHARE * peak_a))
    if top < RISE_SAMPLES_MIN:
        return {}
    final, tau, _ = fit_rise(shape[:top], rate_hz)
    return {"level_a": round(min(final, 3 * peak_a), 5), "tau_ms": round(1e3 * tau, 4)}

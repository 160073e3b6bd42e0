"""Pressures that no engine makes: asked for their unit or their hose, and never judged.

What an engine can give and what an instrument can give are two ranges. A figure beyond the first was written in another
unit, or came through a hose that holds it; from the figures of a gauge or a transducer, the reason goes to the finding.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import Template, phrase, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.reason import Reason
from fairwitness.core.model.units import UNIT_TO_SI

FloatArray = NDArray[np.float64]

PA = {unit: UNIT_TO_SI[unit][0] for unit in ("Pa", "kPa", "bar", "psi")}
TOO_MUCH = template(
    "pressure_units.too_much", "{value:.0f} {unit} is more than any engine makes{meant}: check the unit."
)
TOO_LITTLE = template(
    "pressure_units.too_little",
    "{value:.2g} {unit} with no sign of a leak is less than an engine makes{meant}: check unit, hose and vent.",
)
TOO_LITTLE_TO_SEE = template(
    "pressure_units.too_little_to_see", "{value:.2g} {unit} is hardly any pressure{meant}: check the unit."
)
PERHAPS = template("pressure_units.perhaps", ", but {value:.0f} {unit} would be usual")
IN_VOLTS = template(
    "pressure_units.in_volts",
    "The transducer is written in {unit} and nobody said which it is: say its volts at zero and its pressure per volt.",
)
HELD = phrase(
    "pressure_units.held",
    "The pressure stays up between the strokes: a check valve sits in the hose. Take it out, or use another hose.",
)


def not_a_pressure(written: str) -> Reason | None:
    """Why volts of a transducer nobody named tell no pressure; None of what is written as one."""
    return None if written in PA else Reason("lead_unknown", IN_VOLTS(unit=written), blocking=True)


def unit_meant(pa: float, written: str) -> str:
    """The unit in which a number would be a usual compression; empty where none, or where it is one already.

    Parameters
    ----------
    pa : float, Pa
        As written.
    written : str
        One of ``PA``.
    """
    if _usual(pa):
        return ""
    value = pa / PA[written]
    return next((unit for unit in ("psi", "bar", "kPa") if unit != written and _usual(value * PA[unit])), "")


def _usual(pa: float) -> bool:
    return limit.COMPRESSION_USUAL_MIN_BAR.value <= pa / PA["bar"] <= limit.COMPRESSION_USUAL_MAX_BAR.value


def beyond_engines(highest_pa: float, written: str) -> Reason | None:
    """Why a pressure cannot be one of an engine that is cranked; None where it can."""
    if highest_pa <= limit.COMPRESSION_CEILING_BAR.value * PA["bar"]:
        return None
    return Reason("unit_doubtful", _asking(TOO_MUCH, highest_pa, written), blocking=True)


def short_of_engines(usual_pa: float, written: str) -> Reason | None:
    """Why pressures that show no leak are too low to be believed; None where they are not."""
    if usual_pa >= limit.COMPRESSION_FLOOR_BAR.value * PA["bar"]:
        return None
    return Reason("unit_doubtful", _asking(TOO_LITTLE, usual_pa, written), blocking=True)


def too_little_to_see(highest_pa: float, written: str) -> Reason | None:
    """Why a pressure that shows no compression is asked for its unit: the same number would be one in another."""
    if highest_pa >= limit.TOWER_MIN_PA.value or not unit_meant(highest_pa, written):
        return None
    return Reason("unit_doubtful", _asking(TOO_LITTLE_TO_SEE, highest_pa, written), blocking=True)


def _asking(words: Template, pa: float, written: str) -> Message:
    value, meant = pa / PA[written], unit_meant(pa, written)
    return words(value=value, unit=written, meant=PERHAPS(value=value, unit=meant) if meant else NOTHING)


def held_by_a_valve(pressure_pa: FloatArray) -> Reason | None:
    """Why a transducer says nothing whose hose holds the pressure; None where it falls between the strokes.

    Parameters
    ----------
    pressure_pa : (n,) float, Pa
        Above any level; NaN where a sample is missing.
    """
    known = pressure_pa[np.isfinite(pressure_pa)]
    if known.size < 2:
        return None
    low, high = (float(v) for v in np.percentile(known, (0.5, 99.5)))
    if high - low < limit.TOWER_MIN_PA.value:
        return None
    first = int(np.argmax(known > low + 0.5 * (high - low)))
    up = float(np.mean(known[first:] > low + 0.5 * (high - low)))
    return Reason("held", HELD, blocking=True) if up > limit.HELD_SHARE.value else None


def no_leak_but_low(peaks_pa: Sequence[float], deepest_pa: Sequence[float], written: str) -> Reason | None:
    """Why low but even towers of all recorded cylinders are doubted: a cylinder that draws nothing pulls a vacuum."""
    if not peaks_pa or min(deepest_pa) < -limit.DRAWS_SHARE.value * max(peaks_pa):
        return None
    return short_of_engines(max(peaks_pa), written)

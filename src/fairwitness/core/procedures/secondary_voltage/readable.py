"""What of the sparks a capture can show at all: some instruments and some ignitions leave only a part to compare.

From the figures of all cylinders, before anybody is compared. A part that no cylinder shows is the instrument's or the
system's way, and nobody's fault.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.model.reason import Reason

Figures = Mapping[str, float]
"""What was read of one cylinder, by name: medians over its sparks."""
LINE, BREAKDOWN = frozenset({"line_kv", "duration_ms", "rise", "ringing"}), frozenset({"firing_kv"})
"""Views of a spark that stand or fall together."""
CAPACITIVE = phrase(
    "secondary_voltage.readable.capacitive",
    "No coil shows a dwell or a spark line: a capacitor discharge. Only the breakdown is compared.",
)
BETWEEN_SAMPLES = phrase(
    "secondary_voltage.readable.between_samples",
    "The breakdown falls between two samples: it is not compared, only the line after it. Sample faster.",
)
CUT_OFF = template(
    "secondary_voltage.readable.cut_off",
    "The range cuts most breakdowns off at {stop:.1f} kV: they are not compared. Take it again on a larger range.",
)


def unreadable(figures: Mapping[int, Figures]) -> tuple[frozenset[str], tuple[Reason, ...]]:
    """Views that this capture cannot show of anybody, and why.

    Parameters
    ----------
    figures : mapping of cylinder to figures

    Returns
    -------
    (names of views, reasons)
        Empty where all can be compared, or too few spark to say.
    """
    sparking = [f for f in figures.values() if f["sparks"] > 0]
    if len(sparking) < 2:
        return frozenset(), ()
    if all(f["line_kv"] <= 0 and "dwell_ms" not in f for f in sparking):
        return LINE, (Reason("capacitive", CAPACITIVE),)
    over = [f["firing_kv"] / f["line_kv"] for f in sparking if f["line_kv"] > 0]
    if over and float(np.median(over)) < limit.BREAKDOWN_OVER_LINE.value:
        return BREAKDOWN, (Reason("between_samples", BETWEEN_SAMPLES),)
    stopped = [f["firing_kv"] for f in sparking if f.get("cut_off", 0.0) >= limit.CUT_OFF_SHARE.value]
    if 2 * len(stopped) > len(sparking):
        return BREAKDOWN, (Reason("breakdown_cut_off", CUT_OFF(stop=float(np.median(stopped)))),)
    return frozenset(), ()

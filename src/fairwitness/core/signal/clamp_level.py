"""Currents that no engine draws: the clamp's gain is not what the file says, and only the shape is believed.

What an instrument can give and what an engine can draw are two ranges. Beyond the second, cylinders are still compared
with each other, as a gain is the same for all of them; no ampere and no ohm is told. From the level of a trace, the
reason goes to the measurement.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.reason import Reason

CODE = "level_unknown"
READS_LIKE = template(
    "clamp_level.reads_like",
    "The clamp gives {draw:,g} A where {what} draws {least:g} to {most:,g} A: it reads like {mv:g} mV per A. "
    "Cylinders are compared by the shape; the current itself is unknown.",
)
UNKNOWN = template(
    "clamp_level.unknown",
    "The clamp gives {draw:,g} A where {what} draws {least:g} to {most:,g} A: check its gain. Cylinders are compared "
    "by the shape; the current itself is unknown.",
)
GAINS_V_PER_A = (0.001, 0.01, 0.1)
"""Usual gains of current clamps that are logged as volts. Common practice."""


@dataclass(frozen=True, slots=True)
class Draw:
    """What something is called that draws a current, and how much (A): from the smallest to the largest built."""

    what: Message
    least_a: float
    most_a: float


STARTER = Draw(
    phrase("clamp_level.starter", "a starter"), limit.STARTER_DRAWS_MIN_A.value, limit.STARTER_DRAWS_MAX_A.value
)
COIL = Draw(phrase("clamp_level.coil", "a coil"), limit.COIL_DRAWS_MIN_A.value, limit.COIL_DRAWS_MAX_A.value)
INJECTOR = Draw(
    phrase("clamp_level.injector", "an injector"), limit.INJECTOR_DRAWS_MIN_A.value, limit.INJECTOR_DRAWS_MAX_A.value
)


def doubted(levels_a: Sequence[float], draw: Draw) -> Reason | None:
    """That the current itself is unknown; None where the highest level is one that is drawn.

    Parameters
    ----------
    levels_a : sequence of float, A
        Usual height of each trace, as written. One alone may be low because it is sick.
    draw : Draw
    """
    highest = max(levels_a, default=0.0)
    low = highest < draw.least_a
    if (low and len(levels_a) < 2) or draw.least_a <= highest <= draw.most_a or highest <= 0:
        return None
    return unknown(highest, draw)


def unknown(level: float, draw: Draw) -> Reason:
    """The same of a level (A) that is doubted on other grounds already."""
    like = [gain for gain in GAINS_V_PER_A if draw.least_a <= level / gain <= draw.most_a]
    shown = float(f"{level:.3g}")
    if like:
        words = READS_LIKE(draw=shown, what=draw.what, least=draw.least_a, most=draw.most_a, mv=1000 * like[0])
    else:
        words = UNKNOWN(draw=shown, what=draw.what, least=draw.least_a, most=draw.most_a)
    return Reason(CODE, words)

"""Crankcase pulse while cranking: gas past the rings or through the piston pushes in its cylinder's compression."""

from __future__ import annotations

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.model.capture import Capture, CaptureTest, Role
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.cranking_pulses import STANDS_OUT, Bumps, Judgement, PulseTest, Solved, measured

PUSHES = template(
    "crankcase_pulse.pushes",
    "{who} pushes into the crankcase while it compresses: past the rings or through the piston.",
)
DOES_NOT_PUSH = template("crankcase_pulse.does_not_push", "{who} does not push into the crankcase.")
MISSING = template(
    "crankcase_pulse.missing",
    "{who} lacks the push into the crankcase that its peers make as they compress: it builds no pressure.",
)
MISSING_WORD = phrase("crankcase_pulse.missing_word", "no push")
QUIET_WORD, PUSHES_WORD = phrase("crankcase_pulse.quiet", "quiet"), phrase("crankcase_pulse.pushes_word", "pushes")

LACKS = 0.3
"""[M] share of the usual push that is left where a cylinder builds no pressure."""
OPPOSITE_MIN = 4
"""Cylinders from which there are others beside the two a revolution apart."""
TEST = CaptureTest.CRANKCASE_PULSE.value
LINE = "CK"
BLOW_BY = Bumps(centres_deg=(-12.0, 0.0, 12.0, 24.0), width_deg=62.0, floor=limit.BLOW_BY_SHARE.value)
"""[M] around the compression, and later by the way through the crankcase."""


def applies(capture: Capture) -> bool:
    """Whether a capture holds pressure of the crankcase."""
    return bool(capture.with_role(Role.CRANKCASE_PRESSURE))


def measure(capture: Capture, engine: Engine) -> Measured:
    """Find the cylinder whose compression pushes into the crankcase.

    Parameters
    ----------
    capture : Capture
        With a sync on one cylinder.
    engine : Engine

    Returns
    -------
    Measured
    """
    return measured(
        capture, engine, PulseTest(test=TEST, line=LINE, role=Role.CRANKCASE_PRESSURE, kinds=(BLOW_BY,), judge=_judge)
    )


def _judge(solved: Solved, place: int) -> Judgement:
    opposite = (place + solved.events_deg.size // 2) % solved.events_deg.size
    if solved.of(0, opposite) is not None and _is_a_hole(solved, pulse=opposite, hole=place):
        return Judgement(LACKS, State.LOW, MISSING_WORD, MISSING)
    if solved.of(0, place) is None or _is_a_hole(solved, pulse=place, hole=opposite):
        return Judgement(1.0, State.NORMAL, QUIET_WORD, DOES_NOT_PUSH)
    return Judgement(STANDS_OUT, State.HIGH, PUSHES_WORD, PUSHES)


def _is_a_hole(solved: Solved, *, pulse: int, hole: int) -> bool:
    """Whether what looks like a push of one cylinder is the push that another, fired a revolution later, does not make.

    Where all push as they compress, what the pistons share takes the pushes away and leaves one that is missing looking
    like one too many on the other side of the cycle. How high each stands by itself tells the two apart.
    """
    if solved.events_deg.size < OPPOSITE_MIN or solved.events_deg.size % 2:
        return False
    heights = solved.heights(BLOW_BY.centres_deg[1])
    usual = float(np.median(np.delete(heights, [pulse, hole])))
    return usual > 0 and usual - float(heights[hole]) > abs(float(heights[pulse]) - usual)

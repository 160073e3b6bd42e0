"""Crankcase pulse while cranking: gas past the rings or through the piston pushes in its cylinder's compression."""

from __future__ import annotations

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
QUIET_WORD, PUSHES_WORD = phrase("crankcase_pulse.quiet", "quiet"), phrase("crankcase_pulse.pushes_word", "pushes")

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
    if solved.of(0, place) is None:
        return Judgement(1.0, State.NORMAL, QUIET_WORD, DOES_NOT_PUSH)
    return Judgement(STANDS_OUT, State.HIGH, PUSHES_WORD, PUSHES)

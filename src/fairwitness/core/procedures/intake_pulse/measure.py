"""Intake pulse while cranking: every cylinder pulls in its turn; one that blows back leaks past its intake valve."""

from __future__ import annotations

from fairwitness.core.model.capture import Capture, CaptureTest, Role
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.cranking_pulses import STANDS_OUT, Bumps, Solved, measured

TEST = CaptureTest.INTAKE_PULSE.value
LINE = "IN"
PULL = Bumps(centres_deg=(-262.0, -250.0, -238.0, -226.0), width_deg=112.0)
"""[M] the piston draws from top dead centre to past the bottom, fastest in the middle."""
BACK_FLOW = Bumps(centres_deg=(-8.0, 4.0, 16.0), width_deg=58.0)
"""[M] around the compression."""
BURST = Bumps(centres_deg=(-344.0, -334.0, -324.0), width_deg=32.0)
"""[M] gas that was not let out bursts into the intake as soon as its valve opens."""
SILENT_SHARE = 0.05


def applies(capture: Capture) -> bool:
    """Whether a capture holds pressure of the intake."""
    return bool(capture.with_role(Role.INTAKE_PRESSURE))


def measure(capture: Capture, engine: Engine) -> Measured:
    """Compare the pulls of the cylinders, and find one that blows back.

    Parameters
    ----------
    capture : Capture
        With a sync on one cylinder.
    engine : Engine

    Returns
    -------
    Measured
    """
    return measured(capture, engine, Role.INTAKE_PRESSURE, TEST, LINE, (PULL, BACK_FLOW, BURST), _judge)


def _judge(solved: Solved, place: int) -> tuple[float, State, str, str]:
    missing, back = solved.of(0, place), solved.of(1, place)
    if missing is not None and (back is None or missing.times > back.times):
        return SILENT_SHARE, State.ABSENT, "no pull", "{who} does not pull at the intake: its intake valve stays shut."
    if solved.of(2, place) is not None:
        text = (
            "{who} bursts into the intake as it opens: the last charge was not let out, its exhaust valve stays shut."
        )
        return STANDS_OUT, State.ABNORMAL, "bursts", text
    if back is not None:
        text = "{who} blows back into the intake while it compresses: the intake valve leaks."
        return STANDS_OUT, State.HIGH, "blows back", text
    return 1.0, State.NORMAL, "pulls", "{who} pulls at the intake like its peers."

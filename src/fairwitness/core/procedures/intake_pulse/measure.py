"""Intake pulse while cranking: every cylinder pulls in its turn; one that blows back leaks past its intake valve."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.model.capture import Capture, CaptureTest, Role
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.cranking_pulses import STANDS_OUT, Bumps, Judgement, PulseTest, Solved, measured

NO_PULL = template("intake_pulse.no_pull", "{who} does not pull at the intake: its intake valve stays shut.")
BURSTS = template(
    "intake_pulse.bursts",
    "{who} bursts into the intake as it opens: the last charge was not let out, its exhaust valve stays shut.",
)
BLOWS_BACK = template(
    "intake_pulse.blows_back", "{who} blows back into the intake while it compresses: the intake valve leaks."
)
PULLS = template("intake_pulse.pulls", "{who} pulls at the intake like its peers.")
NO_PULL_WORD, BURSTS_WORD = phrase("intake_pulse.word.no_pull", "no pull"), phrase("intake_pulse.word.bursts", "bursts")
BLOWS_BACK_WORD, PULLS_WORD = (
    phrase("intake_pulse.word.blows_back", "blows back"),
    phrase("intake_pulse.word.pulls", "pulls"),
)

TEST = CaptureTest.INTAKE_PULSE.value
LINE = "IN"
SHUT_SHARE, SHUT_SHARE_OF_MANY = 0.45, 0.6
"""[M] of all that moves: where every cylinder but one pulls, the one that does not is most of it."""
PULL = Bumps(
    centres_deg=(-262.0, -250.0, -238.0, -226.0), width_deg=112.0, floor=SHUT_SHARE, floor_of_many=SHUT_SHARE_OF_MANY
)
"""[M] the piston draws from top dead centre to past the bottom, fastest in the middle."""
BACK_FLOW = Bumps(centres_deg=(-8.0, 4.0, 16.0), width_deg=58.0)
"""[M] around the compression."""
BURST = Bumps(centres_deg=(-344.0, -334.0, -324.0), width_deg=32.0, unless=0.55)
"""[M] gas that was not let out bursts into the intake as soon as its valve opens. A missing pull begins as early and
goes on: of a burst a pull explains a third, of the shoulder of a missing pull three quarters."""
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
    return measured(
        capture,
        engine,
        PulseTest(test=TEST, line=LINE, role=Role.INTAKE_PRESSURE, kinds=(PULL, BACK_FLOW, BURST), judge=_judge),
    )


def _judge(solved: Solved, place: int) -> Judgement:
    missing, back = solved.of(0, place), solved.of(1, place)
    if missing is not None and (back is None or missing.times > back.times):
        return Judgement(SILENT_SHARE, State.ABSENT, NO_PULL_WORD, NO_PULL)
    if solved.of(2, place) is not None:
        return Judgement(STANDS_OUT, State.ABNORMAL, BURSTS_WORD, BURSTS)
    if back is not None:
        return Judgement(STANDS_OUT, State.HIGH, BLOWS_BACK_WORD, BLOWS_BACK)
    return Judgement(1.0, State.NORMAL, PULLS_WORD, PULLS)

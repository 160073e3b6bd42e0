"""Key off and on again: whether a cylinder that was cut is injected once more for its first seconds.

A control unit that withholds fuel because it saw a misfire starts anew after a key cycle; a driver that failed stays
dead.
"""

from __future__ import annotations

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import cylinder_of, seen, unread

TEST = "key_cycle"
STATES = {"returns": State.ABNORMAL, "stays_away": State.ABSENT, "never_away": State.NORMAL}
TOLD = {
    "returns": "is injected again after a key cycle, then cut: the control unit withholds it",
    "stays_away": "is not injected after a key cycle either",
    "never_away": "was injected before and after a key cycle",
}


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one key cycle.

    Parameters
    ----------
    observation : Observation
        ``cylinder`` and ``injection``: returns, stays_away, never_away.
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    cylinder = cylinder_of(observation.data, engine)
    outcome = str(observation.data.get("injection", ""))
    if outcome not in TOLD:
        return unread(TEST, index, engine, f"An injection that {outcome or 'is not said'} is not known.")
    if cylinder is None:
        return unread(TEST, index, engine, "The reading names no cylinder of this engine.")
    return seen(
        TEST, index, kind=TEST, outcome=outcome, cylinders=(cylinder,), cylinder=cylinder, state=STATES[outcome],
        statement=f"Cylinder {cylinder} {TOLD[outcome]}.", word=outcome.replace("_", " "),
    )  # fmt: skip

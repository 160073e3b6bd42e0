"""Smoke, propane or the ear at one cylinder's intake: is there air the engine does not know of."""

from __future__ import annotations

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import cylinder_of, seen, unread

TEST = "runner_check"
PLACES = {
    "runner": "intake runner and its gasket",
    "injector_seal": "seal of the injector",
    "egr_port": "exhaust gas port beside the runner",
}
WAYS = {"smoke": "smoke", "propane": "propane", "ear": "the ear"}
OUTCOMES = ("leak", "tight")


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one check.

    Parameters
    ----------
    observation : Observation
        ``cylinder``, ``place`` (runner, injector_seal, egr_port), ``by`` (smoke, propane, ear), ``seen`` (leak, tight).
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    data = observation.data
    cylinder = cylinder_of(data, engine)
    place, by, outcome = (str(data.get(key, "")) for key in ("place", "by", "seen"))
    if cylinder is None:
        return unread(TEST, index, engine, "The check names no cylinder of this engine.")
    if place not in PLACES or by not in WAYS or outcome not in OUTCOMES:
        text = "A check names a place (runner, injector_seal, egr_port), a way (smoke, propane, ear) and leak or tight."
        return unread(TEST, index, engine, text, cylinder=cylinder)
    leaks = outcome == "leak"
    reported = "leaks: the cylinder runs lean for air, not for fuel" if leaks else "is tight"
    return seen(
        TEST,
        index,
        kind=f"{TEST}:{place}",
        outcome=outcome,
        cylinders=(cylinder,),
        cylinder=cylinder,
        state=State.ABNORMAL if leaks else State.NORMAL,
        statement=f"{PLACES[place].capitalize()} of cylinder {cylinder}, by {WAYS[by]}: it {reported}.",
        word=outcome,
        group=f"{place.replace('_', ' ')}",
    )

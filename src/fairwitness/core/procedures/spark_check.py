"""A spark on free air. Strong there does not prove it under cylinder pressure; none is a finding."""

from __future__ import annotations

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import cylinder_of, seen, unread

TEST = "spark_check"
PLACES = {"coil": "at the coil", "lead_end": "at the end of the lead"}
STATES = {"strong": State.NORMAL, "weak": State.LOW, "none": State.ABSENT}


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one spark check.

    Parameters
    ----------
    observation : Observation
        ``cylinder``, ``spark`` (strong, weak, none), ``measured_at`` (coil, lead_end).
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    spark = str(observation.data.get("spark", ""))
    place = str(observation.data.get("measured_at") or "lead_end")
    cylinder = cylinder_of(observation.data, engine)
    if spark not in STATES or place not in PLACES:
        return unread(TEST, index, engine, "A spark check says strong, weak or none, at the coil or the lead end.")
    if cylinder is None:
        return unread(TEST, index, engine, "The spark check names no cylinder of this engine.")
    reported = {
        "strong": "is strong on free air, which does not prove it under pressure",
        "weak": "is weak",
        "none": "is missing",
    }[spark]
    return seen(
        TEST,
        index,
        kind=f"{TEST}:{place}",
        outcome=spark,
        cylinders=(cylinder,),
        cylinder=cylinder,
        state=STATES[spark],
        statement=f"The spark of cylinder {cylinder} {PLACES[place]} {reported}.",
        word=spark,
        group=f"spark {PLACES[place]}",
    )

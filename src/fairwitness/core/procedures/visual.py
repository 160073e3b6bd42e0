"""What the eye sees: plugs, leads, coils, connectors, the bore through a camera."""

from __future__ import annotations

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import cylinder_of, seen, unread

TEST = "visual"
ITEMS = ("plug", "coil", "lead", "connector", "cylinder")
LOOKS = ("clean", "wet", "worn", "fouled", "tracked", "burnt", "cracked", "corroded", "damaged")


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one look at a part.

    Parameters
    ----------
    observation : Observation
        ``item``, ``cylinder``, ``seen``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    item, look = str(observation.data.get("item", "")), str(observation.data.get("seen", ""))
    cylinder = cylinder_of(observation.data, engine)
    if item not in ITEMS or look not in LOOKS:
        return unread(TEST, index, engine, "What was looked at, or what was seen, is not one of the known words.")
    if cylinder is None:
        return unread(TEST, index, engine, "The look names no cylinder of this engine.")
    return seen(
        TEST,
        index,
        kind=f"{TEST}:{item}",
        outcome=look,
        cylinders=(cylinder,),
        cylinder=cylinder,
        state=State.NORMAL if look == "clean" else State.ABNORMAL,
        statement=f"The {item} of cylinder {cylinder} is {look}.",
        word=look,
        group=f"look at {item}",
    )

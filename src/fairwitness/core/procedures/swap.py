"""A part changed with a neighbour's: a misfire that moves proves the part, one that stays clears it."""

from __future__ import annotations

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import cylinder_of, seen, unread

TEST = "swap"
PARTS = ("coil", "injector", "plug", "lead")


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one swap.

    Parameters
    ----------
    observation : Observation
        ``part``, ``from``, ``to``, ``moved``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    part = str(observation.data.get("part", ""))
    suspect, other = (cylinder_of(observation.data, engine, key) for key in ("from", "to"))
    moved = observation.data.get("moved")
    if part not in PARTS:
        return unread(TEST, index, engine, f"A swap of {part or 'nothing'} is not known.")
    if suspect is None or other is None or suspect == other:
        return unread(TEST, index, engine, "A swap needs two different cylinders of this engine.")
    if not isinstance(moved, bool):
        return unread(TEST, index, engine, "Whether the misfire moved was not recorded.", cylinder=suspect)
    reported = f"moved to cylinder {other}: the {part} is at fault" if moved else f"stayed: the {part} is cleared"
    return seen(
        TEST,
        index,
        kind=f"{TEST}:{part}",
        outcome="moved" if moved else "stayed",
        cylinders=(suspect,),
        cylinder=suspect,
        state=State.ABNORMAL if moved else State.NORMAL,
        statement=f"With the {part}s of cylinders {suspect} and {other} changed over the misfire {reported}.",
        word="moved" if moved else "stayed",
        group=f"{part} changed over",
    )

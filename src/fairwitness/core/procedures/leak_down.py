"""Leak-down at TDC compression: how much air is lost, and where it is heard to leave."""

from __future__ import annotations

from fairwitness.core import thresholds as limit
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import cylinder_of, number_of, seen, unread

TEST = "leak_down"
PLACES = ("intake", "exhaust", "oil_filler", "coolant", "neighbour")
WORDS = {
    "intake": "at the intake: the intake valve",
    "exhaust": "at the tailpipe: the exhaust valve",
    "oil_filler": "at the oil filler: rings or piston",
    "oil_filler_blows": "blowing at the oil filler: rings or piston",
    "coolant": "in the coolant: the gasket",
    "neighbour": "in the neighbouring cylinder: the gasket",
}


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge one leak-down test.

    Parameters
    ----------
    observation : Observation
        ``cylinder``, ``percent``, ``heard_at`` (list of places), ``neighbour``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        The outcome is the first place named, ``silent`` for a leak heard nowhere, else ``tight``.
    """
    data = observation.data
    cylinder = cylinder_of(data, engine)
    percent = number_of(data, "percent", low=0.0, high=100.0)
    if cylinder is None or percent is None:
        return unread(TEST, index, engine, "A leak-down test names a cylinder of this engine and a percentage.")
    listed = data.get("heard_at")
    heard = [p for p in listed if p in PLACES] if isinstance(listed, list | tuple) else []
    leaks = percent > limit.LEAK_DOWN_FAULT_PERCENT.value
    outcome = (heard[0] if heard else "silent") if leaks else "tight"
    if outcome == "oil_filler" and percent > limit.LEAK_DOWN_BLOWS_PERCENT.value:
        outcome = "oil_filler_blows"  # some air always passes the rings; how much tells
    reported = f"loses {percent:.0f} %"
    if outcome in WORDS:
        reported += f", heard {WORDS[outcome]}"
    elif outcome == "silent":
        reported += ", heard nowhere: listen at intake, tailpipe, oil filler and radiator"
    else:
        reported += ": it is tight at top dead centre"
    other = cylinder_of(data, engine, "neighbour")
    return seen(
        TEST,
        index,
        kind=TEST,
        outcome=outcome,
        cylinders=(cylinder,) if other is None else (cylinder, other),
        cylinder=cylinder,
        state=State.HIGH if leaks else State.NORMAL,
        statement=f"Cylinder {cylinder} {reported}.",
        word="",
        value=percent,
        unit="%",
        group="",
    )

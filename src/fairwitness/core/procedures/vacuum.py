"""Manifold vacuum: whether the whole engine breathes as it should."""

from __future__ import annotations

from fairwitness.core import thresholds as limit
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine, Fuel
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import number_of, seen, unread

TEST = "vacuum"


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge a vacuum at idle.

    Parameters
    ----------
    observation : Observation
        ``kpa_below_atmosphere`` (or ``inhg``, inches of mercury), ``engine_state``; ``check_valve``: true where the
        port has one, which holds the highest vacuum and tells nothing of now.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        Speaks of the whole engine.
    """
    data = observation.data
    kpa = number_of(data, "kpa_below_atmosphere", low=-20.0, high=105.0)
    inches = number_of(data, "inhg", low=-5.0, high=31.0)
    kpa = 3.386389 * inches if kpa is None and inches is not None else kpa  # [P: NIST SP 811] inch of mercury
    if kpa is None:
        return unread(TEST, index, engine, "The reading holds no vacuum.")
    if data.get("check_valve") is True:
        return unread(TEST, index, engine, "A port behind a check valve holds the highest vacuum: take another port.")
    if engine.fuel is Fuel.DIESEL:
        return unread(TEST, index, engine, "A diesel has no throttle: its vacuum tells nothing.")
    running = data.get("engine_state") in (None, "running")
    low = kpa < limit.VACUUM_LOW_KPA.value
    outcome = "low" if low else "usual"
    reported = "low: valve timing, throttle, or a large leak" if low else "as engines have at idle"
    if not running:
        reported = "while cranking: little says little"
    return seen(
        TEST,
        index,
        kind=TEST if running else "",
        outcome=outcome,
        cylinders=tuple(sorted(engine.firing_order)),
        cylinder=None,
        state=State.ABNORMAL if low and running else State.NORMAL,
        statement=f"Vacuum {kpa:.0f} kPa below the atmosphere ({kpa / 3.386389:.0f} inHg), {reported}.",
        word="",
        value=round(kpa, 1),
        unit="kPa",
        group="",
    )

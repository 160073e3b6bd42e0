"""A lamp in place of the part: whether feed, wire and driver carry load, which a voltmeter does not tell."""

from __future__ import annotations

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import cylinder_of, on_the_coil, seen, unread

TEST = "load_lamp"
CIRCUITS = ("injector", "coil", "feed")
LAMPS = ("bright", "dim", "flashing", "dark")


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one lamp.

    Parameters
    ----------
    observation : Observation
        ``circuit`` (injector, coil, feed), ``cylinder``, ``lamp`` (bright, dim, flashing, dark).
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    circuit, lamp = str(observation.data.get("circuit", "")), str(observation.data.get("lamp", ""))
    cylinder = cylinder_of(observation.data, engine)
    if circuit not in CIRCUITS or lamp not in LAMPS:
        return unread(TEST, index, engine, "A lamp is bright, dim, flashing or dark on an injector, coil or feed.")
    if cylinder is None:
        return unread(TEST, index, engine, "The lamp names no cylinder of this engine.")
    good = "bright" if circuit == "feed" else "flashing"
    reported = {
        "flashing": "flashes: wiring and driver carry load" if circuit != "feed" else "flashes where it should burn",
        "bright": "burns all the time: the command is stuck on"
        if circuit != "feed"
        else "burns: the feed carries load",
        "dim": "is dim: resistance in the circuit",
        "dark": "stays dark: feed, wire or driver is missing",
    }[lamp]
    states = {"dim": State.LOW, "dark": State.ABSENT, "bright": State.ABNORMAL, "flashing": State.ABNORMAL}
    return seen(
        TEST,
        index,
        kind=f"{TEST}:{circuit}",
        outcome=lamp,
        cylinders=on_the_coil(cylinder, engine) if circuit == "coil" else (cylinder,),
        cylinder=cylinder,
        state=State.NORMAL if lamp == good else states[lamp],
        statement=f"The lamp on the {circuit} circuit of cylinder {cylinder} {reported}.",
        word=lamp,
        group=f"lamp on {circuit}",
    )

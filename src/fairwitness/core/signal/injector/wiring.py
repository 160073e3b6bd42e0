"""Where along a wire a circuit is broken: readings at known places close in on it from both sides."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import Message

INJECTOR_CIRCUIT_CYLINDER = template(
    "injector.wiring.injector_circuit_cylinder", "The injector circuit of cylinder {cylinder} is open {where}.{further}"
)
FEED_SIDE = template("injector.wiring.feed_side", "on the feed side of {before}")
MEASURE_NEXT = template("injector.wiring.measure_next", " Measure next at {next_place}.")
OUTWARD_UP = template("injector.wiring.outward_up", "from {after} outward, up to {before}")
BETWEEN = template("injector.wiring.between", "between {after} and {before}")


@dataclass(frozen=True, slots=True, kw_only=True)
class Break:
    """Between which places of a path the break lies.

    Parameters
    ----------
    after : str
        Last place, from the feed on, that the feed still reaches; empty where none was found good.
    before : str
        First place it does not reach; empty where none was found bad.
    next_place : str
        Where to measure next: in the middle; empty where the two are neighbours.
    """

    after: str
    before: str
    next_place: str


def find_break(path: Sequence[str], reached: Mapping[str, bool]) -> Break | None:
    """Close in on a break.

    Parameters
    ----------
    path : sequence of str
        Places in order from the feed to the driver.
    reached : mapping of place to bool
        Whether battery voltage was found there with the circuit closed.

    Returns
    -------
    Break or None
        None where no reading is bad, or where a good one lies behind a bad one: the readings contradict each other.
    """
    good = [i for i, place in enumerate(path) if reached.get(place) is True]
    bad = [i for i, place in enumerate(path) if reached.get(place) is False]
    if not bad or (good and max(good) > min(bad)):
        return None
    first, last = (max(good) if good else -1), min(bad)
    between = range(first + 1, last)
    return Break(
        after=path[first] if first >= 0 else "",
        before=path[last],
        next_place=path[between[len(between) // 2]] if between else "",
    )


def in_words(found: Break, cylinder: int) -> Message:
    """A break as a technician says it: from this place outward, up to that one."""
    if not found.after:
        where = FEED_SIDE(before=found.before)
    elif found.next_place:
        where = OUTWARD_UP(after=found.after, before=found.before)
    else:
        where = BETWEEN(after=found.after, before=found.before)
    further = MEASURE_NEXT(next_place=found.next_place) if found.next_place else ""
    return INJECTOR_CIRCUIT_CYLINDER(cylinder=cylinder, where=where, further=further)

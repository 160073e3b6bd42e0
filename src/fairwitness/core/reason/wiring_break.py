"""Where a circuit is broken: voltages and resistances at known places close in on it from both sides."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.wiring import ITSELF, Place, Side, how_to_reach

BROKEN = template(
    "injector.wiring.injector_circuit_cylinder", "The injector circuit of cylinder {cylinder} is open {where}.{further}"
)
FEED_SIDE = template("injector.wiring.feed_side", "on the feed side of {before}")
MEASURE_NEXT = template("injector.wiring.measure_next", " Measure next at {next_place}.")
MEASURE_NEXT_SO = template("injector.wiring.measure_next_so", " Measure next: {how}")
OUTWARD_UP = template("injector.wiring.outward_up", "from {after} outward, up to {before}")
BETWEEN = template("injector.wiring.between", "between {after} and {before}")
AT_THE_PART = template("injector.wiring.at_the_part", "at {part}")


@dataclass(frozen=True, slots=True)
class Node:
    """One pin along a circuit: a place, and of the part's own plug the side."""

    place: Place
    side: Side | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Along:
    """One reading along a circuit.

    Parameters
    ----------
    last : str
        Place it was taken at, or the far end of what was measured across.
    closed : bool
        The feed reaches it, or the two ends are connected.
    first : str
        Near end of a resistance; empty for a voltage, which speaks of everything from the feed on.
    side : Side or None
        Pin of the part's own plug, where ``last`` is that; a voltage at the control side came through the part.
    """

    last: str
    closed: bool
    first: str = ""
    side: Side | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Break:
    """Between which pins of a circuit the break lies.

    Parameters
    ----------
    after : Node or None
        Last one that the feed still reaches; None where none was found good.
    before : Node
        First one beyond the break.
    next_place : Place or None
        Where to measure next; None where nothing lies between the two.
    """

    after: Node | None
    before: Node
    next_place: Place | None

    @property
    def is_part(self) -> bool:
        """The break lies inside the part: between the two pins of its own plug."""
        return self.after is not None and self.after.place == self.before.place


def nodes_of(path: Sequence[Place]) -> tuple[Node, ...]:
    """The pins of a circuit in order; the part's own plug has two."""
    found: list[Node] = []
    for place in path:
        found += [Node(place, side) for side in Side] if place.is_part else [Node(place)]
    return tuple(found)


def find_break(path: Sequence[Place], readings: Sequence[Along]) -> Break | None:
    """Close in on a break.

    Parameters
    ----------
    path : sequence of Place
        In order from the feed to the driver.
    readings : sequence of Along

    Returns
    -------
    Break or None
        None where no reading is bad, or where they contradict each other.
    """
    nodes = nodes_of(path)
    possible, seen_open = set(range(len(nodes))), False  # stretch i lies before pin i
    for reading in readings:
        stretches = _stretches(nodes, reading)
        if stretches is None:
            continue
        seen_open = seen_open or not reading.closed
        possible = possible - stretches if reading.closed else possible & stretches
    if not seen_open or not possible:
        return None
    first, last = min(possible), max(possible)
    return Break(
        after=nodes[first - 1] if first else None,
        before=nodes[last],
        next_place=_next_place(nodes, first, last),
    )


def _stretches(nodes: Sequence[Node], reading: Along) -> set[int] | None:
    """Which stretches a reading speaks of; None where it names places that are not on the way."""
    last = _at(nodes, reading.last, reading.side or Side.FEED)
    if last is None:
        return None
    if not reading.first:
        return set(range(last + 1))
    first = _at(nodes, reading.first, Side.CONTROL)
    if first is None or first >= last:
        return None
    return set(range(first + 1, last + 1))


def _at(nodes: Sequence[Node], name: str, side: Side) -> int | None:
    own = [i for i, node in enumerate(nodes) if node.place.name == name]
    if not own:
        return None
    return next((i for i in own if nodes[i].side in (None, side)), own[0])


def _next_place(nodes: Sequence[Node], first: int, last: int) -> Place | None:
    """What splits the rest, rather where nothing need be unplugged, rather near the middle."""
    between = range(first, last)
    if not between:
        return None
    middle = between[len(between) // 2]
    best = min(between, key=lambda i: (nodes[i].place.unplugs, nodes[i].place.minutes, abs(i - middle)))
    return nodes[best].place


def in_words(found: Break, cylinder: int) -> Message:
    """A break as a technician says it: from this place outward, up to that one."""
    before = found.before.place.words
    if found.is_part:
        where = AT_THE_PART(part=ITSELF)
    elif found.after is None:
        where = FEED_SIDE(before=before)
    elif found.next_place is not None:
        where = OUTWARD_UP(after=found.after.place.words, before=before)
    else:
        where = BETWEEN(after=found.after.place.words, before=before)
    further: Message = NOTHING
    if found.next_place is not None:
        place = found.next_place
        plain = not (place.connector or place.pin or place.unplugs)
        further = MEASURE_NEXT(next_place=place.name) if plain else MEASURE_NEXT_SO(how=how_to_reach(place))
    return BROKEN(cylinder=cylinder, where=where, further=further)

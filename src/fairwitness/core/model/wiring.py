"""Circuits by the pin: places along a wire from the feed to the driver, and how each can be reached."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from fairwitness.core.errors import EngineError
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message, joined, verbatim

PLACES_MAX, PLACE_LENGTH = 24, 60
CONNECTOR = template("wiring.connector", "connector {name}")
PIN = template("wiring.pin", "pin {pin}")
FUSE = template("wiring.fuse", "fuse {fuse}")
DETAILS = template("wiring.details", "{place} ({details})")
BACK_PROBE = template("wiring.back_probe", "Back-probe {place}.")
UNPLUG = template("wiring.unplug", "Unplug and measure at {place}.")
ITSELF = phrase("wiring.itself", "the part itself, between the pins of its plug")


class CircuitOf(StrEnum):
    """The part a circuit feeds and commands."""

    INJECTOR = "injector"
    COIL = "coil"


class Side(StrEnum):
    """Which pin of the part's own plug."""

    FEED = "feed"
    CONTROL = "control"


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """One place along a circuit where it can be measured.

    Parameters
    ----------
    name : str
    connector, pin, colour, fuse : str
        As the wiring diagram calls them; empty where nobody wrote it down.
    unplugs : bool
        It must be taken apart to be reached; else it is back-probed.
    minutes : float
        To get there.
    is_part : bool
        The plug of the part itself, with a feed pin and a control pin.
    """

    name: str
    connector: str = ""
    pin: str = ""
    colour: str = ""
    fuse: str = ""
    unplugs: bool = False
    minutes: float = 0.0
    is_part: bool = False

    def __post_init__(self) -> None:
        if not self.name.strip() or any(
            len(text) > PLACE_LENGTH for text in (self.name, self.connector, self.pin, self.colour, self.fuse)
        ):
            raise EngineError("A place along the circuit needs a short name.", where="wiring")
        if not 0 <= self.minutes <= 480:
            raise EngineError("Nobody takes that long to reach a plug.", where="wiring")

    @property
    def words(self) -> Message:
        """Its name, with connector, pin and colour where they are known."""
        details = [
            CONNECTOR(name=self.connector) if self.connector else NOTHING,
            PIN(pin=self.pin) if self.pin else NOTHING,
            verbatim(self.colour),
            FUSE(fuse=self.fuse) if self.fuse else NOTHING,
        ]
        said = joined(*details, by=", ")
        return DETAILS(place=self.name, details=said) if said else verbatim(self.name)


@dataclass(frozen=True, slots=True, kw_only=True)
class Circuit:
    """The way of one circuit, from the feed to the driver.

    Parameters
    ----------
    part : CircuitOf
    cylinder : int or None
        None: of every cylinder that has none of its own.
    places : tuple of Place

    Raises
    ------
    EngineError
        No place, one named twice, or two plugs of the part.
    """

    part: CircuitOf
    places: tuple[Place, ...]
    cylinder: int | None = None

    def __post_init__(self) -> None:
        names = [place.name for place in self.places]
        if not names or len(names) > PLACES_MAX or len(set(names)) != len(names):
            raise EngineError("A circuit has up to 24 places, each named once.", where="wiring")
        if sum(place.is_part for place in self.places) > 1:
            raise EngineError("A part has one plug of its own.", where="wiring")


def circuit_of(wiring: Sequence[Circuit], part: CircuitOf, cylinder: int | None) -> tuple[Place, ...]:
    """Places of a part's circuit.

    Parameters
    ----------
    wiring : sequence of Circuit
    part : CircuitOf
    cylinder : int or None

    Returns
    -------
    tuple of Place
        The cylinder's own before that of all; empty where nothing is known.
    """
    own = [c for c in wiring if c.part is part and c.cylinder in (None, cylinder)]
    return next((c.places for c in sorted(own, key=lambda c: c.cylinder is None)), ())


def easiest(places: Sequence[Place]) -> Place | None:
    """Where to measure first: what need not be unplugged, then what is nearest to hand, then what is nearest the part.

    Parameters
    ----------
    places : sequence of Place

    Returns
    -------
    Place or None
    """
    at = next((i for i, place in enumerate(places) if place.is_part), len(places) - 1)
    ranked = sorted(enumerate(places), key=lambda item: (item[1].unplugs, item[1].minutes, abs(item[0] - at)))
    return ranked[0][1] if ranked else None


def how_to_reach(place: Place) -> Message:
    """How a place is measured at, in words."""
    return (UNPLUG if place.unplugs else BACK_PROBE)(place=place.words)

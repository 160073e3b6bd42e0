"""From pin to pin: what lies between decides what it speaks of."""

import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.model.wiring import Circuit, CircuitOf, Place
from fairwitness.core.procedures.pin_to_pin import ACROSS, CONTROL, FEED, SPEC, measure

PLACES = ("fuse", "splice", "plug", "dash", "unit")
WIRED = even_engine(
    (1, 3, 4, 2),
    wiring=(
        Circuit(part=CircuitOf.INJECTOR, places=tuple(Place(name=n, is_part=n == "plug") for n in PLACES)),
    ),
)  # fmt: skip
NAMED = even_engine((1, 3, 4, 2), injector_path=PLACES)


def read(engine=WIRED, **data):
    return measure(Observation(test="pin_to_pin", data={"cylinder": 3, **data}), 0, engine)


@pytest.mark.parametrize(
    ("first", "last", "kind"),
    [("fuse", "plug", FEED), ("fuse", "splice", FEED), ("plug", "unit", CONTROL), ("splice", "dash", ACROSS)],
)
def test_the_wire_of_the_feed_of_the_command_or_across_the_injector(first, last, kind):
    measured = read(place=first, place_to=last, open=True)
    assert [(e.kind, e.outcome, e.cylinders) for e in measured.categorical] == [(kind, "open", (3,))]
    assert measured.findings[0].state is State.ABSENT


def test_where_nobody_wrote_down_the_plug_everything_may_lie_between():
    assert read(NAMED, place="fuse", place_to="splice", open=True).categorical[0].kind == ACROSS


@pytest.mark.parametrize(
    ("first", "last", "ohms", "outcome"),
    [("fuse", "plug", 0.4, "closed"), ("fuse", "plug", 400.0, "open"), ("splice", "dash", 15.0, "closed"),
     ("splice", "dash", 50_000.0, "open")],
)  # fmt: skip
def test_ohms_are_whole_or_open_by_what_lies_between(first, last, ohms, outcome):
    measured = read(place=first, place_to=last, ohms=ohms)
    assert measured.categorical[0].outcome == outcome
    assert render(measured.findings[0].statement).startswith("Cylinder 3: from ")


@pytest.mark.parametrize(
    "data",
    [{"place": "plug", "place_to": "fuse", "ohms": 1}, {"place": "fuse", "place_to": "moon", "ohms": 1},
     {"place": "fuse", "place_to": "plug"}, {"place": "fuse", "place_to": "plug", "ohms": float("nan")}],
)  # fmt: skip
def test_what_is_no_reading_is_refused_with_its_reason(data):
    measured = read(**data)
    assert not measured.usable
    assert measured.categorical == ()


def test_it_is_offered_only_where_places_are_known():
    (offer,) = SPEC.offers
    assert offer.fits(WIRED)
    assert offer.fits(NAMED)
    assert not offer.fits(even_engine((1, 3, 4, 2)))

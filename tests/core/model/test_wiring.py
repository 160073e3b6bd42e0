"""Circuits by the pin: whose they are, what is reached first, and what cannot be."""

import pytest

from fairwitness.core.errors import EngineError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.wiring import Circuit, CircuitOf, Place, easiest, how_to_reach

FUSE = Place(name="fuse box", fuse="12", minutes=2)
RAIL = Place(name="rail connector", connector="X7", pin="3", colour="white-red")
PLUG = Place(name="injector plug", connector="X31", pin="1", unplugs=True, is_part=True)
UNIT = Place(name="unit plug", connector="X1", pin="44", minutes=15)
CIRCUIT = Circuit(part=CircuitOf.INJECTOR, places=(FUSE, RAIL, PLUG, UNIT))


def test_a_cylinders_own_circuit_goes_before_that_of_all():
    own = Circuit(part=CircuitOf.INJECTOR, cylinder=3, places=(RAIL,))
    engine = even_engine((1, 3, 4, 2), wiring=(CIRCUIT, own))
    assert engine.circuit(CircuitOf.INJECTOR, 3) == (RAIL,)
    assert engine.circuit(CircuitOf.INJECTOR, 2) == CIRCUIT.places
    assert engine.circuit(CircuitOf.COIL, 2) == ()


def test_the_path_of_an_engine_is_that_of_its_wiring_unless_it_says_otherwise():
    assert even_engine((1, 3, 4, 2), wiring=(CIRCUIT,)).injector_path == tuple(p.name for p in CIRCUIT.places)
    named = even_engine((1, 3, 4, 2), injector_path=("fuse", "plug"))
    assert [p.name for p in named.circuit(CircuitOf.INJECTOR, 1)] == ["fuse", "plug"]


def test_what_need_not_be_unplugged_and_is_near_to_hand_comes_first():
    assert easiest(CIRCUIT.places) == RAIL
    assert easiest((PLUG, UNIT)) == UNIT
    assert easiest(()) is None


def test_a_place_is_said_by_connector_pin_and_colour():
    assert render(how_to_reach(RAIL)) == "Back-probe rail connector (connector X7, pin 3, white-red)."
    assert render(how_to_reach(PLUG)).startswith("Unplug and measure at injector plug (connector X31")
    assert render(FUSE.words) == "fuse box (fuse 12)"


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: Place(name=" "),
        lambda: Place(name="x" * 61),
        lambda: Place(name="x", minutes=-1),
        lambda: Circuit(part=CircuitOf.COIL, places=()),
        lambda: Circuit(part=CircuitOf.COIL, places=(RAIL, RAIL)),
        lambda: Circuit(part=CircuitOf.COIL, places=(PLUG, Place(name="another", is_part=True))),
        lambda: even_engine((1, 3, 4, 2), wiring=(Circuit(part=CircuitOf.COIL, cylinder=9, places=(RAIL,)),)),
    ],
)
def test_what_cannot_be_is_refused(wrong):
    with pytest.raises(EngineError):
        wrong()

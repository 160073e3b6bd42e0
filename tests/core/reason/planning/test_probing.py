"""Where the plan says to put the probe."""

import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.wiring import Circuit, CircuitOf
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.planning.probing import where_to_probe
from tests.core.model.test_wiring import CIRCUIT, PLUG

WIRED = even_engine((1, 3, 4, 2), wiring=(CIRCUIT, Circuit(part=CircuitOf.COIL, cylinder=3, places=(PLUG,))))


@pytest.mark.parametrize(
    ("offer", "said"),
    [
        ("voltage:injector_feed", "Back-probe rail connector (connector X7, pin 3, white-red)."),
        ("resistance:injector", "Unplug and measure at injector plug (connector X31, pin 1)."),
        ("resistance:coil_primary", "Unplug and measure at injector plug (connector X31, pin 1)."),
        ("pin_to_pin:across", "Back-probe rail connector (connector X7, pin 3, white-red)."),
        ("injector_current", ""),
        ("power_balance:unplugging", ""),
        ("compression_gauge", ""),
        ("relative_compression", ""),
    ],
)
def test_live_the_easiest_place_at_rest_the_parts_own_plug(offer, said):
    assert render(where_to_probe(OFFERS[offer], WIRED, (3,))) == said


def test_a_cylinder_without_known_pins_and_a_path_of_bare_names_say_nothing():
    assert not where_to_probe(OFFERS["resistance:coil_primary"], WIRED, (2,))
    named = even_engine((1, 3, 4, 2), injector_path=("fuse", "plug"))
    assert not where_to_probe(OFFERS["voltage:injector_feed"], named, (3,))

"""From pin to pin on a simulated vehicle: the stretch that is broken is the one that reads open."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.wiring import Circuit, CircuitOf, Place
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.gauges import observe
from fairwitness.simulate.health import Fault

PLACES = tuple(Place(name=n, is_part=n == "plug") for n in ("fuse", "splice", "plug", "dash", "unit"))


@pytest.mark.parametrize(
    ("fault", "opened"),
    [("injector_control_open", [("dash", "unit")]), ("injector_feed_lost", [("fuse", "splice")]),
     ("injector_open_circuit", []), ("coil_output_dead", [])],
)  # fmt: skip
def test_the_broken_stretch_reads_open(fault, opened):
    engine = replace(ENGINES["drover-2.0"], wiring=(Circuit(part=CircuitOf.INJECTOR, places=PLACES),))
    vehicle = build(engine, (Fault(fault, (3,)),), rng=np.random.default_rng(2))
    seen = observe(vehicle, "pin_to_pin", hot=False, rng=np.random.default_rng(3), suspects=(3,))
    assert len(seen) == 4
    assert [(o.data["place"], o.data["place_to"]) for o in seen if o.data.get("open")] == opened

"""What gauges, meters and eyes say of every vehicle of the garage is what the tests by hand understand."""

import numpy as np
import pytest

from fairwitness.core.errors import SimulationError
from fairwitness.core.procedures import engine_circuits, first_look, no_start
from fairwitness.core.procedures.registry import OBSERVATION_TESTS, measure_observation
from fairwitness.core.procedures.specs import SPECS
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.gauges import GAUGES, observe
from fairwitness.simulate.gauges_engine import USUAL
from fairwitness.simulate.health import Fault
from fairwitness.simulate.under_test import VehicleUnderTest

QUICK = sorted(set(GAUGES) - {"misfire_counts", "power_balance"})


def rng(seed=2):
    return np.random.default_rng(seed)


def test_every_test_by_hand_has_a_gauge():
    assert set(GAUGES) == set(OBSERVATION_TESTS)


@pytest.mark.parametrize("engine", ENGINES)
@pytest.mark.parametrize("test", QUICK)
def test_every_gauge_on_every_engine_is_understood(engine, test):
    vehicle = build(ENGINES[engine], (), rng=rng())
    seen = observe(vehicle, test, hot=False, rng=rng(), suspects=(1,))
    if not (SPECS[test].possible(vehicle.engine) and any(o.fits(vehicle.engine) for o in SPECS[test].offers)):
        return
    assert seen
    read = [measure_observation(one, i, vehicle.engine) for i, one in enumerate(seen)]
    assert all(m is not None and m.usable for m in read)
    assert all(one.test == test for one in seen)


@pytest.mark.parametrize("test", QUICK)
def test_the_same_seed_reads_the_same(test):
    vehicle = build(ENGINES["drover-2.0"], (Fault("ring_or_piston_leak", (2,)),), rng=rng())
    assert observe(vehicle, test, hot=True, rng=rng(5)) == observe(vehicle, test, hot=True, rng=rng(5))


def test_a_test_that_is_not_there_names_those_that_are():
    vehicle = build(ENGINES["drover-2.0"], (), rng=rng())
    with pytest.raises(SimulationError) as refusal:
        observe(vehicle, "tea_leaves", hot=False, rng=rng())
    assert "leak_down" in refusal.value.remedy


def test_suspects_are_the_ill_ones_where_nobody_was_named():
    vehicle = build(ENGINES["drover-2.0"], (Fault("plug_shorted", (4,)),), rng=rng())
    assert VehicleUnderTest(vehicle, hot=False).suspects == (4,)
    assert VehicleUnderTest(vehicle, hot=False, suspects=(2,)).suspects == (2,)
    assert VehicleUnderTest(build(ENGINES["drover-2.0"], (), rng=rng()), hot=False).suspects == (1,)


def test_warm_copper_reads_more_than_cold():
    vehicle = build(ENGINES["drover-2.0"], (), rng=rng())

    def ohms(hot):
        seen = observe(vehicle, "resistance", hot=hot, rng=rng(5))
        return np.mean([o.data["ohms"] for o in seen if o.data["item"] == "injector"])

    assert ohms(hot=True) / ohms(hot=False) == pytest.approx(1 + 0.00393 * 65, rel=0.02)  # copper, IEC 60028


@pytest.mark.parametrize(
    "looks", [first_look.LOOKS, no_start.LOOKS, engine_circuits.LOOKS], ids=lambda looks: looks.test
)
def test_whatever_is_looked_at_has_a_usual_way_that_its_test_knows(looks):
    usual = USUAL[looks.test]
    assert set(usual) == set(looks.items)
    assert all(way in looks.items[item].ways for item, way in usual.items())

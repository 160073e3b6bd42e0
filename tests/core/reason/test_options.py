"""Ways to go on: what each costs and cures, what being wrong costs, and what a test saves of that."""

from dataclasses import replace
from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import Ignition, Injection, even_engine
from fairwitness.core.reason.knowledge.remedies import PRICED, REMEDIES
from fairwitness.core.reason.options import UNPRICED, OptionKind, Prices, _job, options, saved_by
from tests.core.reason.phases.states import case_of, seen

FOUR = even_engine((1, 3, 4, 2))
SHOP = Prices(parts=dict.fromkeys(PRICED, 40.0) | {"coil": 60.0, "control_unit": 900.0}, hour=60.0)


@pytest.fixture(scope="module")
def dead_spark():
    taken = (seen(FOUR, {3: 0.0}), seen(FOUR, {3: 0.0}, test="secondary_voltage"))
    return conclude(case_of(FOUR, (), taken), taken)


def of(diagnosis, prices=SHOP, faults=("coil_output_dead",)):
    found = options(diagnosis.posterior, faults, FOUR, prices, diagnosis.plan.offers)
    return {option.kind: option for option in found}


def test_the_price_is_parts_and_labour_at_their_places(dead_spark):
    proper = of(dead_spark)[OptionKind.PROPER]
    assert render(proper.words) == "a new coil, cylinder 3"
    assert proper.price == pytest.approx(60.0 + 60.0 * proper.minutes / 60.0)
    whole = of(dead_spark)[OptionKind.WHOLE]
    assert whole.parts == {"coil": 4, "plug": 4, "boot": 4}
    assert whole.price > proper.price
    assert whole.cures >= proper.cures


def test_being_wrong_costs_the_price_times_the_chance_of_it(dead_spark):
    proper = of(dead_spark)[OptionKind.PROPER]
    assert 0 < proper.cures < 1
    assert proper.wrong == pytest.approx((1 - proper.cures) * proper.price)


def test_every_fault_that_one_part_mends_counts_for_it(dead_spark):
    likely = sum(
        p
        for h, p in zip(dead_spark.posterior.hypotheses, dead_spark.posterior.probabilities, strict=True)
        if {q.fault for q in h.placed} <= {"coil_output_dead", "coil_secondary_shorted", "coil_primary_open"}
        and h.placed
        and set(h.everywhere) <= {3}
    )
    assert of(dead_spark)[OptionKind.PROPER].cures == pytest.approx(float(likely), abs=1e-9)


def test_nothing_is_priced_that_the_shop_has_not_priced(dead_spark):
    for option in of(dead_spark, UNPRICED).values():
        assert option.price in (None, 0.0)
        assert option.wrong is None
    without = of(dead_spark, Prices(parts={}, hour=60.0))[OptionKind.PROPER]
    assert (without.price, without.unpriced) == (None, ("coil",))


def test_doing_nothing_costs_nothing_and_says_what_follows(dead_spark):
    nothing = of(dead_spark)[OptionKind.NOTHING]
    assert (nothing.price, nothing.cures) == (0.0, 0.0)
    assert "catalyst" in render(nothing.risk)


def test_no_fault_no_options(dead_spark):
    assert options(dead_spark.posterior, (), FOUR, SHOP) == ()


@cache
def weak():
    """One cylinder that does no work, and no reason known."""
    taken = (seen(FOUR, {3: 0.0}),)
    return conclude(case_of(FOUR, (), taken), taken)


@given(st.floats(1, 5000), st.floats(1, 300))
def test_nobody_is_the_worse_for_knowing_more_than_by_the_labour_of_the_test(price, hour):
    prices = Prices(parts=dict.fromkeys(PRICED, price), hour=hour)
    for offer in weak().plan.offers[:3]:
        assert saved_by(weak().posterior, offer, FOUR, prices) >= -hour * offer.minutes / 60 - 1e-6


def test_a_test_is_worth_its_time_where_parts_are_dear_and_the_reason_is_open():
    dear = Prices(parts=dict.fromkeys(PRICED, 500.0), hour=60.0)
    assert max(saved_by(weak().posterior, offer, FOUR, dear) for offer in weak().plan.offers) > 0


def test_what_a_test_saves_scales_with_the_money(dead_spark):
    offer = next(o for o in dead_spark.plan.offers)
    double = Prices(parts={k: 2 * v for k, v in SHOP.parts.items()}, hour=2 * SHOP.hour)
    one, two = (saved_by(dead_spark.posterior, offer, FOUR, prices) for prices in (SHOP, double))
    assert two == pytest.approx(2 * one)


@pytest.mark.parametrize(
    ("remedy", "cylinders", "engine", "counted"),
    [
        ("battery", (1, 2, 3, 4), FOUR, {"battery": 1}),
        ("fuel_supply", (1, 2, 3, 4), FOUR, {"fuel_pump": 1, "fuel_filter": 1}),
        ("all_plugs", (1, 2, 3, 4), FOUR, {"plug": 4}),
        ("valves", (2, 3), FOUR, {"valve": 2, "head_gasket": 1}),
        ("coil", (2, 3), FOUR, {"coil": 2}),
        ("coil", (2, 3), replace(FOUR, ignition=Ignition.WASTE_SPARK), {"coil": 1}),
        ("coil", (1, 2), replace(FOUR, ignition=Ignition.WASTE_SPARK), {"coil": 2}),
        ("coil", (1, 2, 3, 4), replace(FOUR, ignition=Ignition.DISTRIBUTOR), {"coil": 1}),
    ],
)
def test_as_many_parts_are_counted_as_are_fitted(remedy, cylinders, engine, counted):
    assert _job(REMEDIES[remedy], cylinders, engine)[1] == counted


def test_no_injector_is_unplugged_by_the_road_under_a_rail(dead_spark):
    rail = replace(FOUR, injection=Injection.DIRECT)
    kinds = {o.kind for o in options(dead_spark.posterior, ("coil_output_dead",), rail, SHOP)}
    assert OptionKind.FIELD in of(dead_spark)
    assert OptionKind.FIELD not in kinds

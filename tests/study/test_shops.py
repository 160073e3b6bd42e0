"""Simulated shops: other priors weigh exactly, learning follows the mix, wrong outcomes lead nobody astray."""

import numpy as np
import pytest

from fairwitness.core.reason.knowledge.faults import NO_FAULT
from fairwitness.simulate.garage import ENGINES
from fairwitness.study import shops
from fairwitness.study.policies import AS_SHIPPED, Under
from fairwitness.study.population import Population
from fairwitness.study.shops import (
    POISONED,
    Again,
    Examined,
    Size,
    examined,
    helps,
    losses,
    report,
    true_fault,
)

FAULTS = ("coil_output_dead", "plug_gap_wide", "exhaust_valve_leak", NO_FAULT)


def vehicle(seed, rng):
    """One whose evidence tells its fault, more or less."""
    fault = FAULTS[seed % len(FAULTS)]
    shown = rng.dirichlet(np.ones(len(FAULTS))) + 1.2 * np.array([f == fault for f in FAULTS])
    chances = dict(zip(FAULTS, (shown / shown.sum()).tolist(), strict=True))
    return Examined(seed=seed, engine="drover-2.0", fault=fault, chances=chances, minutes=60.0, right=True)


@pytest.fixture(scope="module")
def pool():
    rng = np.random.default_rng(4)
    return [vehicle(seed, rng) for seed in range(200)]


def test_another_prior_only_weighs_anew():
    one = Examined(seed=1, engine="x", fault="a", chances={"a": 0.2, "b": 0.8}, minutes=1, right=True)
    assert one.with_factors({}) == pytest.approx(0.2)
    assert one.with_factors({"a": 4.0}) == pytest.approx(0.5)


def test_shops_have_mixes_of_their_own_and_are_the_same_for_the_same_number(pool):
    first, second = shops.shops(pool, count=2, cases=50)
    assert first.mix != second.mix
    assert shops.shops(pool, count=1, cases=50)[0].cases == first.cases


def test_learning_lowers_the_loss_and_no_case_learns_from_itself_or_what_comes_after(pool):
    of = shops.shops(pool, count=8, cases=80)
    told = losses(of)
    assert told.learned.mean() < told.shipped.mean()
    assert told.known.mean() < told.shipped.mean()
    assert of[0].factors_before(0) == {}


def test_poison_comes_first_and_names_one_fault_nearly_always(pool):
    (shop,) = shops.shops(pool, count=1, cases=60, poison=POISONED)
    named = [outcome.fault for outcome in shop.written[:POISONED]]
    assert len(named) == POISONED
    assert all(said != case.fault for said, case in zip(named, shop.cases, strict=False))
    assert max(named.count(f) for f in set(named)) >= POISONED // 2


def test_wrong_outcomes_do_not_lead_astray(pool):
    fair = losses(shops.shops(pool, count=8, cases=80))
    led = losses(shops.shops(pool, count=8, cases=80, poison=POISONED))
    assert led.learned.mean() < led.shipped.mean()
    assert helps(fair, led)


def test_the_report_says_what_was_gained(pool):
    of = shops.shops(pool, count=3, cases=40)
    anew = [
        Again(seed=i, before={"minutes": 60.0, "right": True}, after={"minutes": 50.0, "right": True}) for i in range(6)
    ]
    text = report(losses(of), losses(of), anew, of)
    assert "3 shops, 120 cases" in text
    assert "60.0 as shipped, 50.0 with learning" in text


def test_a_vehicle_is_examined_to_the_end_and_gives_chances_that_sum_to_one():
    one = examined(990001, AS_SHIPPED, {})
    assert sum(one.chances.values()) == pytest.approx(1.0, abs=1e-6)
    assert one.engine in ENGINES
    assert 0 < one.minutes <= 260
    assert true_fault(()) == NO_FAULT


def test_a_broken_study_goes_on_where_it_stopped(tmp_path, monkeypatch, pool):
    asked = []

    def quick(seed, under, factors):
        asked.append((seed, bool(factors)))
        return vehicle(seed, np.random.default_rng(seed))

    monkeypatch.setattr(shops, "examined", quick)
    monkeypatch.setattr(shops, "spread", lambda work, seeds, workers=None: map(work, seeds))
    size, under = Size(vehicles=12, seed=5, shops=2, cases=20), Under(population=Population.KNOWN)
    text, _ = shops.run(size, under, folder=tmp_path)
    first = len(asked)
    again, _ = shops.run(size, under, folder=tmp_path)
    assert (text, len(asked)) == (again, first)
    assert any(learned for _, learned in asked)

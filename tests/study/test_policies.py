"""One vehicle under the plan and under fixed orders."""

import numpy as np
import pytest

from fairwitness.core.errors import SimulationError
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.knowledge.densities import SHIPPED
from fairwitness.simulate.garage import ENGINES
from fairwitness.simulate.worlds.choices import HELD_OUT, KNOWN_WORLD
from fairwitness.study.policies import FIXED, PLAN, Under, as_json, assess, from_json
from fairwitness.study.population import Population, combination_of, drawn_faults, vehicle_of


@pytest.fixture(scope="module")
def result():
    return assess(35, (PLAN, "mechanical first"))  # an open injector


def test_the_same_seed_is_the_same_vehicle():
    assert vehicle_of(11)[1:] == vehicle_of(11)[1:]


def test_every_policy_ends_with_an_answer_or_without_tests(result):
    assert [run.policy for run in result.policy_runs] == [PLAN, "mechanical first"]
    for run in result.policy_runs:
        assert run.minutes > 0
        assert run.status
        assert len(set(run.tests)) == len(run.tests)


def test_both_policies_reach_the_right_answer(result):
    plan, fixed = result.policy_runs
    assert plan.right
    assert fixed.right


def test_a_result_is_read_as_it_was_written(result):
    assert from_json(as_json(result)) == result


def test_fixed_orders_name_tests_that_exist():
    assert all(set(order) <= set(OFFERS) for order in FIXED.values())


def test_vehicles_are_ill_as_often_as_the_priors_say():
    rng = np.random.default_rng(3)
    drawn = [drawn_faults(ENGINES["drover-2.0"], rng) for _ in range(1500)]
    sound = np.mean([not faults for faults in drawn])
    two = np.mean([len({f.fault for f in faults}) > 1 for faults in drawn])
    assert sound == pytest.approx(14 / 90, abs=0.035)
    assert 0.005 < two < 0.05


def test_combinations_take_turns_and_a_vehicle_has_all_of_its_own():
    assert {combination_of(seed) for seed in range(len(HELD_OUT))} == set(HELD_OUT)
    for seed in range(8):
        visit, _, _ = vehicle_of(seed, Population.LEFT_OUT)
        world = visit.vehicle.world
        assert all(world[question] == answer for question, answer in HELD_OUT[combination_of(seed)])
        assert vehicle_of(seed)[0].vehicle.world == KNOWN_WORLD


def test_worlds_that_are_left_out_are_judged_by_densities_that_never_met_them(tmp_path):
    assert Under().densities(3) is SHIPPED
    for name in HELD_OUT:
        (tmp_path / f"without-{name}.txt").write_text(f"# {name}\n")
    under = Under(population=Population.LEFT_OUT, densities_in=tmp_path)
    assert under.densities(3).provenance == (combination_of(3),)
    with pytest.raises(SimulationError):
        Under(population=Population.LEFT_OUT, densities_in=tmp_path / "none").densities(3)

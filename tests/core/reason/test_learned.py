"""What a shop's outcomes do to the shipped shares: they move with the truth, slowly, and not far."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.model.case import TroubleCode
from fairwitness.core.model.engine import Fuel, Ignition, Injection, even_engine
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.knowledge.faults import FAULTS, NO_FAULT
from fairwitness.core.reason.learned import (
    MINUTES_COUNT_AS,
    MOST_FACTOR,
    SHIPPED_COUNTS_AS,
    Outcome,
    agreement_weight,
    chance_right,
    learned_minutes,
    learned_shares,
    shipped_shares,
)
from tests.core.reason.evidence import case

FOUR = even_engine((1, 3, 4, 2))
DIESEL = even_engine(
    (1, 3, 4, 2), fuel=Fuel.DIESEL, ignition=Ignition.COMPRESSION_IGNITION, injection=Injection.COMMON_RAIL
)


def found(fault, count=1, chance=0.95, engine=FOUR):
    return [Outcome(engine=engine, fault=fault, chance=chance)] * count


def line_of(outcomes, fault):
    return next(line for line in learned_shares(outcomes) if line.fault == fault)


def test_nothing_is_learned_of_nothing():
    assert learned_shares([]) == ()


def test_shares_sum_to_one_before_anything_is_learned():
    assert sum(shipped_shares(FOUR).values()) == pytest.approx(1.0)


def test_three_outcomes_of_one_fault_move_its_share_by_their_weight_beside_what_ships():
    line = line_of(found("coil_output_dead", 3, chance=1.0), "coil_output_dead")
    shipped = shipped_shares(FOUR)["coil_output_dead"]
    right = 3 * chance_right(1.0, shipped)
    assert line.here == pytest.approx(shipped * (SHIPPED_COUNTS_AS * shipped + right) / (
        SHIPPED_COUNTS_AS * shipped + right * shipped
    ))  # fmt: skip
    assert line.outcomes == 3
    assert line.factor > 1.2


def test_what_is_seldom_found_becomes_rarer():
    assert line_of(found("coil_output_dead", 30), "plug_gap_wide").factor < 0.8


def test_an_engine_that_cannot_have_a_fault_says_nothing_of_it():
    told = {line.fault for line in learned_shares(found("ring_or_piston_leak", 5, engine=DIESEL))}
    assert "plug_gap_wide" not in told
    assert "ring_or_piston_leak" in told


def test_an_outcome_against_all_evidence_hardly_counts():
    line = line_of(found("cut_by_ecu", 10, chance=1e-6), "cut_by_ecu")
    assert line.outcomes == 10
    assert line.counted < 0.1
    assert line.factor < 1.1


@given(st.lists(st.sampled_from([*FAULTS, NO_FAULT]), min_size=1, max_size=60), st.floats(0.0, 1.0))
def test_no_share_moves_beyond_its_bound_and_no_more_is_counted_than_was_found(names, chance):
    possible = shipped_shares(FOUR)
    outcomes = [Outcome(engine=FOUR, fault=name, chance=chance) for name in names if name in possible]
    for line in learned_shares(outcomes):
        assert 1 / MOST_FACTOR - 1e-9 <= line.factor <= MOST_FACTOR + 1e-9
        assert line.counted <= line.outcomes + 1e-9
        assert math.isfinite(line.here)


@given(st.lists(st.floats(0.1, 600.0), max_size=30))
def test_minutes_stay_between_what_was_planned_and_what_was_timed(timed):
    known = learned_minutes(10.0, timed)
    used = [t for t in timed if 2.5 <= t <= 40.0]
    assert min([10.0, *used]) - 1e-9 <= known <= max([10.0, *used]) + 1e-9


def test_timings_weigh_beside_the_plan():
    assert learned_minutes(10.0, [20.0] * int(MINUTES_COUNT_AS)) == pytest.approx(math.sqrt(200.0))
    assert learned_minutes(10.0, [500.0, 0.2]) == 10.0


@pytest.mark.parametrize(("agreed", "disagreed", "weight"), [(0, 0, 1.0), (50, 0, 1.0), (0, 20, 0.1)])
def test_a_test_is_never_trusted_more_than_usual(agreed, disagreed, weight):
    assert agreement_weight(agreed, disagreed) == pytest.approx(weight)


def test_a_test_that_disagrees_often_weighs_less_and_less():
    assert 1.0 > agreement_weight(10, 2) > agreement_weight(10, 6) > 0.1


def test_what_was_learned_moves_the_priors_and_keeps_their_sum():
    plain, moved = hypotheses(case(FOUR)), hypotheses(case(FOUR), {"cut_by_ecu": 3.0})
    share = [sum(h.prior for h in of if h.fault == "cut_by_ecu") for of in (plain, moved)]
    assert 2.5 < share[1] / share[0] < 3.0
    assert sum(h.prior for h in moved) == pytest.approx(1.0)


def test_a_code_of_the_shop_nudges_as_it_was_told():
    reported = case(FOUR, codes=(TroubleCode("P1234"),))
    plain = sum(h.prior for h in hypotheses(reported) if h.fault == "injector_leaking")
    told = hypotheses(reported, codes={"P1234": {"injector_leaking": 4.0}})
    assert sum(h.prior for h in told if h.fault == "injector_leaking") > 3 * plain

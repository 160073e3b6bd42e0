from dataclasses import fields, replace

import numpy as np
import pytest

from fairwitness.core.messages.message import verbatim
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import Fuel, Ignition, Injection, even_engine
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.model.tools import HAND_TOOLS_ONLY, Tool, Turning
from fairwitness.core.procedures.spec import MISREAD
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference.hypotheses import Hypothesis, hypotheses
from fairwitness.core.reason.inference.posterior import Posterior, infer
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.planning.approach import Approach, Bay, Proof, School
from fairwitness.core.reason.planning.minutes import minutes_of
from fairwitness.core.reason.planning.plan import Standing, information_bits, next_tests
from fairwitness.core.reason.planning.plan_records import Done
from fairwitness.core.reason.verdict import SECOND_SOURCE
from tests.core.reason.evidence import case, line

FOUR = even_engine((1, 3, 4, 2))


def between(*pairs):
    faults = tuple(Hypothesis(fault, Cause.MECHANICAL, cylinders, 0.5) for fault, cylinders in pairs)
    return Posterior(hypotheses=faults, probabilities=np.full(len(pairs), 1 / len(pairs)))


def test_a_test_that_splits_two_even_chances_tells_nearly_a_bit():
    even = between(("coil_primary_open", (3,)), ("injector_stuck_closed", (3,)))
    bits = information_bits(OFFERS["coil_current"], even, (3,))
    slip = MISREAD / 2
    exact = 1 + slip * np.log2(slip) + (1 - slip) * np.log2(1 - slip)
    assert bits == pytest.approx(exact)


def test_a_test_that_shows_the_same_for_both_tells_nothing():
    even = between(("ring_or_piston_leak", (3,)), ("intake_valve_leak", (3,)))
    assert information_bits(OFFERS["relative_compression"], even, (1, 2, 3, 4)) == 0.0


STANDING = {f.name for f in fields(Standing)}


def asked(posterior, engine, **options):
    standing = Standing(**{k: v for k, v in options.items() if k in STANDING})
    return next_tests(posterior, engine, standing=standing, **{k: v for k, v in options.items() if k not in STANDING})


def plan(low, *, tests=("relative_compression",), **options):
    posterior = infer(hypotheses(case(FOUR)), [line(FOUR, low)], FOUR)
    return asked(posterior, FOUR, **{"done": Done(tests=tests), "accused": tuple(low)} | options)


def asked_first(**options):
    posterior = infer(hypotheses(case(FOUR)), [], FOUR)
    return asked(posterior, FOUR, **{"done": Done()} | options)


def test_after_a_dead_hole_it_asks_where_the_pressure_goes():
    assert plan({3: 0.05}).offers[0].test in ("intake_pulse", "crankcase_pulse", "leak_down")


def test_a_test_of_one_cylinder_is_asked_of_the_accused():
    offer = next(o for o in plan({3: 0.05}).offers if o.id == "leak_down")
    assert offer.cylinders == (3,)


def test_where_valves_may_have_met_pistons_the_marks_come_before_whatever_turns_it():
    slipped = replace(
        between(("valve_timing_shifted", (1, 4)), ("head_gasket_leak", (1, 4))), probabilities=np.array([0.9, 0.1])
    )
    given = {"done": Done(tests=("relative_compression",)), "accused": (1, 4)}
    offers = asked(slipped, FOUR, bay=Bay(valves_may_have_met=True), **given).offers
    turning = [o.id for o in offers if OFFERS[o.id].turning in (Turning.CRANKING, Turning.RUNNING)]
    at_rest = [o.id for o in offers if o.id not in turning]
    assert "first_look:timing_marks" in at_rest
    assert turning
    ids = [o.id for o in offers]
    assert ids.index("first_look:timing_marks") < min(map(ids.index, turning))


def test_after_even_compression_it_leaves_the_mechanics():
    assert plan({}).offers[0].test in (
        "crank_speed",
        "exhaust_pulse",
        "misfire_counts",
        "secondary_voltage",
        "injector_current",
    )


def test_nothing_measured_means_compression_first_in_the_main_school():
    first = asked_first()
    electrical = asked_first(approach=Approach(order=School.CODES_FIRST))
    assert first.offers[0].test == "relative_compression"
    assert electrical.offers[0].test != "relative_compression"
    assert {o.id for o in first.offers} == {o.id for o in electrical.offers}


def test_what_is_done_is_not_offered_again():
    assert "relative_compression" not in {o.test for o in plan({3: 0.05}).offers}


def test_every_offer_has_minutes_reason_and_cautions():
    for offer in plan({3: 0.05}).offers:
        assert offer.minutes > 0
        assert offer.information_bits > 0
        assert f"{offer.minutes:g} min" in render(offer.reason)
        assert offer.cautions or OFFERS[offer.id].turning is Turning.STILL


def test_diesels_are_not_sent_to_coils():
    engine = even_engine(
        (1, 3, 4, 2), fuel=Fuel.DIESEL, ignition=Ignition.COMPRESSION_IGNITION, injection=Injection.COMMON_RAIL
    )
    posterior = infer(hypotheses(case(engine)), [], engine)
    offered = {o.test for o in asked(posterior, engine, done=Done()).offers}
    assert offered.isdisjoint({"secondary_voltage", "coil_current", "coil_control"})


def test_only_what_the_bay_owns_is_offered():
    offered = asked_first(approach=Approach(tools=HAND_TOOLS_ONLY)).offers
    assert offered
    assert all(set(OFFERS[o.id].needs) <= HAND_TOOLS_ONLY for o in offered)
    assert "cranking_speed" in {o.id for o in offered}


def test_a_second_test_with_the_same_clamp_is_cheap():
    test = OFFERS["coil_current"]
    apart = minutes_of(test, FOUR.firing_order, Approach(), Bay())
    together = minutes_of(test, FOUR.firing_order, Approach(), Bay(connected=frozenset(test.needs)))
    assert together < 0.6 * apart


def test_access_of_an_engine_changes_the_minutes():
    own = minutes_of(OFFERS["swap:plug"], (3,), Approach(minutes={"swap:plug": 40.0}), Bay())
    assert own == 40.0


def test_disabled_fuel_costs_a_minute_and_a_word_before_running():
    offer = next(o for o in plan({}, bay=Bay(fuel_disabled=True)).offers if o.id == "crank_speed")
    usual = next(o for o in plan({}).offers if o.id == "crank_speed")
    assert offer.minutes == usual.minutes + 1
    assert "enable it again" in render(offer.cautions[0])


def test_an_engine_that_must_not_turn_is_only_measured_at_rest():
    reported = plan({3: 0.05}, bay=Bay(held=verbatim("A cylinder may be full of fuel.")))
    assert all(OFFERS[o.id].turning.value == "still" for o in reported.offers)
    assert "tests wait" in render(reported.held_back[0])


def test_each_outcome_says_what_it_would_mean():
    implications = plan({}).offers[0].implications
    assert sum(m.chance for m in implications) <= 1.001
    assert all(m.words and render(m.then) for m in implications)
    assert [m.chance for m in implications] == sorted((m.chance for m in implications), reverse=True)


def test_a_missing_condition_is_worth_asking_though_nothing_is_open():
    reported = plan({3: 0.05}, wanted={"visual:plug": ("why_died",)})
    offer = next(o for o in reported.offers if o.id == "visual:plug")
    assert offer.proves == ("why_died",)
    assert offer.rank > next(o for o in plan({3: 0.05}).offers if o.id == "leak_down").rank * 0.1


def test_who_measures_in_place_is_sent_to_change_over_later():
    def place(approach):
        ids = [o.id for o in plan({}, accused=(3,), approach=approach).offers]
        return ids.index("swap:coil") if "swap:coil" in ids else len(ids)

    assert place(Approach(proof=Proof.SWAP)) < place(Approach(proof=Proof.IN_PLACE))


def test_it_stops_once_the_discipline_is_met():
    reported = plan({3: 0.05}, established=True)
    assert reported.done
    assert render(reported.stop).startswith("Stop testing")


def test_every_tool_is_needed_by_some_test():
    assert set(Tool) == {tool for test in OFFERS.values() for tool in test.needs}


def bits_of(offered, name):
    return next((o.information_bits for o in offered if o.id == name), 0.0)


def test_a_quantity_that_was_read_tells_less_when_it_is_read_again():
    fresh = plan({}).offers
    again = plan({}, done=Done(tests=("relative_compression",), columns=("RC", "CON"))).offers
    assert bits_of(again, "misfire_counts") < 0.5 * bits_of(fresh, "misfire_counts")
    assert bits_of(again, "exhaust_pulse") < 0.5 * bits_of(fresh, "exhaust_pulse")
    assert bits_of(again, "injector_current") == bits_of(fresh, "injector_current")


def test_no_test_is_taken_for_a_witness_that_comes_anyway():
    leaking = [line(FOUR, {3: 0.3}), replace(line(FOUR, {3: 1.6}, source="capture:k"), line="CK")]
    posterior = infer(hypotheses(case(FOUR)), leaking, FOUR)
    assert posterior.hypotheses[0].fault == "ring_or_piston_leak"

    def witnesses(wanted):
        done = Done(tests=("relative_compression", "crankcase_pulse"), columns=("RC", "CK"))
        reported = asked(posterior, FOUR, done=done, accused=(3,), wanted=wanted, second_source=True)
        return {o.id for o in reported.offers if SECOND_SOURCE in o.proves}

    assert "exhaust_pulse" in witnesses({})
    assert witnesses({"leak_down": ("where",)}) == {"leak_down"}
    assert "exhaust_pulse" in witnesses({"resistance:injector": ("circuit",)})  # it would show no leak


def test_what_is_looked_at_while_it_does_not_start_is_not_asked_of_one_that_runs():
    def asked_of(symptom):
        posterior = infer(hypotheses(case(FOUR, symptom=symptom)), [], FOUR)
        reported = next_tests(posterior, FOUR, done=Done(), standing=Standing(), bay=Bay(runs=symptom.runs))
        return {o.id for o in reported.offers}

    running, still = asked_of(Symptom.RUNS_BADLY), asked_of(Symptom.NO_START)
    assert not any(id.startswith("no_start:") for id in running)
    assert any(id.startswith("no_start:") for id in still)


def test_one_power_balance_is_enough_however_it_was_taken():
    left = Done(tests={"power_balance"}).left
    assert left(OFFERS["power_balance:shorting"], (1, 2)) == ()
    assert left(OFFERS["crank_speed"], (1, 2)) == (1, 2)

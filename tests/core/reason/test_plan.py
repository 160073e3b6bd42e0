import numpy as np
import pytest

from fairwitness.core.engine import Fuel, Ignition, Injection, even_engine
from fairwitness.core.reason.faults import Cause
from fairwitness.core.reason.hypotheses import Hypothesis, hypotheses
from fairwitness.core.reason.inference import Posterior, infer
from fairwitness.core.reason.plan import BAY_TESTS, MISREAD, School, information_bits, next_tests
from tests.core.reason.evidence import case, line

FOUR = even_engine((1, 3, 4, 2))
TESTS = {t.id: t for t in BAY_TESTS}


def between(*pairs):
    faults = tuple(Hypothesis(fault, Cause.MECHANICAL, cylinders, 0.5) for fault, cylinders in pairs)
    return Posterior(hypotheses=faults, probabilities=np.full(len(pairs), 1 / len(pairs)))


def test_a_test_that_splits_two_even_chances_tells_nearly_a_bit():
    even = between(("ring_or_piston_leak", (3,)), ("intake_valve_leak", (3,)))
    bits = information_bits(TESTS["crankcase_pulse"], even, (3,))
    slip = MISREAD / 2
    exact = 1 + slip * np.log2(slip) + (1 - slip) * np.log2(1 - slip)
    assert bits == pytest.approx(exact)


def test_a_test_that_shows_the_same_for_both_tells_nothing():
    even = between(("ring_or_piston_leak", (3,)), ("intake_valve_leak", (3,)))
    assert information_bits(TESTS["relative_compression"], even, (1, 2, 3, 4)) == 0.0


def plan(low, **options):
    posterior = infer(hypotheses(case(FOUR)), [line(FOUR, low)], FOUR)
    settings = {"done": ("relative_compression",), "accused": tuple(low)} | options
    return next_tests(posterior, FOUR, **settings)


def test_after_a_dead_hole_it_asks_where_the_pressure_goes():
    assert plan({3: 0.05})[0].test in ("intake_pulse", "crankcase_pulse", "leak_down")
    assert plan({3: 0.05})[0].cylinders == (3,)


def test_after_even_compression_it_leaves_the_mechanics():
    assert plan({})[0].test in (
        "crank_speed",
        "exhaust_pulse",
        "secondary_voltage",
        "power_balance",
        "injector_current",
    )


def test_nothing_measured_means_compression_first_in_the_main_school():
    posterior = infer(hypotheses(case(FOUR)), [], FOUR)
    first = next_tests(posterior, FOUR, done=(), accused=())
    electrical = next_tests(posterior, FOUR, done=(), accused=(), school=School.CODES_FIRST)
    assert first[0].test == "relative_compression"
    assert electrical[0].test != "relative_compression"
    assert {t.test for t in first} == {t.test for t in electrical}


def test_what_is_done_is_not_offered_again():
    assert "relative_compression" not in {t.test for t in plan({3: 0.05})}


def test_every_offer_has_minutes_reason_and_cautions():
    for offer in plan({3: 0.05}):
        assert offer.minutes > 0
        assert offer.information_bits > 0
        assert str(int(offer.minutes)) in offer.reason
        assert offer.cautions


def test_diesels_are_not_sent_to_coils():
    engine = even_engine(
        (1, 3, 4, 2), fuel=Fuel.DIESEL, ignition=Ignition.COMPRESSION_IGNITION, injection=Injection.COMMON_RAIL
    )
    posterior = infer(hypotheses(case(engine)), [], engine)
    offered = {t.test for t in next_tests(posterior, engine, done=(), accused=())}
    assert offered.isdisjoint({"secondary_voltage", "coil_current", "coil_control"})

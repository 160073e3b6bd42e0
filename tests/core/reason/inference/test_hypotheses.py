import pytest

from fairwitness.core.model.case import TroubleCode
from fairwitness.core.model.engine import Fuel, Ignition, Injection, even_engine
from fairwitness.core.reason.inference.hypotheses import Hypothesis, Placed, hypotheses, joined
from fairwitness.core.reason.knowledge.fault_spec import Cause, Mode
from tests.core.reason.evidence import case


def prior(found, fault, cylinders):
    return next(h.prior for h in found if h.placed == (Placed(fault, cylinders),))


def test_priors_sum_to_one(four):
    assert sum(h.prior for h in hypotheses(case(four))) == pytest.approx(1.0)


def test_gaskets_blow_between_neighbours_only(four):
    places = {h.cylinders for h in hypotheses(case(four)) if h.fault == "head_gasket_leak"}
    assert places == {(1, 2), (2, 3), (3, 4)}


def test_a_shared_coil_takes_both_its_cylinders():
    engine = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK)
    places = {h.cylinders for h in hypotheses(case(engine)) if h.fault == "coil_primary_open"}
    assert places == {(1, 4), (2, 3)}


def test_diesels_have_no_ignition_faults():
    engine = even_engine(
        (1, 3, 4, 2),
        fuel=Fuel.DIESEL,
        ignition=Ignition.COMPRESSION_IGNITION,
        injection=Injection.COMMON_RAIL,
    )
    assert not any(h.cause is Cause.IGNITION for h in hypotheses(case(engine)))


def test_codes_nudge_and_do_not_decide(four):
    plain = hypotheses(case(four))
    misfire = hypotheses(case(four, codes=(TroubleCode("P0303"),)))
    circuit = hypotheses(case(four, codes=(TroubleCode("p0203"),)))
    assert prior(misfire, "plug_shorted", (3,)) > prior(plain, "plug_shorted", (3,))
    assert prior(circuit, "injector_open_circuit", (3,)) > 2 * prior(plain, "injector_open_circuit", (3,))
    assert prior(circuit, "injector_open_circuit", (3,)) < 0.5


@pytest.mark.parametrize("code", ["", "P03", "P0420", "P0314", "Q0303", "P0303X", "<b>"])
def test_other_codes_change_nothing(four, code):
    assert hypotheses(case(four, codes=(TroubleCode(code),))) == hypotheses(case(four))


def test_a_worn_part_may_sit_in_two_cylinders_and_a_control_unit_may_not(four):
    pairs = {h.fault for h in hypotheses(case(four)) if len(h.cylinders) == 2 and not h.also}
    assert {"plug_gap_wide", "ring_or_piston_leak", "injector_restricted"} <= pairs
    assert "coil_driver_failed" not in pairs


def test_what_died_of_what_names_the_root_first(four):
    burnt = next(h for h in hypotheses(case(four)) if h.fault == "secondary_open" and h.also)
    assert burnt.cause is Cause.IGNITION
    assert burnt.also[0].fault.startswith("coil_")
    assert burnt.also[0].cylinders == burnt.cylinders


def test_a_fault_that_comes_and_goes_is_a_hypothesis_of_its_own(four):
    modes = {h.mode for h in hypotheses(case(four)) if h.fault == "injector_open_circuit"}
    assert modes == {Mode.STAYS, Mode.INTERMITTENT}


def test_two_unrelated_faults_are_as_rare_as_their_priors_say():
    one = Hypothesis("plug_shorted", Cause.IGNITION, (1,), 0.02)
    other = Hypothesis("ring_or_piston_leak", Cause.MECHANICAL, (3,), 0.01)
    both = joined(one, other)
    assert both.placed == (Placed("plug_shorted", (1,)), Placed("ring_or_piston_leak", (3,)))
    assert both.everywhere == (1, 3)
    assert both.prior < 0.02 * 0.01
    assert joined(one, one) is None
    assert joined(both, other) is None


def test_a_diesel_does_not_mind_extra_air():
    engine = even_engine(
        (1, 3, 4, 2), fuel=Fuel.DIESEL, ignition=Ignition.COMPRESSION_IGNITION, injection=Injection.COMMON_RAIL
    )
    assert not any(h.fault == "unmetered_air_at_runner" for h in hypotheses(case(engine)))


def test_only_bent_valves_single_out_companions(four):
    timed = {h.cylinders: h.mode for h in hypotheses(case(four)) if h.fault == "valve_timing_shifted" and not h.also}
    assert timed[(1, 2, 3, 4)] is Mode.STAYS
    assert timed[(1, 4)] is Mode.BENT

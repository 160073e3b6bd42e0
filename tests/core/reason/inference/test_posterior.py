from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core import thresholds as limit
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.inference.posterior import SourceTrust, infer
from fairwitness.core.reason.knowledge.fault_spec import Cause, Mode
from tests.core.reason.evidence import case, line

FOUR = even_engine((1, 3, 4, 2))


def posterior(*evidence, engine=FOUR):
    return infer(hypotheses(case(engine)), evidence, engine)


def test_without_evidence_the_priors_stand():
    result = posterior()
    assert result.probabilities.sum() == pytest.approx(1.0)
    assert sorted(result.probabilities) == pytest.approx(sorted(h.prior for h in hypotheses(case(FOUR))))


def test_a_dead_hole_is_mechanical_and_in_its_cylinder():
    result = posterior(line(FOUR, {3: 0.05}))
    assert result.of_cause(Cause.MECHANICAL) > 0.8
    assert result.of_cylinder(3, Cause.MECHANICAL) > 0.75  # the rest is a misread capture, or nothing known
    assert result.of_cylinder(1, Cause.MECHANICAL) < 0.1


def test_even_compression_clears_the_leaks():
    result = posterior(line(FOUR, {}))
    leaks = sum(
        p
        for h, p in zip(result.hypotheses, result.probabilities, strict=True)
        if "leak" in h.fault and h.cause is Cause.MECHANICAL
    )
    assert leaks < 0.02
    assert result.of_cause(Cause.IGNITION) > 0.3


def test_an_engine_low_everywhere_stays_possible():
    result = posterior(line(FOUR, {}))
    assert any(
        h.fault == "low_compression_all" and p > 0.005
        for h, p in zip(result.hypotheses, result.probabilities, strict=True)
    )


def test_a_whole_bank_speaks_for_valve_timing():
    six = even_engine((1, 6, 5, 4, 3, 2), banks=((1, 3, 5), (2, 4, 6)))
    top = posterior(line(six, {1: 0.6, 3: 0.62, 5: 0.58}), engine=six)
    assert (top.hypotheses[0].fault, top.hypotheses[0].cylinders) == ("valve_timing_shifted", (1, 3, 5))


def test_neighbours_in_the_block_speak_for_the_gasket():
    result = posterior(line(FOUR, {2: 0.3, 3: 0.3}))
    assert (result.hypotheses[0].fault, result.hypotheses[0].cylinders) == ("head_gasket_leak", (2, 3))


def test_an_open_assignment_is_shared_between_its_cylinders():
    result = posterior(line(FOUR, {3: 0.05}, order_offsets=(0, 2)))
    assert result.of_cause(Cause.MECHANICAL) > 0.8
    assert result.of_cylinder(3, Cause.MECHANICAL) == pytest.approx(result.of_cylinder(2, Cause.MECHANICAL), rel=0.2)


def test_a_second_witness_makes_surer():
    one = posterior(line(FOUR, {3: 0.7}, sigma=0.12))
    two = posterior(line(FOUR, {3: 0.7}, sigma=0.12), line(FOUR, {3: 0.7}, source="observation:0", sigma=0.12))
    assert two.of_cylinder(3, Cause.MECHANICAL) > one.of_cylinder(3, Cause.MECHANICAL)


def dead_at(cylinder, engine=FOUR):
    return replace(line(engine, {cylinder: 0.02}, source="capture:work"), line="CON")


def chance_of(result, fault, *cylinders):
    return sum(
        p
        for h, p in zip(result.hypotheses, result.probabilities, strict=True)
        if (h.fault, h.cylinders) == (fault, cylinders)
    )


def test_gas_that_is_not_let_out_is_compressed_again_in_the_companions_place():
    even = posterior(dead_at(3), line(FOUR, {}))
    twice = posterior(dead_at(3), line(FOUR, {2: 1.6}))  # 2 fires a revolution after 3
    beside = posterior(dead_at(3), line(FOUR, {4: 1.6}))
    assert chance_of(twice, "exhaust_valve_not_opening", 3) > 0.5 > chance_of(even, "exhaust_valve_not_opening", 3)
    assert chance_of(beside, "exhaust_valve_not_opening", 3) < 0.2


def test_on_three_cylinders_it_lies_between_the_two_others():
    three = even_engine((1, 3, 2))
    reported = posterior(dead_at(3, three), line(three, {1: 0.8, 2: 0.75}), engine=three)
    assert chance_of(reported, "exhaust_valve_not_opening", 3) > 10 * chance_of(reported, "coil_output_dead", 3)


def test_what_comes_and_goes_hides_from_all_numbers_of_a_capture_or_from_none():
    def spark(column, share):
        return replace(line(FOUR, {3: share}, source="capture:spark"), line=column)

    hidden = posterior(*(spark(column, 1.0) for column in ("FV", "SV", "SD")))
    gaps = CategoricalEvidence(kind="spark_gaps", outcome="some", cylinders=(3,), source="capture:spark")
    numbers = [spark(column, 1.0) for column in ("FV", "SV", "SD")]
    met = infer(hypotheses(case(FOUR)), numbers, FOUR, [gaps])
    seldom = [
        h for h in hidden.hypotheses if (h.fault, h.cylinders, h.mode) == ("coil_output_dead", (3,), Mode.INTERMITTENT)
    ]
    assert len(seldom) == 1
    now, then = (dict(zip(r.hypotheses, r.probabilities, strict=True))[seldom[0]] for r in (hidden, met))
    sound = [r.of_cause(Cause.NONE) for r in (hidden, met)]
    # Three even numbers cost it no more than one chance in two of having hidden, however many numbers there are.
    prior = seldom[0].prior / next(h.prior for h in hidden.hypotheses if h.cause is Cause.NONE)
    assert now / sound[0] == pytest.approx(0.5 * prior, rel=0.25)
    assert then / sound[1] > 20 * now / sound[0]


def test_ten_tests_that_missed_it_say_seldom_and_not_never():
    def reported(count):
        categorical = [
            CategoricalEvidence(kind="resistance:injector", outcome="normal", cylinders=(3,), source=f"observation:{i}")
            for i in range(count)
        ]
        result = infer(hypotheses(case(FOUR)), [], FOUR, categorical)
        ratio = dict(
            zip(((h.fault, h.cylinders, h.mode) for h in result.hypotheses), result.probabilities, strict=True)
        )
        sound = result.of_cause(Cause.NONE)
        return ratio["injector_open_circuit", (3,), Mode.INTERMITTENT] / sound, ratio[
            "injector_open_circuit", (3,), Mode.STAYS
        ] / sound

    (seldom, always), (seldom_after, always_after) = reported(0), reported(10)
    assert always_after < 1e-6 * always
    assert 0.05 * seldom < seldom_after < 0.5 * seldom


def test_where_two_of_three_are_ill_the_sound_one_is_the_measure():
    three = even_engine((1, 3, 2))
    low = replace(line(three, {1: 0.46}, source="capture:s", sigma=0.09), line="FV")
    reported = posterior(low, engine=three)
    assert chance_of(reported, "plug_gap_wide", 2, 3) > 20 * chance_of(reported, "plug_gap_wide", 1, 2)
    assert chance_of(reported, "plug_shorted", 1) > chance_of(
        reported, "plug_gap_wide", 2, 3
    )  # one fault is likelier than two


@settings(max_examples=40, deadline=None)
@given(st.lists(st.floats(0, 2), min_size=4, max_size=4), st.floats(0.02, 0.5))
def test_probabilities_always_sum_to_one(shares, sigma):
    result = posterior(line(FOUR, dict(zip(FOUR.firing_order, shares, strict=True)), sigma=sigma))
    assert result.probabilities.sum() == pytest.approx(1.0)
    assert (np.diff(result.probabilities) <= 1e-15).all()
    assert result.entropy_bits >= 0


SPARKS = ("FV", "SV", "SD", "SL", "RG")


def seen(column, shares, *, only=None, source="sweep:secondary_voltage"):
    """A comparison of all cylinders, or the part of one that was taken with the lead on one of them."""
    tried = np.array([only is None or i == only for i in range(len(shares))])
    return Evidence(
        line=column, source=source, alternatives=(np.where(tried, shares, 1.0),),
        sigmas=np.where(tried, 0.1, limit.NOT_TRIED_SIGMA.value),
    )  # fmt: skip


def by_name(result):
    named = ((h.fault, h.placed, h.mode) for h in result.hypotheses)
    return dict(zip(named, result.probabilities.tolist(), strict=True))


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 3), st.lists(st.floats(0.3, 2.5), min_size=len(SPARKS), max_size=len(SPARKS)))
def test_one_lead_after_the_other_says_what_all_at_once_say(odd, shares):
    readings = [np.where(np.arange(4) == odd, share, 1.0) for share in shares]
    at_once = by_name(posterior(*(seen(c, r) for c, r in zip(SPARKS, readings, strict=True))))
    parts = [seen(c, r, only=i) for c, r in zip(SPARKS, readings, strict=True) for i in range(4)]
    singly = by_name(posterior(*parts))
    for name in at_once | singly:  # of two faults only the likeliest pairs are weighed, and ties may fall either way
        assert singly.get(name, 0.0) == pytest.approx(at_once.get(name, 0.0), abs=0.01)


@pytest.mark.parametrize("column", ["RC", "FV", "CON"])
def test_cylinders_that_were_not_tried_say_nothing(column):
    untried = posterior(replace(seen(column, np.ones(4), only=0), sigmas=np.full(4, limit.NOT_TRIED_SIGMA.value)))
    assert by_name(untried) == pytest.approx(by_name(posterior()), rel=1e-6)


def reported(kind, outcome, cylinder, source="o"):
    return CategoricalEvidence(kind=kind, outcome=outcome, cylinders=(cylinder,), source=source)


def test_two_unrelated_faults_are_thought_of_only_where_one_does_not_explain():
    one = infer(hypotheses(case(FOUR)), [line(FOUR, {3: 0.05})], FOUR, [reported("leak_down", "exhaust", 3)])
    more = [reported("leak_down", "exhaust", 3, "a"), reported("resistance:injector", "open", 1, "b"),
            reported("load_lamp:injector", "flashing", 1, "c"), reported("swap:injector", "moved", 1, "d")]  # fmt: skip
    current = replace(line(FOUR, {1: 0.0}, source="capture:b", sigma=0.03), line="IC")
    two = infer(hypotheses(case(FOUR)), [line(FOUR, {3: 0.05}), current], FOUR, more)
    assert len(one.hypotheses) == len(hypotheses(case(FOUR)))
    assert {p.fault for p in two.hypotheses[0].placed} == {"exhaust_valve_leak", "injector_open_circuit"}
    assert two.hypotheses[0].everywhere == (1, 3)


def test_a_fault_that_comes_and_goes_is_not_cleared_by_a_reading_that_missed_it():
    def share(*categorical):
        found = infer(hypotheses(case(FOUR)), [], FOUR, categorical)
        pairs = zip(found.hypotheses, found.probabilities, strict=True)
        own = [(h, p) for h, p in pairs if h.fault == "injector_open_circuit" and h.cylinders == (3,)]
        return {h.mode: p for h, p in own if not h.also}

    before, after = share(), share(reported("resistance:injector", "normal", 3))
    assert after[Mode.INTERMITTENT] / before[Mode.INTERMITTENT] > 5 * after[Mode.STAYS] / before[Mode.STAYS]


def test_a_trusted_source_weighs_as_it_is_told_to():
    def leak(weight):
        found = infer(
            hypotheses(case(FOUR)), [line(FOUR, {3: 0.05})], FOUR, trust=SourceTrust(weight={"capture:a": weight})
        )
        return found.of_cylinder(3, Cause.MECHANICAL)

    assert leak(0.0) < leak(0.3) < leak(1.0)


def test_testimony_of_each_source_is_kept():
    found = infer(hypotheses(case(FOUR)), [line(FOUR, {3: 0.05})], FOUR, [reported("leak_down", "exhaust", 3)])
    assert found.sources == ("capture:a", "o")
    assert found.log_likelihoods.shape == (2, len(found.hypotheses))

"""Proof of repairs: only where everything that showed it is even again, never of a part that changed nothing."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.circumstances import Circumstances
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.phase import PartState
from fairwitness.core.reason.phases.changes import Change
from fairwitness.core.reason.phases.repair_proof import ProofStatus
from tests.core.reason.phases.states import case_of, put_back, repaired, seen, swapped

FOUR = even_engine((1, 3, 4, 2))
DEAD = seen(FOUR, {3: 0.0})
NO_SPARK = seen(FOUR, {3: 0.0}, test="secondary_voltage")


def proofs(taken, *phases, **about):
    return conclude(case_of(FOUR, phases, taken, **about), tuple(taken)).repairs


def test_even_again_in_work_and_reason_is_proven():
    (proof,) = proofs(
        [DEAD, NO_SPARK, seen(FOUR, {}, phase=1), seen(FOUR, {}, test="secondary_voltage", phase=1)],
        repaired("coil", 3),
    )
    assert proof.status is ProofStatus.PROVEN
    assert proof.wanted == ("crank_speed", "secondary_voltage")
    assert "The repair is proven: cylinder 3 even" in render(proof.words)
    assert {c.test: c.changes[3] for c in proof.compared} == dict.fromkeys(proof.wanted, Change.GONE)


def test_before_it_is_measured_again_the_proof_names_what_to_take():
    (proof,) = proofs([DEAD, NO_SPARK], repaired("coil", 3))
    assert (proof.status, proof.missing) == (ProofStatus.OPEN, ("crank_speed", "secondary_voltage"))
    (half,) = proofs([DEAD, NO_SPARK, seen(FOUR, {}, phase=1)], repaired("coil", 3))
    assert (half.status, half.missing) == (ProofStatus.OPEN, ("secondary_voltage",))


def test_as_before_is_not_cured_and_the_new_part_is_a_suspect_too():
    (proof,) = proofs([DEAD, seen(FOUR, {3: 0.0}, phase=1)], repaired("plug", 3))
    assert proof.status is ProofStatus.NOT_CURED
    assert "the part fitted is bad too" in render(proof.words)


def test_somewhat_better_is_not_cured_either():
    (proof,) = proofs([DEAD, seen(FOUR, {3: 0.6}, phase=1)], repaired("valves", 3))
    assert proof.status is ProofStatus.BETTER


def test_who_is_off_since_the_repair_is_named():
    (proof,) = proofs([DEAD, seen(FOUR, {4: 0.3}, phase=1)], repaired("valves", 3))
    assert proof.status is ProofStatus.SOMEBODY_ELSE
    assert "cylinder 4" in render(proof.words)


def test_a_wet_plug_is_expected_and_judged_together_with_the_part():
    wet = [DEAD, NO_SPARK, seen(FOUR, {3: 0.0}, phase=1), seen(FOUR, {3: 0.3}, test="secondary_voltage", phase=1)]
    (first,) = proofs(wet, repaired("coil", 3))
    assert first.status is ProofStatus.WET_PLUG
    dry = [*wet, seen(FOUR, {}, phase=2), seen(FOUR, {}, test="secondary_voltage", phase=2)]
    _, second = proofs(dry, repaired("coil", 3), repaired("plug", 3, number=2, fitted=PartState.REWORKED))
    assert second.status is ProofStatus.PROVEN
    in_vain = [*wet, seen(FOUR, {3: 0.0}, phase=2), seen(FOUR, {3: 0.0}, test="secondary_voltage", phase=2)]
    _, third = proofs(in_vain, repaired("coil", 3), repaired("plug", 3, number=2, fitted=PartState.REWORKED))
    assert third.status is ProofStatus.NOT_CURED
    assert "the coil was not it" in render(third.words)


def test_a_wet_plug_excuses_no_reason_that_stayed():
    taken = [DEAD, seen(FOUR, {3: 0.0}, test="injector_current"), seen(FOUR, {3: 0.0}, phase=1)]
    taken.append(seen(FOUR, {3: 0.0}, test="injector_current", phase=1))
    (proof,) = proofs(taken, repaired("coil", 3))
    assert proof.status is ProofStatus.NOT_CURED


def test_another_load_is_not_comparable():
    case = case_of(FOUR, [repaired("coil", 3)], [DEAD, seen(FOUR, {}, phase=1)])
    after = case.captures[1]
    cruising = type(after)(
        name=after.name, time=after.time, channels=(),
        set_up=type(after.set_up)(test=after.set_up.test, load="cruise", phase=1),
    )  # fmt: skip
    other = type(case)(name="t", engine=FOUR, phases=case.phases, captures=(case.captures[0], cruising))
    (proof,) = conclude(other, (DEAD, seen(FOUR, {}, phase=1))).repairs
    assert proof.status is ProofStatus.OPEN
    assert "under way after" in render(proof.compared[0].pair.why_not)


def test_a_complaint_with_conditions_is_proven_under_them_only():
    taken = [DEAD, seen(FOUR, {}, phase=1)]
    (proof,) = proofs(taken, repaired("coil", 3), complaint_when=Circumstances(wet=True))
    assert proof.status is ProofStatus.OPEN
    assert "wet" in render(proof.words)


def test_where_nothing_showed_it_nothing_can_prove_it():
    (proof,) = proofs([seen(FOUR, {}), seen(FOUR, {}, phase=1)], repaired("coil", 3))
    assert proof.status is ProofStatus.OPEN
    assert "reproduce the complaint" in render(proof.words)


def test_who_is_idle_after_a_repair_that_nothing_called_for_is_named():
    taken = (seen(FOUR, {}), seen(FOUR, {4: 0.0}, phase=1))
    diagnosis = conclude(case_of(FOUR, [repaired("valves", 3)], taken), taken)
    assert diagnosis.repairs[0].status is ProofStatus.SOMEBODY_ELSE
    assert diagnosis.verdict.cylinders == (4,)


def test_healthy_readings_after_the_repair_never_argue_about_how_it_came_in():
    before = conclude(case_of(FOUR, [], [DEAD, NO_SPARK]), (DEAD, NO_SPARK))
    taken = (DEAD, NO_SPARK, seen(FOUR, {}, phase=1), seen(FOUR, {}, test="secondary_voltage", phase=1))
    after = conclude(case_of(FOUR, [repaired("coil", 3)], taken), taken)
    assert after.verdict == before.verdict
    assert after.posterior.probabilities.tolist() == before.posterior.probabilities.tolist()


def chance(diagnosis, fault):
    chances = zip(diagnosis.posterior.hypotheses, diagnosis.posterior.probabilities, strict=True)
    return sum(p for h, p in chances if h.fault.startswith(fault) and h.cylinders == (3,))


def test_a_part_fitted_in_vain_is_cleared_and_what_is_taken_next_counts():
    taken = (DEAD, seen(FOUR, {3: 0.0}, phase=1))
    before = conclude(case_of(FOUR, [], taken[:1]), taken[:1])
    after = conclude(case_of(FOUR, [repaired("injector", 3, fitted=PartState.USED)], taken), taken)
    assert after.repairs[0].status is ProofStatus.WET_PLUG
    assert chance(after, "injector_stuck") == pytest.approx(chance(before, "injector_stuck"))
    taken = (*taken, seen(FOUR, {}, test="secondary_voltage", phase=1))
    cleared = conclude(case_of(FOUR, [repaired("injector", 3, fitted=PartState.USED)], taken), taken)
    assert cleared.repairs[0].status is ProofStatus.NOT_CURED
    assert "With a used injector at cylinder 3 the trouble stayed" in " ".join(
        render(f.statement) for f in cleared.findings
    )
    assert chance(cleared, "injector_stuck") < 0.5 * chance(after, "injector_stuck")


def test_parts_put_back_are_as_they_were():
    taken = (DEAD, seen(FOUR, {1: 0.0}, phase=1), seen(FOUR, {3: 0.0}, test="secondary_voltage", phase=2))
    diagnosis = conclude(case_of(FOUR, [swapped("coil", 3, 1), put_back(2)], taken), taken)
    assert diagnosis.verdict.cylinders == (3,)


@given(st.dictionaries(st.sampled_from([1, 2, 4]), st.floats(0.0, 1.0)), st.floats(0.0, 0.5))
def test_nothing_is_proven_while_the_cylinder_is_still_off(others, share):
    taken = [DEAD, seen(FOUR, {**others, 3: share}, phase=1)]
    (proof,) = proofs(taken, repaired("valves", 3))
    assert proof.status is not ProofStatus.PROVEN


@pytest.mark.parametrize("part", ["coil", "injector", "valves", "other"])
def test_every_status_has_words_that_name_the_part_or_the_test(part):
    for after in ({}, {3: 0.0}, {3: 0.6}, {4: 0.2}):
        (proof,) = proofs([DEAD, seen(FOUR, after, phase=1)], repaired(part, 3))
        assert render(proof.words)

"""Codes, earlier work and words of a complaint nudge; they never decide."""

import pytest

from fairwitness.core.model.case import TroubleCode
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.knowledge.nudges import MOST_NUDGE, nudges_of
from tests.core.reason.evidence import case


def chance(reported, fault, cylinder=3):
    return sum(h.prior for h in hypotheses(reported) if h.fault == fault and cylinder in h.everywhere)


@pytest.mark.parametrize(
    ("work", "fault"),
    [
        ("plugs replaced", "plug_gap_wide"),
        ("coil 3 replaced", "coil_output_dead"),
        ("new leads fitted", "secondary_open"),
        ("all injectors renewed", "injector_restricted"),
    ],
)
def test_a_new_part_is_less_often_the_fault_and_never_cleared(four, work, fault):
    plain, after = chance(case(four), fault), chance(case(four, work_done=(work,)), fault)
    assert 0.2 * plain < after < 0.8 * plain


def test_only_the_cylinder_that_was_worked_on_is_eased(four):
    reported = case(four, work_done=("coil 3 replaced",))
    assert chance(reported, "coil_output_dead", 3) < chance(reported, "coil_output_dead", 2)


def test_chain_work_speaks_for_valve_timing(four):
    assert chance(case(four, title="Weak after chain work"), "valve_timing_shifted") > 1.8 * chance(
        case(four), "valve_timing_shifted"
    )


@pytest.mark.parametrize(
    ("complaint", "fault"),
    [
        ("worse in the rain", "secondary_leak"),
        ("blue smoke and burns oil", "ring_or_piston_leak"),
        ("loses coolant, white smoke", "head_gasket_leak"),
        ("smells of petrol", "injector_leaking"),
        ("hisses at idle", "unmetered_air_at_runner"),
    ],
)
def test_words_of_a_complaint_lift_what_they_make_one_think_of(four, complaint, fault):
    assert chance(case(four, complaint=complaint), fault) > 1.3 * chance(case(four), fault)


def test_however_much_is_said_a_nudge_stays_a_nudge(four):
    reported = case(
        four, title="chain", complaint="timing chain belt", work_done=("timing belt changed", "cam chain fitted")
    )
    assert max(nudges_of(reported).values()) <= MOST_NUDGE


def test_text_that_means_nothing_changes_nothing(four):
    reported = case(four, complaint="<b>=cmd</b>", work_done=("", "1234", "coil of rope in the boot room"))
    assert not any(fault.startswith("injector") for fault, _ in nudges_of(reported))
    assert hypotheses(case(four, codes=(TroubleCode("P9999"),))) == hypotheses(case(four))

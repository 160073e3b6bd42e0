"""Codes, earlier work and a driver's signs nudge; they never decide, and no sentence is read."""

import pytest

from fairwitness.core.model.case import CodeOrigin, TroubleCode
from fairwitness.core.model.phase import PartState
from fairwitness.core.model.visit import PastVisit
from fairwitness.core.model.work import WorkDone
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.nudges import MOST_NUDGE, nudges_of
from fairwitness.core.reason.knowledge.signs import SIGNS
from tests.core.reason.evidence import case


def chance(reported, fault, cylinder=3):
    return sum(h.prior for h in hypotheses(reported) if h.fault == fault and cylinder in h.everywhere)


def new(part, *cylinders, fitted=PartState.NEW, **more):
    return WorkDone(part=part, cylinders=cylinders, fitted=fitted, **more)


@pytest.mark.parametrize(
    ("work", "fault"),
    [
        (new("plug"), "plug_gap_wide"),
        (new("coil", 3), "coil_output_dead"),
        (new("lead", fitted=PartState.USED), "secondary_open"),
        (new("injector", fitted=PartState.OTHER_MAKE), "injector_restricted"),
    ],
)
def test_a_new_part_is_less_often_the_fault_and_never_cleared(four, work, fault):
    plain, after = chance(case(four), fault), chance(case(four, work_done=(work,)), fault)
    assert 0.2 * plain < after < 0.8 * plain


def test_only_the_cylinder_that_was_worked_on_is_eased(four):
    reported = case(four, work_done=(new("coil", 3),))
    assert chance(reported, "coil_output_dead", 3) < chance(reported, "coil_output_dead", 2)


@pytest.mark.parametrize(
    "words",
    [
        "coil 3 not replaced",
        "2 weeks ago plugs were looked at",
        "new injector on order",
        "timing belt is fine",
        "",
        "=",
    ],
)
def test_what_somebody_wrote_in_a_sentence_is_never_read(four, words):
    reported = case(four, complaint=f"No smell of fuel. {words}", work_done=(WorkDone(words=words),))
    assert hypotheses(reported) == hypotheses(case(four))


def test_a_part_that_was_cleaned_is_no_new_part(four):
    reported = case(four, work_done=(new("coil", 3, fitted=PartState.REWORKED), new("plug", fitted=None)))
    assert hypotheses(reported) == hypotheses(case(four))


def test_work_on_the_timing_drive_speaks_for_valve_timing(four):
    after = case(four, work_done=(new("timing_drive"),))
    assert chance(after, "valve_timing_shifted") > 1.8 * chance(case(four), "valve_timing_shifted")


@pytest.mark.parametrize("sign", SIGNS)
def test_a_sign_lifts_what_it_makes_one_think_of(four, sign):
    for fault in SIGNS[sign].faults:
        assert fault in FAULTS
        assert chance(case(four, signs=(sign,)), fault) > 1.1 * chance(case(four), fault)


def test_however_much_is_said_a_nudge_stays_a_nudge(four):
    reported = case(four, signs=("after_timing_work",), work_done=(new("timing_drive"),) * 5)
    assert max(nudges_of(reported).values()) <= MOST_NUDGE


def test_what_means_nothing_changes_nothing(four):
    assert hypotheses(case(four, codes=(TroubleCode("P9999"),))) == hypotheses(case(four))
    assert hypotheses(case(four, signs=("moon is full",))) == hypotheses(case(four))


def test_a_code_that_the_own_testing_set_says_nothing(four):
    ours, theirs = (
        case(four, codes=(TroubleCode("P0303", origin=origin),))
        for origin in (CodeOrigin.OWN_TESTING, CodeOrigin.AFTER_CLEARING)
    )
    assert nudges_of(ours) == {}
    assert nudges_of(theirs)[("", 3)] > 1


def test_what_was_found_last_time_tells_and_never_decides(four):
    found = PastVisit(found="coil dead", fault="coil_output_dead", cylinders=(3,))
    plain, again = chance(case(four), "coil_output_dead"), chance(case(four, visits=(found,)), "coil_output_dead")
    assert plain < again < 2 * plain
    elsewhere = chance(case(four, visits=(found,)), "coil_output_dead", 2)
    assert elsewhere == pytest.approx(chance(case(four), "coil_output_dead", 2), rel=0.05)


def test_only_the_last_visit_that_found_something_counts(four):
    visits = (PastVisit(found="nothing"), PastVisit(fault="plug_shorted", cylinders=(1,)), PastVisit(fault="no"))
    assert set(nudges_of(case(four, visits=visits))) == {("plug_shorted", 1)}

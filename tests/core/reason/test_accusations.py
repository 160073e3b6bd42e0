"""Who is accused by what, and when two measurements contradict each other."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.messages.message import NOTHING
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.measurement import Finding, Origin, State
from fairwitness.core.reason.accusations import (
    accused_in,
    accused_in_any,
    accuses,
    contradicting,
    contradiction_words,
    deviates,
    high_is_sound,
    independent_source,
    lines_of,
    sealing_tested,
    somebody_unnamed,
)
from tests.core.reason.evidence import measured


def finding(state, *, test="relative_compression", cylinder=3, is_remark=False):
    return Finding(
        test=test, cylinder=cylinder, quantity=test, value=1.0, unit="1", spread=None, events=1, state=state,
        statement=NOTHING, origin=Origin(), is_remark=is_remark,
    )  # fmt: skip


@pytest.mark.parametrize(
    ("state", "speaks"),
    [
        (State.NORMAL, False),
        (State.LOW, True),
        (State.ABSENT, True),
        (State.ABNORMAL, True),
        (State.HIGH, True),
        (State.UNUSABLE, False),
    ],
)
def test_what_is_off_to_either_side_speaks_against_its_cylinder(state, speaks):
    assert deviates(finding(state, test="secondary_voltage")) is speaks


def test_a_remark_and_a_finding_of_nobody_accuse_nobody():
    assert not deviates(finding(State.ABSENT, is_remark=True))
    assert not deviates(finding(State.ABSENT, cylinder=None))


def test_more_work_than_the_peers_is_no_fault():
    assert high_is_sound("crank_speed")
    assert not deviates(finding(State.HIGH, test="crank_speed"))
    assert deviates(finding(State.LOW, test="crank_speed"))
    assert not high_is_sound("secondary_voltage")
    assert not high_is_sound("tea_leaves")


def test_all_who_are_named_are_gathered(four):
    one, other = measured(four, {3: 0.05}), measured(four, {2: 0.1, 3: 0.1}, name="b")
    assert accused_in(one) == {3}
    assert accused_in_any((one, other)) == {2, 3}
    assert accused_in_any(()) == frozenset()


def test_a_measurement_accuses_whom_it_names_or_somebody_unnamed(four):
    dead = measured(four, {3: 0.05})
    assert accuses(dead, (3,))
    assert accuses(dead, ())
    assert not accuses(dead, (2,))
    someone = replace(dead, findings=(finding(State.ABSENT, cylinder=None),))
    assert accuses(someone, (2,))
    assert somebody_unnamed((someone,))
    assert not somebody_unnamed((dead,))


def test_two_that_name_different_cylinders_contradict(four):
    one, other = measured(four, {3: 0.05}), measured(four, {2: 0.05}, name="b")
    assert contradicting((one, other)) == (one, other)
    said = render(contradiction_words((one, other)))
    assert "accuses cylinder 3" in said
    assert "accuses cylinder 2" in said


def test_a_shared_cylinder_another_quantity_or_an_open_assignment_is_no_contradiction(four):
    one, both = measured(four, {3: 0.05}), measured(four, {2: 0.05, 3: 0.05}, name="b")
    assert contradicting((one, both)) is None
    other = measured(four, {2: 0.05}, name="b")
    work = replace(other, lines=tuple(replace(line, line="CON") for line in other.lines))
    assert contradicting((one, work)) is None
    loose = replace(other, lines=tuple(replace(x, alternatives=(x.alternatives[0],) * 2) for x in other.lines))
    assert contradicting((one, loose)) is None


def test_a_capture_of_some_cylinders_does_not_contradict_one_of_others(four):
    one, other = measured(four, {3: 0.05}), measured(four, {2: 0.05}, name="b")
    part = replace(other, lines=tuple(replace(x, sigmas=np.array([9.0, 0.05, 0.05, 0.05])) for x in other.lines))
    assert contradicting((one, part)) is None


def test_sealing_counts_as_asked_where_it_was_tried(four):
    whole = measured(four, {})
    assert sealing_tested((whole,), four)
    assert not sealing_tested((measured(four, {}, usable=False),), four)
    gauge = replace(
        whole, lines=tuple(replace(x, line="CP", sigmas=np.array([0.05, 0.05, 9.0, 9.0])) for x in whole.lines)
    )
    assert not sealing_tested((gauge,), four)
    assert sealing_tested((gauge,), four, four.firing_order[:2])
    assert lines_of((gauge,)) == {"CP"}


def test_one_capture_and_one_kind_of_reading_are_one_source(four):
    assert independent_source(measured(four, {}, name="a")) != independent_source(measured(four, {}, name="b"))
    by_hand = replace(measured(four, {}), resource=None)
    assert independent_source(by_hand) == "relative_compression"

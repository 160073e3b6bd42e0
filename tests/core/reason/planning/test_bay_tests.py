"""The table of what a bay can do."""

import pytest

from fairwitness.core.procedures.registry import CAPTURE_TESTS, OBSERVATION_TESTS
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES
from fairwitness.core.reason.knowledge.proof import requirements
from fairwitness.core.reason.knowledge.signatures import COLUMNS
from fairwitness.core.reason.planning.bay_tests import ALL_TESTS, BY_ID, Turning, fits


def test_every_test_is_one_that_can_be_read():
    known = {m.TEST for m in (*CAPTURE_TESTS, *OBSERVATION_TESTS)}
    assert {t.test for t in ALL_TESTS} <= known


def test_every_test_reads_columns_and_outcomes_that_exist():
    for test in ALL_TESTS:
        assert test.columns or test.kinds
        assert set(test.columns) <= set(COLUMNS)
        assert set(test.kinds) <= set(OUTCOMES)


def test_whatever_turns_the_engine_or_opens_a_part_has_a_caution():
    assert all(t.cautions for t in ALL_TESTS)
    assert all(any("crank" in c.lower() for c in t.cautions) for t in ALL_TESTS if t.turning is Turning.CRANKING)


@pytest.mark.parametrize("fault", FAULTS)
def test_every_condition_of_the_discipline_can_be_met_by_some_test(fault):
    for predicate in requirements(fault):
        assert predicate.by
        assert set(predicate.by) <= set(BY_ID)


def test_one_test_of_a_kind_is_changed_over_on_each_engine(four):
    assert fits(BY_ID["swap:coil"], four)
    assert not fits(BY_ID["swap:lead"], four)

"""The plan stops before the engine is taken apart, until somebody said yes."""

import pytest

from fairwitness.core.model.decision import Agreement, Decision
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.planning.opening import WAITS_FOR_A_YES, before_opening
from fairwitness.core.reason.planning.plan_records import Plan
from fairwitness.core.reason.verdict import Status, Verdict


def held(fault, status=Status.SUPPORTED, decided=None):
    verdict = Verdict(
        status=status,
        cause=Cause.MECHANICAL,
        cylinders=(3,),
        rivals=(),
        faults=(fault,),
        probability=0.9,
        conditions=(),
    )
    return before_opening(Plan(), verdict, decided).held_back


@pytest.mark.parametrize("status", [Status.SUPPORTED, Status.ESTABLISHED])
def test_a_named_fault_inside_waits_for_the_owner(status):
    assert held("exhaust_valve_leak", status) == (WAITS_FOR_A_YES,)


def test_a_yes_to_something_else_is_no_yes():
    assert held("exhaust_valve_leak", decided=Decision(agreed=frozenset({Agreement.REPAIR}))) == (WAITS_FOR_A_YES,)
    assert held("exhaust_valve_leak", decided=Decision(agreed=frozenset({Agreement.OPEN_ENGINE}))) == ()


def test_nothing_is_held_where_nothing_is_opened_or_nobody_is_named():
    assert held("plug_gap_wide") == ()
    assert held("exhaust_valve_leak", Status.SUSPECTED) == ()

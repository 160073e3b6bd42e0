"""Even compression and no contribution: not sealing. What is said then, and what is asked next."""

import pytest

from fairwitness.core.diagnose import conclude, diagnose, measure_case
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.verdict import Status
from tests.conftest import cranking

DROPS = {1: 90, 2: 95, 3: 2, 4: 88}


def balance(drops):
    rows = [{"cylinder": c, "rpm_before": 800, "rpm_after": 800 - d} for c, d in drops.items()]
    return Observation(test="power_balance", data={"drops": rows})


def case(engine, *, low=None, drops=DROPS, **more):
    captures = () if low is None else (cranking(engine, low),)
    return Case(name="x", engine=engine, captures=captures, observations=(balance(drops),), **more)


def test_even_compression_and_no_work_is_ignition_or_fuel(four):
    reported = diagnose(case(four, low={}))
    assert reported.verdict.cylinders == (3,)
    assert reported.verdict.status is Status.SUSPECTED
    assert reported.posterior.of_cause(Cause.MECHANICAL) < 0.1
    assert "it is not the sealing. Go to ignition and fuel" in render(reported.statement.text)
    assert "Cylinder 3 does no work" in render(reported.statement.headline)
    assert {t.test for t in reported.plan.offers[:2]} & {"secondary_voltage", "injector_current", "coil_current"}
    assert reported.cylinders[2].contribution == "none"
    assert reported.cylinders[0].contribution == "full"


def test_low_compression_and_no_work_is_mechanical_by_two_lines(four):
    reported = diagnose(case(four, low={3: 0.05}))
    assert reported.verdict.status is Status.SUPPORTED
    assert reported.verdict.cause is Cause.MECHANICAL
    assert reported.verdict.cylinders == (3,)


def test_work_alone_leaves_all_causes_open_and_asks_for_sealing_first(four):
    reported = diagnose(case(four))
    assert reported.verdict.cause_open
    assert "why is still open" in render(reported.statement.headline)
    assert "Whether it seals" in render(reported.statement.text)
    assert any("relative compression" in render(text.text) for text in reported.statement.not_seen)
    assert reported.plan.offers[0].test == "relative_compression"


def test_leaking_one_and_idle_another_are_two_findings_not_a_quarrel(four):
    reported = diagnose(case(four, low={2: 0.4}))
    assert not reported.verdict.contradiction


def test_two_counts_of_the_same_thing_that_differ_are_a_quarrel(four):
    other = balance({1: 1, 2: 95, 3: 90, 4: 88})
    contradicting = Case(name="x", engine=four, observations=(balance(DROPS), other))
    reported = conclude(contradicting, tuple(measure_case(contradicting)))
    assert reported.verdict.status is Status.INCONCLUSIVE
    assert "accuses cylinder" in render(reported.verdict.contradiction)


def test_all_alike_with_even_compression_is_no_fault_found(four):
    reported = diagnose(case(four, low={}, drops=dict.fromkeys((1, 2, 3, 4), 90)))
    assert reported.verdict.status is Status.NO_FAULT_FOUND
    assert "all cylinders work alike" in render(reported.statement.headline)


@pytest.mark.parametrize("code", ["P0203", "P0353"])
def test_a_circuit_code_leans_and_does_not_decide(four, code):
    from fairwitness.core.model.case import TroubleCode

    plain = diagnose(case(four, low={})).posterior
    coded = diagnose(case(four, low={}, codes=(TroubleCode(code),))).posterior
    cause = Cause.FUEL if code == "P0203" else Cause.IGNITION
    assert plain.of_cause(cause) < coded.of_cause(cause) < 0.9

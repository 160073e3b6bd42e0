"""A reading by hand that an accusation hangs on is offered once more, and what the second one says is heard."""

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.planning.once_more import TIMES_MOST, Pivot, pivots

FOUR = even_engine((1, 3, 4, 2))
EVEN_WORK = Observation(
    test="power_balance",
    data={"drops": [{"cylinder": c, "rpm_before": 800.0, "rpm_after": 710.0} for c in (1, 2, 3, 4)]},
)


def ports(third):
    celsius = {"1": 118, "2": 124, "3": third, "4": 120}
    return Observation(test="exhaust_temperature", data={"ports": celsius, "air": 14, "seconds": 60})


def judged(*observations):
    return diagnose(Case(name="x", engine=FOUR, observations=observations))


def taken(diagnosis):
    return pivots(diagnosis.posterior, [m for m in diagnosis.measured if m.usable])


def test_a_cold_port_is_what_it_hangs_on():
    assert taken(judged(ports(85))) == (Pivot("exhaust_temperature", ()),)


def test_nothing_hangs_on_a_reading_where_all_are_alike():
    assert taken(judged(ports(117))) == ()


def test_it_is_offered_again_with_its_reason_after_all_else():
    offers = judged(ports(85), EVEN_WORK).plan.offers
    (again,) = [o for o in offers if o.again]
    assert again.id == "exhaust_temperature"
    assert "the accusation hangs on this reading" in render(again.reason)
    assert offers[-1] == again


def test_a_reading_that_was_repeated_is_not_asked_for_a_third_time():
    assert TIMES_MOST == 2
    assert not [o for o in judged(ports(85), ports(85)).plan.offers if o.again]


def test_the_second_reading_clears_or_confirms():
    once = judged(ports(85)).posterior.of_cause(Cause.NONE)
    assert judged(ports(85), ports(117)).posterior.of_cause(Cause.NONE) > once
    assert judged(ports(85), ports(85)).posterior.of_cause(Cause.NONE) < once


def test_a_capture_is_not_offered_again(four):
    from fairwitness.core.diagnose import conclude, measure_capture
    from tests.conftest import cranking

    case = Case(name="x", engine=four)
    read = tuple(measure_capture(cranking(four, {3: 0.75}), case))
    assert not [o for o in conclude(case, read).plan.offers if o.again]


def test_without_a_sound_engine_among_the_hypotheses_nothing_is_doubted():
    diagnosis = judged(ports(85))
    found = diagnosis.posterior
    keep = [i for i, h in enumerate(found.hypotheses) if h.cause is not Cause.NONE]
    left = Posterior(
        hypotheses=tuple(found.hypotheses[i] for i in keep), probabilities=found.probabilities[keep],
        sources=found.sources, log_likelihoods=found.log_likelihoods[:, keep],
    )  # fmt: skip
    assert pivots(left, diagnosis.measured) == ()


@pytest.mark.parametrize("third", [82, 88])
def test_as_long_as_it_is_offered_the_plan_goes_on(third):
    diagnosis = judged(ports(third), EVEN_WORK)
    assert any(o.again for o in diagnosis.plan.offers)
    assert not diagnosis.plan.done

"""When a contradiction is answered by the rest of the evidence."""

import numpy as np
import pytest

from fairwitness.core.reason.bearing import settled
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Cause
from tests.core.reason.evidence import measured


def believed(*ranked):
    hypotheses = tuple(Hypothesis(fault, Cause.MECHANICAL, cylinders, chance) for fault, cylinders, chance in ranked)
    return Posterior(hypotheses=hypotheses, probabilities=np.array([chance for *_, chance in ranked]))


@pytest.fixture
def pair(four):
    return measured(four, {3: 0.1}, name="one"), measured(four, {2: 0.1}, name="other")


def test_two_others_that_agree_who_is_ill_settle_it_though_the_fault_is_open(four, pair):
    usable = (*pair, measured(four, {3: 0.2}, name="b"), measured(four, {3: 0.3}, name="c"))
    open_fault = believed(
        ("ring_or_piston_leak", (3,), 0.6), ("exhaust_valve_leak", (3,), 0.38), ("no_fault", (), 0.02)
    )
    assert settled(open_fault, usable, pair)


@pytest.mark.parametrize("others", [1, 0])
def test_fewer_than_two_others_do_not(four, pair, others):
    usable = (*pair, *(measured(four, {3: 0.2}, name=f"b{i}") for i in range(others)))
    assert not settled(believed(("ring_or_piston_leak", (3,), 0.99), ("no_fault", (), 0.01)), usable, pair)


def test_two_others_do_not_while_another_cylinder_is_as_likely(four, pair):
    usable = (*pair, measured(four, {3: 0.2}, name="b"), measured(four, {3: 0.3}, name="c"))
    torn = believed(("ring_or_piston_leak", (3,), 0.6), ("ring_or_piston_leak", (2,), 0.4))
    assert not settled(torn, usable, pair)

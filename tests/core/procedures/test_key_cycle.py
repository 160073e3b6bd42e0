"""Key off and on again."""

import pytest

from fairwitness.core.model.case import Observation
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.key_cycle import measure


@pytest.mark.parametrize(
    ("injection", "state"), [("returns", State.ABNORMAL), ("stays_away", State.ABSENT), ("never_away", State.NORMAL)]
)
def test_each_way_is_one_outcome_at_its_cylinder(four, injection, state):
    reported = measure(Observation(test="key_cycle", data={"cylinder": 2, "injection": injection}), 0, four)
    assert reported.findings[0].state is state
    assert (reported.categorical[0].outcome, reported.categorical[0].cylinders) == (injection, (2,))


@pytest.mark.parametrize(
    "data", [{}, {"cylinder": 2}, {"injection": "returns"}, {"cylinder": 9, "injection": "returns"}]
)
def test_what_says_nothing_is_refused(four, data):
    assert not measure(Observation(test="key_cycle", data=data), 0, four).usable

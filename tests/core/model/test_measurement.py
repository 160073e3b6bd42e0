import dataclasses

import pytest

from fairwitness.core.messages.message import verbatim
from fairwitness.core.model.measurement import Finding, Origin, State


def test_a_finding_is_never_edited():
    finding = Finding(
        test="t",
        cylinder=1,
        quantity="q",
        value=0.0,
        unit="1",
        spread=None,
        events=0,
        state=State.ABSENT,
        statement=verbatim("s"),
        origin=Origin(resource="a"),
    )
    with pytest.raises(dataclasses.FrozenInstanceError):
        finding.value = 1.0


def test_the_states_are_those_of_the_format():
    assert {s.value for s in State} == {"normal", "low", "high", "absent", "abnormal", "unusable"}

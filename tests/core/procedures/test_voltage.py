"""Voltages by hand where the meaning hangs on the plug: nothing at an open connector is what many drivers show."""

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures import voltage

FOUR = even_engine((1, 3, 4, 2))


def control(volts, *, unplugged):
    data = {"item": "injector_control", "cylinder": 2, "engine_state": "key_on", "volts": volts, "unplugged": unplugged}
    return Observation(test="voltage", data=data)


@pytest.mark.parametrize(
    ("volts", "unplugged", "state"),
    [
        (0.0, True, State.NORMAL),
        (3.2, True, State.NORMAL),
        (12.4, True, State.ABNORMAL),
        (0.0, False, State.ABNORMAL),
        (3.2, False, State.ABNORMAL),
        (12.4, False, State.NORMAL),
    ],
)
def test_the_control_side_means_something_else_with_nothing_plugged_in(volts, unplugged, state):
    measured = voltage.measure(control(volts, unplugged=unplugged), 0, FOUR)
    assert measured.findings[0].state is state


def test_nothing_at_an_open_connector_accuses_nobody():
    found = diagnose(Case(name="x", engine=FOUR, observations=(control(0.0, unplugged=True),)))
    assert not found.verdict.accuses

"""Limits go by what the battery is; common practice throughout."""

import numpy as np
import pytest

from fairwitness.core.model.battery import nominal_volts, scaled
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.voltage import measure

FOUR = even_engine((1, 3, 4, 2))


@pytest.mark.parametrize(
    ("volts", "rested", "nominal"),
    [(6.3, True, 6), (12.6, True, 12), (25.3, True, 24), (10.2, False, 12), (7.0, False, 12), (19.5, False, 24),
     (-12.6, True, 12), (-25.0, True, 24), (1.2, True, 12)],
)  # fmt: skip
def test_nominal_voltage_by_what_is_measured(volts, rested, nominal):
    assert nominal_volts(volts, rested=rested) == nominal


def test_limits_are_for_twelve_volts_and_go_with_the_battery():
    assert scaled(9.6, 12) == 9.6
    assert scaled(9.6, 24) == pytest.approx(19.2)
    assert np.isclose(scaled(12.4, 6), 6.2)


@pytest.mark.parametrize(
    ("volts", "state", "low"),
    [(25.4, "key_off", False), (24.1, "key_off", True), (12.6, "key_off", False), (12.1, "key_off", True),
     (6.3, "key_off", False), (6.0, "key_off", True), (19.8, "cranking", False), (18.0, "cranking", True)],
)  # fmt: skip
def test_a_battery_is_judged_as_the_one_it_is(volts, state, low):
    data = {"item": "battery", "volts": volts, "engine_state": state}
    measured = measure(Observation(test="voltage", data=data), 0, FOUR)
    assert measured.usable
    assert (measured.findings[0].state is State.LOW) is low

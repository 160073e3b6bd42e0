"""The calculator of injector currents and resistances."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import ObservationError
from fairwitness.core.model.copper import copper_resistance, copper_temperature
from fairwitness.core.signal.injector.electrical import expected_current, expected_ohms


@given(ohm=st.floats(0.6, 20.0), volts=st.floats(9.0, 28.0), celsius=st.floats(0.0, 140.0))
def test_current_and_resistance_are_each_others_reverse(ohm, volts, celsius):
    amps = expected_current(ohm, volts, celsius)
    assert expected_ohms(amps.value, volts, celsius).value == pytest.approx(ohm, rel=1e-9)
    assert amps.low < amps.value < amps.high


@given(celsius=st.floats(-40.0, 150.0), at=st.floats(-20.0, 60.0))
def test_temperature_and_resistance_are_each_others_reverse(celsius, at):
    ohm = copper_resistance(14.5, celsius, at_c=at)
    assert copper_temperature(ohm, 14.5, at_c=at) == pytest.approx(celsius, abs=1e-6)


def test_more_voltage_is_more_current_and_heat_is_less():
    assert expected_current(14.5, 14.2, 20).value > expected_current(14.5, 12.0, 20).value
    assert expected_current(14.5, 14.2, 90).value < expected_current(14.5, 14.2, 20).value


@pytest.mark.parametrize(
    ("about", "where"),
    [((0.0, 13.8, 20), "ohms"), ((14.5, 0.2, 20), "volts"), ((14.5, 13.8, 900), "celsius")],
)
def test_what_cannot_be_is_refused_with_its_place(about, where):
    with pytest.raises(ObservationError) as refusal:
        expected_current(*about)
    assert refusal.value.where == where

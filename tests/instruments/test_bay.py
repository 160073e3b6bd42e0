import numpy as np
import pytest

from fairwitness.core.errors import FairWitnessError, InstrumentError
from fairwitness.core.model.capture import Role
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.instruments.bay import EngineMotion

LEADS = {1: Clip(role=Role.STARTER_CURRENT), 2: Clip(role=Role.BATTERY_VOLTAGE)}


def test_cranking_needs_the_fuel_disabled_and_ends_by_itself(bay, clock):
    with pytest.raises(InstrumentError, match="fuel is on"):
        bay.crank(5)
    bay.fuel_disabled = True
    bay.crank(5)
    assert bay.motion is EngineMotion.CRANKING
    clock.pass_s(5.1)
    assert bay.motion is EngineMotion.OFF


def test_the_engine_does_not_start_without_fuel(bay):
    bay.fuel_disabled = True
    with pytest.raises(InstrumentError, match="fuel is disabled"):
        bay.run()


def test_the_starter_heats_up_and_cools(bay, clock):
    bay.fuel_disabled = True
    for _ in range(3):
        bay.crank(9)
        clock.pass_s(9)
    with pytest.raises(InstrumentError, match="starter is hot"):
        bay.crank(15)
    clock.pass_s(120)
    bay.crank(15)
    with pytest.raises(InstrumentError, match="too long"):
        bay.crank(60)


def test_cranking_costs_battery(bay, clock):
    before = bay.battery_v
    bay.fuel_disabled = True
    bay.crank(10)
    assert bay.battery_v < before


def test_a_parked_vehicle_shows_its_battery_and_nothing_else(bay):
    seen = bay.signals(LEADS, rate_hz=1000, seconds=1)
    assert not seen[1].any()
    assert np.allclose(seen[2], bay.battery_v)


def test_channels_of_one_crank_agree(bay):
    bay.fuel_disabled = True
    bay.crank(5)
    seen = bay.signals(LEADS, rate_hz=1000, seconds=5)
    assert np.corrcoef(seen[1], seen[2])[0, 1] < -0.98  # the battery sags as the starter draws


def test_cutting_needs_a_running_engine_and_a_known_cylinder(bay):
    with pytest.raises(InstrumentError, match="does not run"):
        bay.cut_cylinders((1,))
    bay.run()
    with pytest.raises(FairWitnessError, match="no cylinder 7"):
        bay.cut_cylinders((7,))
    bay.stop()
    assert bay.motion is EngineMotion.OFF

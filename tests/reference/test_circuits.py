"""Ohm's law and the RL response against closed form.

I(t) = V/R (1 - exp(-t R/L)): any circuit theory text, here as in Nilsson and Riedel, Electric Circuits, ch. 7 [P].
"""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.engine import even_engine
from fairwitness.simulate.cranking import crank
from fairwitness.simulate.population import vehicle_for

FOUR = even_engine((1, 3, 4, 2))


def locked():
    """An engine that cannot turn: the starter is a resistance behind an inductance."""
    vehicle = vehicle_for(FOUR, (1.0,) * 4, np.random.default_rng(2))
    return replace(vehicle, friction_nm=1e6, battery_sag_volt_s=0.0, starter_lag_s=0.02)


def test_locked_rotor_current_is_ohms():
    vehicle = locked()
    run = crank(vehicle, seconds=1.0, rest_s=0.0)
    expected = vehicle.battery_volt / (vehicle.battery_ohm + vehicle.starter_ohm)
    assert run.current_a[-1] == pytest.approx(expected, rel=1e-3)
    assert run.battery_v[-1] == pytest.approx(vehicle.battery_volt - expected * vehicle.battery_ohm, rel=1e-3)


def test_the_inrush_rises_like_resistance_and_inductance():
    vehicle = locked()
    run = crank(vehicle, seconds=0.2, rest_s=0.0, step_s=0.0001)
    resist = vehicle.battery_ohm + vehicle.starter_ohm
    closed_form = vehicle.battery_volt / resist * (1 - np.exp(-run.time_s / vehicle.starter_lag_s))
    np.testing.assert_allclose(run.current_a, closed_form, atol=0.006 * closed_form.max())


def test_no_load_speed_is_where_the_motor_generates_the_supply():
    """Back-EMF k omega = V at no load: the torque and voltage constant of a DC motor are one and the same."""
    vehicle = replace(locked(), friction_nm=0.0, friction_nm_s=0.0, displacement_m3=1e-9, starter_lag_s=0.001)
    run = crank(vehicle, seconds=6.0, rest_s=0.0)
    omega = run.speed_rpm[-1] * np.pi / 30
    assert vehicle.starter_nm_per_a * omega == pytest.approx(vehicle.battery_volt, rel=0.01)

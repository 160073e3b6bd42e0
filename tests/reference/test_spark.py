"""Breakdown and coil against published law and closed form."""

import math

import numpy as np
import pytest

from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Health
from fairwitness.simulate.ignition import coil_current, sparks
from fairwitness.simulate.running import run_engine
from fairwitness.simulate.spark import available_kv, paschen_v, primary_end_a, stored_j
from fairwitness.simulate.trajectory import CylinderCycles
from fairwitness.simulate.vehicle import IgnitionBuild

assert CylinderCycles  # the signals below are of these cycles


@pytest.mark.parametrize(
    ("kpa_cm", "volts"),
    # Paschen curve of air, breakdown of plane gaps at 20 degrees C. Source: Husain and Nema, Analysis of Paschen curves
    # for air, IEEE Trans. Electrical Insulation EI-17 (1982): minimum near 330 V; 1 cm at 101.3 kPa near 31.6 kV
    # (Meek and Craggs, Electrical Breakdown of Gases: 31.5 kV).
    [(101.325, 31_500.0), (50.0, 16_900.0), (10.0, 4_300.0)],
)
def test_breakdown_follows_the_published_curve_of_air(kpa_cm, volts):
    assert paschen_v(kpa_cm, 1.0) == pytest.approx(volts, rel=0.16)


def test_the_minimum_lies_where_it_is_published():
    # From memory: the minimum of air is about 330 V near 0.75 Pa m (0.075 kPa cm).
    products = np.geomspace(0.02, 10, 400)
    volts = np.array([paschen_v(p, 1.0) for p in products])
    at = int(np.argmin(volts))
    assert volts[at] == pytest.approx(330.0, rel=0.2)
    assert products[at] == pytest.approx(0.075, rel=0.5)


def test_only_the_product_of_pressure_and_gap_counts():
    assert paschen_v(200.0, 0.1) == pytest.approx(paschen_v(100.0, 0.2))


def test_firing_voltages_of_a_warm_idle_lie_where_practice_has_them():
    # Common practice, no source: 8 to 15 kV at idle, spark line 1 to 4 kV, duration over 0.9 ms.
    from tests.simulate.signals import secondary

    trajectory = run_engine(
        build(ENGINES["drover-2.0"], rng=np.random.default_rng(2)), seconds=2.0, rng=np.random.default_rng(1)
    )
    fv, sv, sd, _ = secondary(trajectory, 1)
    assert 7.0 < fv < 15.0
    assert 1.0 < sv < 4.0
    assert 0.9 < sd < 2.2


def test_the_coils_current_is_the_closed_form_of_a_resistance_and_an_inductance():
    # I(t) = V/R (1 - exp(-t R / L)), any textbook of circuits.
    build_ = IgnitionBuild(limit_a=None)
    for dwell in (0.001, 0.002, 0.004):
        expected = (
            (14.0 - build_.driver_drop_v)
            / build_.primary_ohm
            * (1 - math.exp(-dwell * build_.primary_ohm / build_.primary_henry))
        )
        assert primary_end_a(build_, Health(), battery_v=14.0, dwell_s=dwell) == pytest.approx(expected)


def test_the_current_on_the_feed_is_that_curve_after_the_ringing():
    vehicle = build(ENGINES["drover-2.0"], rng=np.random.default_rng(2))
    trajectory = run_engine(vehicle, seconds=1.0, rng=np.random.default_rng(1))
    times = np.arange(200_000) / 200_000
    amps = coil_current(trajectory, (1,), times)
    spark = next(s for s in sparks(trajectory, 1) if s.at_s > 0.05)
    part = vehicle.ignition
    since = 0.0012
    volts = float(np.mean(trajectory.run.battery_v)) - part.driver_drop_v
    expected = volts / part.primary_ohm * (1 - math.exp(-since * part.primary_ohm / part.primary_henry))
    assert np.interp(spark.at_s - spark.dwell_s + since, times, amps) == pytest.approx(expected, rel=0.01)


def test_stored_energy_is_half_l_i_squared_and_charges_the_capacity():
    build_ = IgnitionBuild(transfer=1.0, ceiling_kv=100.0)
    joule = stored_j(build_, Health(), 8.0)
    assert joule == pytest.approx(0.5 * build_.primary_henry * 64)
    volts = 1000 * available_kv(build_, joule)
    assert 0.5 * build_.capacity_f * volts**2 == pytest.approx(joule)

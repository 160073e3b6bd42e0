from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.engine import even_engine
from fairwitness.simulate.cranking import ATMOSPHERE_PA, CylinderGeometry, crank, cylinder_pressure, leak_for_sealing
from fairwitness.simulate.population import vehicle_for

GEOMETRY = CylinderGeometry(compression_ratio=10.0)
FOUR = even_engine((1, 3, 4, 2))


def vehicle(sealing=(1.0,) * 4):
    return vehicle_for(FOUR, sealing, np.random.default_rng(5))


def settled(run, values):
    return values[run.time_s > 2.5]


@pytest.mark.parametrize("share", [0.1, 0.4, 0.8])
def test_a_leak_leaves_the_share_asked_for(share):
    _, sound = cylinder_pressure(GEOMETRY, leak_per_s=0.0)
    _, leaky = cylinder_pressure(GEOMETRY, leak_per_s=leak_for_sealing(share, GEOMETRY))
    assert (leaky.max() - ATMOSPHERE_PA) / (sound.max() - ATMOSPHERE_PA) == pytest.approx(share, abs=0.02)


def test_a_leaking_cylinder_falls_faster_and_goes_below_atmosphere():
    angle, leaky = cylinder_pressure(GEOMETRY, leak_per_s=leak_for_sealing(0.5, GEOMETRY))
    before = np.interp(-60.0, angle, leaky)
    after = np.interp(60.0, angle, leaky)
    assert after < before
    assert leaky.min() < ATMOSPHERE_PA


def test_it_cranks_at_a_usual_speed_with_one_hump_per_cylinder():
    run = crank(vehicle(), seconds=6.0)
    speed = settled(run, run.speed_rpm)
    assert 140 < speed.mean() < 320
    inverted = np.ptp(settled(run, run.angle_deg)) / 720
    current = settled(run, run.current_a)
    rising = np.count_nonzero((current[1:] > current.mean()) & (current[:-1] <= current.mean()))
    assert rising == pytest.approx(4 * inverted, abs=2)


def test_the_battery_sags_by_ohms_law():
    model = replace(vehicle(), battery_sag_volt_s=0.0)
    run = crank(model, seconds=3.0)
    np.testing.assert_allclose(run.battery_v, model.battery_volt - model.battery_ohm * run.current_a)


def test_energy_is_kept():
    """Work of the starter = gas + friction + kinetic energy, within the solver's step error."""
    model = vehicle()
    run = crank(model, seconds=4.0, rest_s=0.0, step_s=0.0002)
    omega = run.speed_rpm * np.pi / 30
    start = np.searchsorted(run.time_s, 1.0)
    span = slice(start, None)
    steps = np.diff(run.time_s[span], prepend=run.time_s[start - 1])
    starter = (model.starter_nm_per_a * run.current_a[span] * omega[span] * steps).sum()
    friction = ((model.friction_nm + model.friction_nm_s * omega[span]) * omega[span] * steps).sum()
    kinetic = 0.5 * model.inertia * (omega[-1] ** 2 - omega[start] ** 2)
    gas = starter - friction - kinetic
    assert 0 < gas < 0.35 * starter


def test_the_same_seed_gives_the_same_crank():
    first, second = (crank(vehicle(), seconds=1.0) for _ in range(2))
    np.testing.assert_array_equal(first.current_a, second.current_a)

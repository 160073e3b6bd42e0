"""The running vehicle against handbook kinematics, thermodynamics and facts of the trade."""

import numpy as np
import pytest

from fairwitness.core.model.engine import even_engine
from fairwitness.simulate.cranking import CrankingVehicle
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.gas import GRID_DEG, tables_for
from fairwitness.simulate.health import Health
from fairwitness.simulate.injection import current_of
from fairwitness.simulate.running import run_engine
from fairwitness.simulate.trajectory import CRANKING_CHARGE_PA, crank_over
from fairwitness.simulate.vehicle import InjectionBuild


@pytest.fixture(scope="module")
def idle():
    return run_engine(
        build(ENGINES["drover-2.0"], rng=np.random.default_rng(3)), seconds=8.0, rng=np.random.default_rng(1)
    )


def test_the_volume_slope_is_the_handbooks_piston_speed():
    # Heywood, Internal Combustion Engine Fundamentals, eq. 2.11: dx/dtheta = a sin t (1 + cos t / sqrt(R^2 - sin^2 t)).
    turning = CrankingVehicle(engine=even_engine((1, 3, 4, 2)))
    table = tables_for(turning, Health(), speed_rpm=200.0, charge_pa=CRANKING_CHARGE_PA)
    theta = np.deg2rad(GRID_DEG)
    swept = turning.displacement_m3 / 4
    ratio = turning.rod_ratio
    slope = 0.5 * swept * np.sin(theta) * (1 + np.cos(theta) / np.sqrt(ratio**2 - np.sin(theta) ** 2))
    np.testing.assert_allclose(table.slope[2:-2], slope[2:-2], atol=1e-3 * np.abs(slope).max())


def test_motoring_compression_lies_between_isothermal_and_isentropic():
    # Closed-form bounds p (V1/V2)^n, n = 1 and 1.4 for air, any handbook of thermodynamics.
    turning = CrankingVehicle(engine=even_engine((1, 3, 4, 2)))
    table = tables_for(turning, Health(), speed_rpm=200.0, charge_pa=CRANKING_CHARGE_PA)
    from fairwitness.core.model.engine import cylinder_volume

    closing = cylinder_volume(
        np.array([turning.intake_closing_deg]), compression_ratio=turning.compression_ratio, rod_ratio=turning.rod_ratio
    )[0]
    assert closing < table.charge.max() < closing**1.4


def test_the_heat_released_comes_back_as_pressure(idle):
    # Constant-volume limit dp = (gamma - 1) Q / V: burning takes time, the peak stays under it.
    table = next(iter(idle.tables.values()))
    limit = idle.vehicle.turning.polytropic - 1
    assert 0.35 * limit < table.heat.max() < limit


def test_energy_of_the_crank_is_balanced_over_a_cycle(idle):
    # Steady idle: gas work per cycle equals friction and load, so the speed neither runs away nor dies.
    speed = idle.run.speed_rpm
    assert speed[-2000:].mean() == pytest.approx(speed[:2000].mean(), rel=0.05)


def test_idle_is_where_the_trade_has_it(idle):
    # Common practice, no source: vacuum at idle 57 to 75 kPa below atmosphere (17 to 22 inHg).
    below = 101.325 - idle.manifold_pa.mean() / 1000
    assert 57 < below < 75
    assert 600 < idle.run.speed_rpm.mean() < 950


def test_cranking_peaks_are_where_the_trade_has_them():
    # Common practice, no source: cranking in-cylinder peak 9 to 14 bar for petrol engines (absolute up to about 16).
    trajectory = crank_over(
        build(ENGINES["drover-2.0"], rng=np.random.default_rng(3)), seconds=4.0, rng=np.random.default_rng(1)
    )
    peak = max(
        trajectory.pressure(1, np.arange(tdc - 30, tdc + 31)).max() for tdc in trajectory.cylinders[1].tdc_deg[2:-2]
    )
    assert 9e5 < peak < 20e5


def test_an_injectors_current_is_the_closed_form_with_its_dip():
    # I(t) = V/R (1 - exp(-t R / L)) away from the moment the needle lands.
    part = InjectionBuild()
    since = np.array([0.0003, 0.0006, 0.0022, 0.0028])
    expected = (14.0 - part.driver_drop_v) / part.ohm * (1 - np.exp(-since * part.ohm / part.henry))
    np.testing.assert_allclose(current_of(part, Health(), 14.0, since, 0.003), expected, rtol=1e-3)
    landing = current_of(part, Health(), 14.0, np.array([part.lift_s]), 0.003)
    plain = (14.0 - part.driver_drop_v) / part.ohm * (1 - np.exp(-part.lift_s * part.ohm / part.henry))
    assert landing[0] < 0.95 * plain


def test_the_firing_frequency_is_speed_times_cylinders_over_120(idle):
    # Four-stroke: each cylinder once in two turns.
    speed = idle.run.speed_rpm
    even = np.interp(np.arange(0, idle.seconds, 0.001), idle.run.time_s, speed)
    power = np.abs(np.fft.rfft((even - even.mean()) * np.hanning(even.size))) ** 2
    peak_hz = np.fft.rfftfreq(even.size, 0.001)[np.argmax(power[20:]) + 20]
    assert peak_hz == pytest.approx(speed.mean() * 4 / 120, rel=0.03)

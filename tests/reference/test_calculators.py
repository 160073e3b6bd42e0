"""Calculators against handbook tables and worked examples.

Sources: ISO 2533:1975, Standard Atmosphere, table values [P]; Nilsson and Riedel, Electric Circuits, 7.3, the step
response reaches 63.2, 86.5 and 95.0 % after one, two and three time constants [P]; IEC 60028, copper 0.00393 per K at
20 degrees C [P]; FAA AC 43.13-1B, 8-14, differential compression test at 80 psi through 0.040 inch, where a cylinder
leaks as much as the tester's own orifice below 60/80 [P: orifice and pressures]; NIST SP 811 for inch and psi [P].
"""

import math

import pytest
from scipy import constants

from fairwitness.core.calculators import CALCULATORS, calculated
from fairwitness.core.calculators.pressures import atmosphere_kpa, held_pressure

PSI_BAR, INCH_MM = constants.psi / 1e5, constants.inch * 1e3


def of(name, **given):
    return calculated(CALCULATORS[name], given)


@pytest.mark.parametrize(
    ("metres", "kpa"), [(0, 101.325), (500, 95.461), (1000, 89.875), (2000, 79.495), (3000, 70.109)]
)
def test_air_by_height_is_the_standard_atmosphere(metres, kpa):
    assert atmosphere_kpa(metres) == pytest.approx(kpa, rel=5e-4)


@pytest.mark.parametrize(("constants_passed", "share"), [(1, 0.632), (2, 0.865), (3, 0.950)])
def test_an_rl_rise_passes_the_textbook_shares(constants_passed, share):
    tau_ms = 4.8 / 0.6
    found = of("current_rise", volts=12, ohms=0.6, millihenry=4.8, milliseconds=constants_passed * tau_ms)
    assert found["tau_ms"] == pytest.approx(8.0)
    assert found["final_amps"] == pytest.approx(20.0)
    assert found["amps"] / found["final_amps"] == pytest.approx(share, abs=5e-4)


def test_copper_gains_three_hundred_and_ninety_three_in_a_hundred_thousand_for_a_kelvin():
    cold, hot = (of("ohms_from_amps", amps=1.0, volts=14.5, celsius=c)["ohms"] for c in (20.0, 120.0))
    assert cold == pytest.approx(14.0)
    assert hot == pytest.approx(14.0 / (1 + 0.00393 * 100), rel=1e-3)
    assert of("expected_current", ohms=cold, volts=14.5, celsius=20.0)["amps"] == pytest.approx(1.0)


def test_a_four_cylinder_at_750_rpm_fires_every_forty_milliseconds():
    found = of("event_interval", cylinders=4, rpm=750)
    assert (found["degrees"], found["milliseconds"], found["events_per_s"], found["cycle_ms"]) == pytest.approx(
        (180.0, 40.0, 25.0, 160.0)
    )


def test_degrees_and_milliseconds_are_each_others_inverse():
    assert of("degrees_to_ms", degrees=180, rpm=3000)["milliseconds"] == pytest.approx(10.0)
    assert of("ms_to_degrees", milliseconds=10, rpm=3000)["degrees"] == pytest.approx(180.0)


def test_a_wheel_of_sixty_less_two_has_six_degrees_a_tooth_and_eighteen_at_the_gap():
    found = of("wheel_teeth", teeth=60, missing=2, rpm=1000)
    assert (found["degrees"], found["gap_degrees"]) == pytest.approx((6.0, 18.0))
    assert found["teeth_per_s"] == pytest.approx(58 * 1000 / 60)


def test_compression_is_the_polytropic_law_at_the_air_of_the_place():
    sea = of("compression_pressure", ratio=8, exponent=1.3, altitude_m=0, manifold_kpa=0)
    assert sea["absolute_bar"] == pytest.approx(1.01325 * 8**1.3)
    high = of("compression_pressure", ratio=8, exponent=1.3, altitude_m=2000, manifold_kpa=0)
    assert high["bar"] / sea["bar"] == pytest.approx(79.495 / 101.325, rel=1e-3)


def test_vacuum_loses_about_an_inch_of_mercury_for_a_thousand_feet():
    # Common practice, no source: one inch less for every thousand feet.
    feet = 1000 * constants.foot
    lost_kpa = 65.0 - of("vacuum_by_altitude", sea_kpa=65.0, altitude_m=feet)["kpa"]
    assert lost_kpa * 1e3 / (constants.mmHg * 25.4) == pytest.approx(1.0, abs=0.1)


def test_a_leak_as_wide_as_the_testers_orifice_reads_as_choked_flow_says():
    # Equal holes, the second one choked: the first passes what the second does at held / supply from the nozzle law.
    held = held_pressure(80 * PSI_BAR, 0.040 * INCH_MM, 0.040 * INCH_MM)
    absolute, supply = held + 1.01325, 80 * PSI_BAR + 1.01325
    gamma = 1.4
    ratio = absolute / supply
    psi = math.sqrt(2 / (gamma - 1) * (ratio ** (2 / gamma) - ratio ** ((gamma + 1) / gamma)))
    choked = (2 / (gamma + 1)) ** ((gamma + 1) / (2 * (gamma - 1)))
    assert psi / choked == pytest.approx(ratio, rel=1e-6)
    assert 0.7 * 80 < held / PSI_BAR < 0.8 * 80


def test_sixty_over_eighty_is_a_quarter_and_nearly_the_orifice_itself():
    found = of("leak_down_hole", supply_bar=80 * PSI_BAR, reading_bar=60 * PSI_BAR, orifice_mm=0.040 * INCH_MM)
    assert found["percent"] == pytest.approx(25.0)
    assert found["hole_mm"] == pytest.approx(0.040 * INCH_MM, rel=0.06)


def test_duty_is_the_open_share_of_two_revolutions():
    found = of("duty", pulse_ms=3, peer_ms=4, dead_ms=1, rpm=2400)
    assert (found["duty"], found["share"]) == pytest.approx((6.0, 200 / 3))


def test_ten_samples_on_fifty_microseconds_are_two_hundred_kilohertz():
    found = of("sample_rate", feature_ms=0.05, points=10, seconds=2)
    assert (found["rate_khz"], found["samples"]) == pytest.approx((200.0, 0.4))

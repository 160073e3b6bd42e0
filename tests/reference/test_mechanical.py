"""Mechanics against things outside the project: real-gas thermodynamics, a fitting library, units, handbook timing."""

import cantera
import numpy as np
import pint
import pytest
from scipy.optimize import curve_fit

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import cylinder_volume, even_engine
from fairwitness.core.procedures import compression_gauge, vacuum
from fairwitness.core.procedures.cylinder_pressure.measure import measure
from fairwitness.core.signal.pressure.events import fit_tower
from fairwitness.core.signal.pressure.trace import GRID_DEG
from tests.core.pressures import pressure_capture

SIX = even_engine((1, 4, 2, 5, 3, 6))
UNITS = pint.UnitRegistry()


def isentropic(ratio, closes, intake_pa=95_000.0, kelvin=310.0):
    """Air compressed without loss, its heat capacity by NASA polynomials (NASA RP-1311 [P]) through Cantera."""
    air = cantera.Solution("air.yaml")
    air.TPX = kelvin, intake_pa, "O2:0.21, N2:0.79"
    entropy, start = air.entropy_mass, air.density
    volume = cylinder_volume(GRID_DEG, compression_ratio=ratio, rod_ratio=3.4)
    at_closing = float(np.interp(closes, GRID_DEG, volume))
    pressure = np.full(GRID_DEG.size, intake_pa)
    for i in np.flatnonzero((closes < GRID_DEG) & (GRID_DEG < 140)):
        air.SV = entropy, volume[i] / (start * at_closing)
        pressure[i] = air.P
    return pressure


@pytest.mark.parametrize(("ratio", "closes"), [(9.0, -130.0), (10.5, -120.0), (11.5, -140.0)])
def test_a_tower_of_real_air_is_read_with_its_ratio_exponent_and_top_dead_centre(ratio, closes):
    tower = fit_tower(isentropic(ratio, closes), 500.0, 10.5)
    assert abs(tower.tdc_deg) < 0.2
    assert tower.exponent == pytest.approx(1.38, abs=0.04)  # gamma of air falls from 1.40 as it warms
    assert tower.ratio == pytest.approx(ratio, rel=0.06)
    assert tower.leak < 0.03


@pytest.mark.parametrize("late_deg", [-2.0, 1.5, 4.0])
def test_a_tower_that_is_shifted_is_found_shifted(late_deg):
    shifted = np.interp(GRID_DEG - late_deg, GRID_DEG, isentropic(10.0, -130.0))
    assert fit_tower(shifted, 500.0, 10.5).tdc_deg == pytest.approx(late_deg, abs=0.25)


@pytest.mark.parametrize("n", [1.22, 1.28, 1.34])
def test_exponents_are_those_a_general_library_fits(n):
    reported = measure(pressure_capture(SIX, {1: {"n": n, "ratio": 10.5}}, noise=300.0), SIX)
    volume = cylinder_volume(GRID_DEG, compression_ratio=10.5, rod_ratio=3.4)
    law = 95_000.0 * (float(np.interp(-130.0, GRID_DEG, volume)) / volume) ** n
    part = (GRID_DEG > -90) & (GRID_DEG < -20)
    (_, theirs), _ = curve_fit(lambda v, c, k: c - k * np.log(v), volume[part], np.log(law[part]), p0=(14.0, 1.3))
    assert reported.figures[1]["compression_exponent"] == pytest.approx(theirs, abs=0.04)


def test_valve_events_lie_where_handbooks_put_them():
    # Heywood, ch. 6 [P]: intake closes 40 to 60 degrees after bottom centre, exhaust opens 40 to 60 before it.
    reported = measure(pressure_capture(SIX, {1: {"closes": -180.0 + 50.0, "opens": 180.0 - 45.0}}), SIX)
    assert 40 <= 180 + reported.figures[1]["intake_closes_deg"] <= 60
    assert 40 <= 180 - reported.figures[1]["exhaust_opens_deg"] <= 60
    assert [s.outcome for s in reported.categorical if s.kind == "valve_events"] == ["usual"]


@pytest.mark.parametrize("unit", ["kPa", "psi", "bar"])
def test_units_agree_with_a_general_unit_library(unit):
    dry = {str(c): 12.0 - 0.1 * c for c in SIX.firing_order}
    written = {c: UNITS.Quantity(v, "bar").to(unit).magnitude for c, v in dry.items()}
    reported = compression_gauge.measure(
        Observation(test="compression_gauge", data={"unit": unit, "dry": written}), 0, SIX
    )
    for finding in reported.findings:
        assert finding.value == pytest.approx(dry[str(finding.cylinder)], abs=0.01)


def test_inches_of_mercury_are_those_of_the_unit_library_and_idle_lies_in_the_range_of_the_trade():
    for inches in (17.0, 22.0):  # 57 to 75 kPa, common practice
        reported = vacuum.measure(Observation(test="vacuum", data={"inhg": inches}), 0, SIX)
        assert reported.findings[0].value == pytest.approx(UNITS.Quantity(inches, "inHg").to("kPa").magnitude, abs=0.1)
        assert reported.categorical[0].outcome == "usual"


def test_sound_cranking_pressure_lies_in_the_range_of_the_trade():
    # 9 to 14 bar: common practice, no source.
    reported = measure(pressure_capture(SIX, {1: {"ratio": 9.5, "n": 1.27}}), SIX)
    assert 9.0 <= reported.figures[1]["peak_bar"] <= 14.0

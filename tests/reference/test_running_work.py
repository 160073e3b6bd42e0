"""Work while running against things outside the project: real-gas thermodynamics, a handbook's friction, mechanics.

The gas of a throttled cylinder is followed through all four strokes with Cantera (heat capacities by NASA polynomials,
NASA RP-1311 [P]); the shapes that the product solves with must add up to its torque. Relations are those of Heywood,
Internal Combustion Engine Fundamentals: chapter 5.2 for pumping, equation 13.6 for friction (from memory).
"""

import cantera
import numpy as np
import pytest
from scipy.integrate import cumulative_trapezoid, trapezoid
from scipy.optimize import nnls

from fairwitness.core.model.engine import cylinder_volume
from fairwitness.core.signal.crank import proportions
from fairwitness.core.signal.crank.torque_shapes import breath_torque, inertia_torque, push_torque

RATIO, ROD = 10.0, 3.5
ANGLE = np.arange(-180.0, 540.0, 0.25)
"""From the end of intake over compression and expansion, exhaust, to the end of the next intake."""
RADIAN = np.deg2rad(ANGLE)
VOLUME = cylinder_volume(ANGLE, compression_ratio=RATIO, rod_ratio=ROD) / (RATIO - 1.0)
"""In swept volumes."""


def motored(manifold_kpa):
    """Pressure over the cycle (Pa) of real air drawn from a manifold, compressed without loss, let into the open."""
    air = cantera.Solution("air.yaml")
    air.TPX = 320.0, 1e3 * manifold_kpa, "O2:0.21, N2:0.79"
    entropy, start = air.entropy_mass, air.density
    pressure = np.full(ANGLE.size, cantera.one_atm)
    for i in np.flatnonzero(ANGLE < 180.0):
        air.SV = entropy, VOLUME[i] / (start * VOLUME[0])
        pressure[i] = air.P
    pressure[ANGLE >= 360.0] = 1e3 * manifold_kpa
    return pressure


def torque(pressure):
    """Per atmosphere and swept volume, over a radian: the crankcase is at the atmosphere."""
    return (pressure - cantera.one_atm) / cantera.one_atm * np.gradient(VOLUME, RADIAN)


@pytest.mark.parametrize("manifold_kpa", [25.0, 35.0, 50.0, 75.0, 100.0])
def test_the_vacuum_of_the_manifold_costs_what_the_library_says(manifold_kpa):
    """Closed: what is drawn against a vacuum and let out into the open takes (atmosphere - manifold) times swept."""
    cost = -trapezoid(torque(motored(manifold_kpa)), RADIAN)
    assert cost == pytest.approx(1.0 - 1e3 * manifold_kpa / cantera.one_atm, abs=0.01)


@pytest.mark.parametrize("manifold_kpa", [25.0, 35.0, 50.0, 75.0, 100.0])
def test_compression_and_breathing_add_up_to_the_torque_of_a_motored_cylinder(manifold_kpa):
    seen = torque(motored(manifold_kpa))
    shapes = np.column_stack((push_torque(ANGLE), breath_torque(ANGLE)))
    (push, breath), rest = nnls(shapes, seen)
    assert rest / np.sqrt(np.sum(seen**2)) < 0.05
    assert breath == pytest.approx(1.0 - 1e3 * manifold_kpa / cantera.one_atm, abs=0.06)
    closed = ANGLE <= 0.0
    excess = (motored(manifold_kpa)[closed] - 1e3 * manifold_kpa) / cantera.one_atm
    assert push == pytest.approx(-trapezoid(excess, VOLUME[closed]), rel=0.05)


@pytest.mark.parametrize("manifold_kpa", [40.0, 100.0])
def test_an_atmosphere_under_the_piston_beside_the_work_of_compression(manifold_kpa):
    """The proportion by which the work common to all cylinders is scaled; an exponent of 1.3 allows for heat lost."""
    closed = ANGLE <= 0.0
    pressure = motored(manifold_kpa)[closed]
    stored = -trapezoid((pressure - pressure[0]) / pressure[0], VOLUME[closed])
    assert pytest.approx(1.0 / stored, rel=0.2) == proportions.FRICTION_OF_PUSH / proportions.FRICTION


@pytest.mark.parametrize("rpm", [650.0, 800.0, 950.0])
def test_friction_at_an_idle_is_the_handbook_s(rpm):
    """Heywood, eq. 13.6, mean effective pressure of friction in bar; the value and equation are from memory."""
    bar = 0.97 + 0.15 * (rpm / 1000) + 0.05 * (rpm / 1000) ** 2
    assert pytest.approx(1e5 * bar / cantera.one_atm, rel=0.05) == proportions.FRICTION


def test_the_torque_of_a_piston_s_mass_by_differentiating_its_motion():
    """Kinetic energy of the exact slider-crank at constant speed: torque is minus its slope over the angle."""
    crank = np.deg2rad(np.arange(0.0, 720.0, 0.05))
    travel = 1.0 - np.cos(crank) + ROD - np.sqrt(ROD**2 - np.sin(crank) ** 2)
    speed = np.gradient(travel, crank)
    exact = -np.gradient(0.5 * speed**2, crank)
    read = inertia_torque(np.rad2deg(crank))
    assert np.corrcoef(exact, read)[0, 1] > 0.999
    assert np.abs(read - exact).max() < 0.05 * np.abs(exact).max()


def test_the_torque_of_a_piston_s_mass_gives_back_all_it_takes():
    assert cumulative_trapezoid(inertia_torque(ANGLE), RADIAN)[-1] == pytest.approx(0.0, abs=1e-3)

"""Cylinder volume against the handbook formula worked by hand.

Source: Heywood, Internal Combustion Engine Fundamentals, ch. 2, eqs. 2.4-2.6 [P]:
V/Vc = 1 + (rc - 1)/2 * (R + 1 - cos(theta) - sqrt(R^2 - sin^2(theta))).
"""

import numpy as np
import pytest

from fairwitness.core.model.engine import cylinder_volume

WORKED_BY_HAND = [
    # theta, rc, R, V/Vc
    (0.0, 10.0, 3.5, 1.0),
    # cos 90 = 0, sin 90 = 1: 1 + 4.5 * (4.5 - sqrt(11.25)) = 1 + 4.5 * (4.5 - 3.354102)
    (90.0, 10.0, 3.5, 6.156541),
    # cos 60 = 0.5, sin^2 60 = 0.75: 1 + 4.5 * (4.0 - sqrt(11.5)) = 1 + 4.5 * (4.0 - 3.391165)
    (60.0, 10.0, 3.5, 3.739758),
    (180.0, 10.0, 3.5, 10.0),
    # cos 120 = -0.5: 1 + 8 * (4.5 - sqrt(8.25)) = 1 + 8 * (4.5 - 2.872281)
    (120.0, 17.0, 3.0, 14.021749),
]


@pytest.mark.parametrize(("theta", "ratio", "rod", "expected"), WORKED_BY_HAND)
def test_volume_matches_the_handbook(theta, ratio, rod, expected):
    volume = cylinder_volume(np.array([theta]), compression_ratio=ratio, rod_ratio=rod)[0]
    assert volume == pytest.approx(expected, abs=2e-6)


def test_an_endless_rod_gives_simple_harmonic_motion():
    """R to infinity: V/Vc = 1 + (rc - 1)(1 - cos theta)/2, a limit any kinematics text derives."""
    theta = np.linspace(0, 360, 73)
    volume = cylinder_volume(theta, compression_ratio=9.0, rod_ratio=1e7)
    np.testing.assert_allclose(volume, 1 + 4.0 * (1 - np.cos(np.deg2rad(theta))), atol=1e-5)

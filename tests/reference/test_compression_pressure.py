"""Motoring pressure against an isentropic compression of air by a general thermodynamics library (Cantera).

Cantera's air uses NASA polynomials (Gordon and McBride, NASA RP-1311 [P]). Real motoring loses heat, so the exponent
lies below the isentropic one: 1.2 to 1.35 against about 1.39 [M]. Cranking pressure of a sound petrol engine is
9 to 14 bar: common practice, no source.
"""

import cantera as ct
import numpy as np
import pytest

from fairwitness.core.model.engine import cylinder_volume
from fairwitness.core.signal.cranking.compression_pulse import TYPICAL_POLYTROPIC
from fairwitness.simulate.cranking import ATMOSPHERE_PA, CylinderGeometry, cylinder_pressure

CLOSING_DEG = -130.0


def effective_ratio(ratio):
    closing = cylinder_volume(np.array([CLOSING_DEG]), compression_ratio=ratio, rod_ratio=3.4)[0]
    return float(closing)


def isentropic_peak(volume_ratio):
    air = ct.Solution("air.yaml")
    air.TP = 300.0, ATMOSPHERE_PA
    air.SV = air.s, air.v / volume_ratio
    return float(air.P)


@pytest.mark.parametrize("ratio", [8.5, 10.0, 12.0, 17.0])
def test_polytropic_peaks_stay_below_the_isentropic_one(ratio):
    ideal = isentropic_peak(effective_ratio(ratio))
    for exponent in (1.20, 1.28, 1.35):
        _, pressure = cylinder_pressure(
            CylinderGeometry(
                compression_ratio=ratio, rod_ratio=3.4, polytropic=exponent, intake_closing_deg=CLOSING_DEG
            ),
            leak_per_s=0.0,
        )
        assert 0.55 * ideal < pressure.max() < ideal


@pytest.mark.parametrize("ratio", [8.5, 10.0, 12.0])
def test_with_the_isentropic_exponent_the_peak_is_the_librarys(ratio):
    volume_ratio = effective_ratio(ratio)
    ideal = isentropic_peak(volume_ratio)
    exponent = np.log(ideal / ATMOSPHERE_PA) / np.log(volume_ratio)
    assert 1.37 < exponent < 1.41
    _, pressure = cylinder_pressure(
        CylinderGeometry(compression_ratio=ratio, rod_ratio=3.4, polytropic=exponent, intake_closing_deg=CLOSING_DEG),
        leak_per_s=0.0,
    )
    assert pressure.max() == pytest.approx(ideal, rel=0.02)


def test_a_sound_petrol_engine_cranks_to_the_usual_pressure():
    _, pressure = cylinder_pressure(
        CylinderGeometry(compression_ratio=10.0, rod_ratio=3.4, polytropic=1.2, intake_closing_deg=CLOSING_DEG),
        leak_per_s=0.0,
    )
    assert 9e5 < pressure.max() - ATMOSPHERE_PA < 14e5
    assert 1.2 <= TYPICAL_POLYTROPIC <= 1.35

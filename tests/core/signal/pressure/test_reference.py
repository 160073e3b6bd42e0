"""The computed pressure of a sound cylinder."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.signal.pressure.events import EXPONENT
from fairwitness.core.signal.pressure.reference import MotoredCylinder, computed_pressure, known_ratio, references
from tests.core.pressures import pressure_capture

SIX = even_engine((1, 4, 2, 5, 3, 6))
ANGLE = np.arange(720) - 360.0
USUAL = MotoredCylinder(ratio=10.5, intake_pa=95e3, exhaust_pa=101e3, closes_deg=-132.0, opens_deg=138.0)


def test_it_peaks_at_top_dead_centre_by_the_law():
    pressure = computed_pressure(ANGLE, USUAL)
    assert ANGLE[pressure.argmax()] == 0.0
    volume_at_closing = (pressure.max() / 95e3) ** (1 / EXPONENT)
    assert 1 < volume_at_closing < 10.5


def test_before_the_intake_closes_it_is_the_intakes_pressure():
    pressure = computed_pressure(ANGLE, USUAL)
    assert pressure[ANGLE < -140] == pytest.approx(95e3)
    assert pressure[-1] == pytest.approx(101e3, rel=0.01)


def test_a_later_closing_compresses_less():
    late = computed_pressure(ANGLE, replace(USUAL, closes_deg=-100.0))
    assert late.max() < computed_pressure(ANGLE, USUAL).max()


def test_a_sound_cylinder_lies_on_its_reference_and_keeps_the_channels_unit():
    capture = pressure_capture(SIX, {1: {"ratio": 10.5, "n": 1.22, "closes": -132.0, "opens": 138.0}}, unit="bar")
    reported = references(capture, SIX)
    assert [r.cylinder for r in reported] == [1]
    assert reported[0].measured_peak_pa == pytest.approx(reported[0].peak_pa, rel=0.12)
    assert reported[0].values.max() == pytest.approx(reported[0].peak_pa / 1e5, abs=1.2)
    closes = next(m for m in reported[0].marks if render(m.name) == "intake closes")
    assert closes.measured_deg == pytest.approx(-132.0, abs=3.0)


@pytest.mark.parametrize(("given", "read"), [(9.5, 9.5), (None, None), (True, None), ("10", None), (99, None)])
def test_only_a_ratio_that_can_be_is_taken(given, read):
    assert known_ratio(even_engine((1, 3, 4, 2), extra={"compression_ratio": given})) == read

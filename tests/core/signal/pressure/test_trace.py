"""Cylinder pressure laid over itself: textbook cycles in, one average cycle out, in the units of any transducer."""

import numpy as np
import pytest

from fairwitness.core.model.capture import Role
from fairwitness.core.model.engine import even_engine
from fairwitness.core.signal.pressure.trace import ATMOSPHERE_PA, GRID_DEG, AngleFrom, read_pressure
from tests.core.pressures import ATMOSPHERE, cycle, pressure_capture

FOUR = even_engine((1, 3, 4, 2))
SOUND = {"ratio": 10.0, "n": 1.3}
PEAK = float(cycle(**SOUND)[1].max())


def read(about=SOUND, **settings):
    capture = pressure_capture(FOUR, {1: about}, **settings)
    return read_pressure(capture.with_role(Role.CYLINDER_PRESSURE)[0], capture, None)


def test_an_average_cycle_is_the_one_that_was_written():
    made = read()
    angle, pressure = cycle(**SOUND)
    expected = np.interp(GRID_DEG, angle, pressure)
    inside = np.abs(GRID_DEG) > 30  # the summit is rounded by the sensor's smoothing
    assert np.abs(made.middle - expected)[inside].max() < 0.06 * PEAK
    assert made.middle.max() == pytest.approx(PEAK, rel=0.06)
    assert GRID_DEG[made.middle.argmax()] == pytest.approx(0.0, abs=3.0)


def test_speed_and_towers_are_counted():
    made = read(rpm=240.0, cycles=10)
    assert made.speed_rpm == pytest.approx(240.0, rel=0.01)
    assert 9 <= made.count <= 10
    assert np.diff(made.peak_s) == pytest.approx(0.5, rel=0.02)
    assert made.angle_from is AngleFrom.TOWERS


@pytest.mark.parametrize("unit", ["bar", "kPa", "psi"])
@pytest.mark.parametrize(("offset", "absolute"), [(-ATMOSPHERE, False), (0.0, True)])
def test_any_unit_above_the_atmosphere_or_absolute_comes_out_absolute(unit, offset, absolute):
    made = read(unit=unit, offset=offset)
    assert made.absolute is absolute
    assert made.middle.max() == pytest.approx(PEAK, rel=0.06)
    assert made.offset_pa == pytest.approx(0.0 if absolute else ATMOSPHERE_PA, abs=4_000.0)


def test_a_transducer_that_is_off_by_a_little_is_set_by_its_exhaust_plateau():
    made = read(offset=-ATMOSPHERE + 30_000.0)
    outside = (GRID_DEG > 255) & (GRID_DEG < 325)
    assert np.median(made.middle[outside]) == pytest.approx(ATMOSPHERE_PA, rel=0.02)


def test_what_the_cycles_scatter_is_told_beside_their_middle():
    calm, rough = read(noise=500.0), read(noise=20_000.0)
    assert np.median(rough.spread) > 5 * np.median(calm.spread)
    assert rough.noise_pa > calm.noise_pa


def test_a_cylinder_that_cannot_let_out_shows_two_like_towers():
    made = read({**SOUND, "shut_exhaust": True}, cycles=10)
    assert made.twin
    assert not read(cycles=10).twin


def test_a_leak_stands_lower_by_what_it_lost():
    assert read({**SOUND, "kept": 0.6}).middle.max() == pytest.approx(0.6 * PEAK, rel=0.1)


@pytest.mark.parametrize("cycles", [1, 2])
def test_too_few_towers_are_no_cycle(cycles):
    assert read(cycles=cycles) is None


def test_a_dead_transducer_is_no_cycle():
    capture = pressure_capture(FOUR, {1: {**SOUND, "kept": 0.0, "intake": ATMOSPHERE}}, noise=100.0)
    channel = capture.channels[0]
    object.__setattr__(channel, "samples", np.zeros_like(channel.samples))
    assert read_pressure(channel, capture, None) is None

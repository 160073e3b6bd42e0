"""Fuel against things outside the project: circuit theory, a general fitting library, copper by the standards."""

import numpy as np
import pytest
from scipy.optimize import curve_fit

from fairwitness.core.model.capture import Channel, Role
from fairwitness.core.model.copper import copper_resistance, copper_temperature
from fairwitness.core.model.engine import InjectorDrive, even_engine
from fairwitness.core.procedures.injector_current.measure import measure
from fairwitness.core.signal.injector.electrical import DRIVER_DROP_V, rise
from tests.core.feeds import RATE, capture, running

FOUR = even_engine((1, 3, 4, 2))


def with_supply(taken, volts):
    supply = np.full(taken.time.samples, volts, dtype=np.float32)
    return capture(*taken.channels, Channel(name="supply", role=Role.BATTERY_VOLTAGE, unit="V", samples=supply))


def own_clamps(*, ohm, henry, volts, on_s=0.006, cycles=10, noise=0.01):
    """A clamp on each injector's lead; the course is the closed form of any textbook of circuit theory."""
    rng = np.random.default_rng(3)
    count = int(RATE * 0.16 * cycles)
    channels = []
    for i, cylinder in enumerate(FOUR.firing_order):
        amps = rng.normal(0.0, noise, count)
        for k in range(cycles):
            first = int(RATE * (0.16 * k + 0.04 * i + 0.01))
            since = np.arange(int(on_s * RATE)) / RATE
            amps[first : first + since.size] += (volts - DRIVER_DROP_V) / ohm * (1 - np.exp(-since * ohm / henry))
        amps = amps.astype(np.float32)
        channels.append(
            Channel(name=f"i{cylinder}", role=Role.INJECTOR_CURRENT, unit="A", samples=amps, cylinder=cylinder)
        )
    return with_supply(capture(*channels), volts)


@pytest.mark.parametrize(
    ("ohm", "henry", "volts"), [(14.5, 0.012, 13.9), (12.0, 0.009, 12.4), (16.0, 0.016, 14.3), (14.5, 0.012, 27.8)]
)
def test_resistance_and_inductance_come_back_from_the_closed_form(ohm, henry, volts):
    reported = measure(own_clamps(ohm=ohm, henry=henry, volts=volts), FOUR)
    for cylinder in FOUR.firing_order:
        assert reported.figures[cylinder]["ohms"] == pytest.approx(ohm, rel=0.01)
        assert reported.figures[cylinder]["henry_mh"] == pytest.approx(1e3 * henry, rel=0.03)


def test_the_time_constant_is_the_one_a_general_library_fits():
    taken = running(FOUR, rpm=760, on_s=0.006, cycles=20, noise=0.005)
    reported = measure(taken, FOUR)
    seconds = np.arange(int(0.0055 * RATE)) / RATE
    amps = np.array([rise(t, ohm=14.5, henry=0.012, volts=13.5) for t in seconds])
    (_, tau), _ = curve_fit(lambda t, i, tau: i * (1 - np.exp(-t / tau)), seconds, amps, p0=(1.0, 1e-3))
    assert reported.figures[1]["tau_ms"] == pytest.approx(1e3 * tau, rel=0.03)


@pytest.mark.parametrize("celsius", [-20.0, 0.0, 40.0, 75.0, 115.0, 155.0])
def test_copper_warms_as_the_standards_of_windings_say(celsius):
    # IEC 60034-1 [P]: (R2 / R1) = (235 + t2) / (235 + t1) for copper windings.
    assert copper_resistance(14.5, celsius) / 14.5 == pytest.approx((235 + celsius) / (235 + 20), rel=0.006)
    # IEC 60028 [P]: 0.00393 per kelvin at 20 degrees C.
    assert copper_resistance(1.0, 21.0) - 1.0 == pytest.approx(0.00393)
    assert copper_temperature(copper_resistance(14.5, celsius), 14.5) == pytest.approx(celsius)


def test_current_follows_the_battery_and_the_comparison_of_injectors_does_not():
    low = measure(own_clamps(ohm=14.5, henry=0.012, volts=11.8), FOUR)
    high = measure(own_clamps(ohm=14.5, henry=0.012, volts=14.4), FOUR)
    ratio = high.figures[1]["peak_a"] / low.figures[1]["peak_a"]
    assert ratio == pytest.approx((14.4 - DRIVER_DROP_V) / (11.8 - DRIVER_DROP_V), rel=0.01)
    for reported in (low, high):
        assert reported.lines[0].alternatives[0] == pytest.approx(np.ones(4), abs=0.02)
    assert low.figures[1]["ohms"] == pytest.approx(high.figures[1]["ohms"], rel=0.01)


def test_a_regulated_peak_still_tells_the_resistance_by_its_rise():
    # Peak-and-hold: the driver cuts at 4 A, so a plateau says nothing; the rise heads for V/R.
    engine = even_engine((1, 3, 4, 2), injector_drive=InjectorDrive.PEAK_AND_HOLD)
    count, channels = int(RATE * 1.6), []
    for i, cylinder in enumerate(engine.firing_order):
        ohm = 2.4 / 0.9 if cylinder == 4 else 2.4
        amps = np.random.default_rng(cylinder).normal(0.0, 0.02, count)
        for k in range(10):
            first = int(RATE * (0.16 * k + 0.04 * i + 0.01))
            since = np.arange(int(0.004 * RATE)) / RATE
            up = 13.0 / ohm * (1 - np.exp(-since * ohm / 0.0022))
            top = int(np.argmax(up >= 4.0))
            held = np.where(np.arange(since.size) < top, up, 1.0 + 3.0 * np.exp(-(since - since[top]) / 4e-4))
            amps[first : first + since.size] += held
        amps = amps.astype(np.float32)
        channels.append(
            Channel(name=f"i{cylinder}", role=Role.INJECTOR_CURRENT, unit="A", samples=amps, cylinder=cylinder)
        )
    reported = measure(capture(*channels), engine)
    assert reported.figures[4]["peak_a"] == pytest.approx(reported.figures[1]["peak_a"], rel=0.03)
    states = {f.cylinder: f.state.value for f in reported.findings if not f.is_remark}
    assert states == {1: "normal", 3: "normal", 4: "low", 2: "normal"}

"""Ignition against things outside the project: circuit theory, a general curve-fitting library, Paschen's law."""

import math

import numpy as np
import pytest
from scipy.optimize import curve_fit

from fairwitness.core.model.capture import CaptureTest
from fairwitness.core.procedures.secondary_voltage import measure as secondary_voltage
from fairwitness.core.procedures.specs import CARDS
from fairwitness.core.signal.ignition.primary import find_ramps, fit_rl
from fairwitness.simulate.examine import Recorder, sample
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.running import run_engine

RATE = 50_000.0


def current(seconds, final, tau):
    """Step response of a resistance and an inductance in series: any textbook of circuit theory."""
    return final * (1 - np.exp(-seconds / tau))


@pytest.mark.parametrize(("volts", "ohm", "henry"), [(13.2, 0.5, 2.2e-3), (12.0, 0.9, 5.0e-3), (14.1, 1.6, 4.0e-3)])
def test_resistance_and_inductance_come_back_from_the_closed_form(volts, ohm, henry):
    seconds = np.arange(int(0.004 * RATE)) / RATE
    final, tau = fit_rl(seconds, current(seconds, volts / ohm, henry / ohm))
    assert volts / final == pytest.approx(ohm, rel=0.005)
    assert tau * volts / final == pytest.approx(henry, rel=0.005)


def test_noisy_ramps_are_fitted_as_a_general_library_fits_them():
    rng = np.random.default_rng(7)
    seconds = np.arange(int(0.004 * RATE)) / RATE
    for _ in range(20):
        truth = rng.uniform(8.0, 30.0), rng.uniform(1.5e-3, 5e-3)
        noisy = current(seconds, *truth) + rng.normal(0, 0.05, seconds.size)
        theirs, _ = curve_fit(current, seconds, noisy, p0=(15.0, 3e-3))
        ours = fit_rl(seconds, noisy)
        assert ours == pytest.approx(tuple(theirs), rel=2e-3)


def test_the_slope_at_switch_on_is_voltage_over_inductance():
    amps = np.zeros(int(RATE * 0.2))
    since = np.arange(int(0.003 * RATE)) / RATE
    for k in range(4):
        amps[int(RATE * 0.05 * k) + 500 :][: since.size] = current(since, 13.0 / 0.6, 4e-3 / 0.6)
    ramps = find_ramps(amps + np.random.default_rng(1).normal(0, 0.03, amps.size), RATE)
    # the first third of a ramp lies below its tangent at switch-on by 1 - (1 - e^-x)/x, x = t R / L
    x = 0.15 * 3e-3 * 0.6 / 4e-3
    assert np.median(ramps.start_slope) == pytest.approx(13.0 / 4.0 * math.exp(-x), rel=0.03)


def paschen_kv(kpa: float, gap_mm: float) -> float:
    """Breakdown of air at 293 K: Lieberman and Lichtenberg, Principles of Plasma Discharges [P]."""
    product = kpa * gap_mm / 10
    return 2737.50 * product / (math.log(112.50 * product) - math.log(math.log(1 + 1 / 0.01))) / 1000


def test_measured_firing_voltage_follows_pressure_as_paschen_has_it():
    engine = ENGINES["drover-2.0"]
    vehicle = build(engine, rng=np.random.default_rng(5))
    card = CARDS[CaptureTest.SECONDARY_VOLTAGE]
    read, due = [], []
    for load in ("idle", "cruise"):
        rng = np.random.default_rng(3)
        trajectory = run_engine(vehicle, seconds=2.0, load=load, rng=rng)
        taken = sample(
            trajectory,
            card.clips(engine, (), vehicle.injector_feeds),
            Recorder(rate_hz=card.rate_hz, level="clean", name=load, set_up=card.recorded(hot=True)),
            rng=rng,
        )
        figures = secondary_voltage.measure(taken, engine).figures
        read.append(np.median([f["firing_kv"] for f in figures.values()]))
        pressures = np.concatenate(
            [
                trajectory.pressure(c, trajectory.cylinders[c].tdc_deg - vehicle.ignition.advance_deg)
                for c in engine.firing_order
            ]
        )
        closed = np.concatenate([trajectory.cylinders[c].charge_pa for c in engine.firing_order])
        ratio = np.nanmedian(pressures / closed)
        kelvin = 330.0 * ratio ** ((vehicle.turning.polytropic - 1) / vehicle.turning.polytropic)
        due.append(paschen_kv(float(np.nanmedian(pressures)) / 1000 * 293 / kelvin, vehicle.ignition.gap_cm * 10))
    assert read[1] > 1.15 * read[0]
    assert read[1] / read[0] == pytest.approx(due[1] / due[0], rel=0.06)

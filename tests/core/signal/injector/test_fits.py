"""Resistance and inductance read off a rise: courses by the formula of every textbook, with noise and late begins."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.signal.ignition.primary import fit_rl
from fairwitness.core.signal.injector.current import fit_rise
from fairwitness.core.signal.injector.electrical import rise

RATE = 50_000.0


def course(final, tau_s, *, length_s=4e-3, late_s=0.0, noise=0.0, seed=2):
    seconds = (np.arange(round(length_s * RATE)) + 0.5) / RATE + late_s
    amps = final * -np.expm1(-seconds / tau_s)
    return seconds - late_s, amps + np.random.default_rng(seed).normal(0.0, noise * final, amps.size)


@settings(max_examples=60, deadline=None)
@given(st.floats(0.2, 40.0), st.floats(0.3e-3, 6e-3))
def test_a_clean_rise_gives_back_what_it_was_made_from(final, tau):
    found, constant = fit_rl(*course(final, tau))
    assert found == pytest.approx(final, rel=1e-3)
    assert constant == pytest.approx(tau, rel=1e-3)


@pytest.mark.parametrize("tau", [0.8e-3, 2e-3])
def test_noise_of_two_per_cent_moves_it_by_little(tau):
    found, constant = fit_rl(*course(6.0, tau, noise=0.02))
    assert found == pytest.approx(6.0, rel=0.05)
    assert constant == pytest.approx(tau, rel=0.12)


def test_a_straight_ramp_has_the_longest_constant_that_is_looked_for():
    seconds = np.arange(1, 101) / RATE
    final, tau = fit_rl(seconds, 400.0 * seconds)
    assert tau > 20 * seconds[-1]
    assert final / tau == pytest.approx(400.0, rel=0.05)  # what is known of it is its slope


@pytest.mark.parametrize("late", [0.0, 40e-6, 120e-6])
def test_a_pulse_found_late_is_fitted_with_its_lateness(late):
    _, amps = course(0.93, 0.85e-3, late_s=late, noise=0.002)
    final, tau, found = fit_rise(amps, RATE)
    assert final == pytest.approx(0.93, rel=0.02)
    assert tau == pytest.approx(0.85e-3, rel=0.05)
    assert found == pytest.approx(late, abs=15e-6)


def test_ohms_law_and_the_rise_agree_with_each_other():
    ohm, henry, volts = 14.5, 0.012, 13.5
    seconds = np.linspace(1e-5, 5e-3, 200)
    amps = np.array([rise(s, ohm=ohm, henry=henry, volts=volts) for s in seconds])
    final, tau = fit_rl(seconds, amps)
    assert volts / final == pytest.approx(ohm, rel=1e-3)
    assert tau * volts / final == pytest.approx(henry, rel=1e-2)

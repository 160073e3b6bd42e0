"""Where the driver holds the current, the winding shows in how fast it comes and in what it holds."""

import numpy as np
import pytest

from fairwitness.core.procedures.injector_current.regulated import apart_in, rise_of

BOOST_V, PEAK_A, HOLD_A = 65.0, 12.0, 3.0


def boosted(ohm=0.9, henry=1.6e-4, rate=200_000.0, noise=0.02, seed=0):
    """RL on a boosted supply, cut at its peak, then freewheeling down to what it holds; the classical formula."""
    seconds = np.arange(int(0.0012 * rate)) / rate
    rise = BOOST_V / ohm * -np.expm1(-seconds * ohm / henry)
    top = int(np.argmax(rise >= PEAK_A))
    after = HOLD_A + (PEAK_A - HOLD_A) * np.exp(-(seconds[top:] - seconds[top]) / 1.5e-4)
    return np.concatenate([rise[:top], after]) + np.random.default_rng(seed).normal(0, noise, seconds.size)


def figures(odd=None, *, rate=200_000.0, cylinders=(1, 2, 3, 4), **about):
    found = {}
    for c in cylinders:
        own = about if c == odd else {}
        hold = own.pop("hold", HOLD_A) if own else HOLD_A
        shape = boosted(rate=rate, seed=c, **own)
        found[c] = {"pulses": 5.0, "hold_a": hold, **rise_of(shape, rate)}
    return found


@pytest.mark.parametrize("rate", [100_000.0, 200_000.0, 1_000_000.0])
def test_a_rise_is_timed_as_the_circuit_makes_it(rate):
    found = rise_of(boosted(rate=rate, noise=0.0), rate)
    tau, final = 1.6e-4 / 0.9, BOOST_V / 0.9
    reached = [-tau * np.log1p(-share * PEAK_A / final) for share in (0.15, 0.7)]
    exact = 0.55 * PEAK_A / (1e3 * (reached[1] - reached[0]))
    assert found["rise_a_ms"] == pytest.approx(exact, rel=4 * found["rise_error"])


def test_sound_windings_are_alike():
    assert apart_in(figures()) == {}


def test_a_winding_of_half_the_inductance_rises_faster_and_one_of_more_slower():
    assert apart_in(figures(3, henry=0.8e-4))[3] == pytest.approx(2.0, rel=0.15)
    assert apart_in(figures(3, henry=2.4e-4))[3] == pytest.approx(1 / 1.5, rel=0.15)
    assert set(apart_in(figures(3, henry=2.4e-4))) == {3}


def test_a_held_current_too_low_stands_apart_by_itself():
    found = figures()
    found[2] = {**found[2], "hold_a": 0.75 * HOLD_A}
    assert apart_in(found) == {2: 0.75}


def test_coarse_sampling_widens_what_is_believed():
    coarse = figures(3, rate=100_000.0, henry=1.9e-4)
    assert apart_in(coarse) == {}
    assert rise_of(boosted(rate=100_000.0), 100_000.0)["rise_error"] > rise_of(boosted(), 200_000.0)["rise_error"]


def test_a_rise_within_one_step_is_not_timed():
    assert rise_of(boosted(rate=50_000.0), 50_000.0) == {}


@pytest.mark.parametrize("shape", [np.empty(0), np.ones(2), np.zeros(40), np.array([9.0, 9.0, 9.0]), -np.ones(30)])
def test_what_has_no_rise_gives_none(shape):
    assert rise_of(shape, 50_000.0) == {}


def test_two_that_differ_accuse_nobody():
    assert apart_in(figures(2, cylinders=(1, 2), henry=3e-4)) == {}

"""Pulses of a hose sensor: amplitudes that were put in come out again."""

from types import SimpleNamespace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.model.capture import Capture, Channel, Role, TimeBase
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.pressure.pulses import POINTS, folded_slow, marked_cycles, solve_pulses

EVENTS = np.array([0.0, 180.0, 360.0, 540.0])
ANGLE = np.arange(POINTS) * 720.0 / POINTS
FOUR = even_engine((1, 3, 4, 2))


def bumps(amplitudes, *, delay=165.0, width=90.0, cycles=8, noise=0.0, seed=1):
    """Raised cosines at the events plus a delay, one row a cycle, without their mean."""
    row = np.zeros(POINTS)
    for at, amplitude in zip(EVENTS, amplitudes, strict=True):
        apart = (ANGLE - at - delay + 360) % 720 - 360
        row += amplitude * np.where(np.abs(apart) < width, 0.5 * (1 + np.cos(np.pi * apart / width)), 0.0)
    rows = np.tile(row, (cycles, 1)) + np.random.default_rng(seed).normal(0, noise, (cycles, POINTS))
    return rows - rows.mean(axis=1, keepdims=True)


def solved(amplitudes, **options):
    return solve_pulses(bumps(amplitudes, **options), EVENTS, delay_deg=165.0, spread_deg=20.0)


def test_amplitudes_come_back():
    found = solved([100.0, 100.0, 20.0, 100.0], width=60.0)
    assert found.amplitudes == pytest.approx([100, 100, 20, 100], abs=1.0)
    assert found.residual < 0.01


def test_a_cylinder_that_pushes_nothing_is_none():
    found = solved([80.0, 0.0, 80.0, 80.0], width=60.0, noise=2.0)
    assert found.amplitudes[1] == pytest.approx(0.0, abs=3.0)
    assert found.amplitudes[[0, 2, 3]] == pytest.approx(80.0, rel=0.05)


@pytest.mark.parametrize("delay", [141.0, 165.0, 189.0])
def test_a_longer_way_is_found(delay):
    found = solved([100.0, 100.0, 20.0, 100.0], delay=delay, width=60.0)
    assert found.delay_deg == pytest.approx(delay, abs=3.5)
    assert found.amplitudes == pytest.approx([100, 100, 20, 100], abs=4.0)


def test_every_cycle_has_amplitudes_of_its_own():
    rows = np.vstack([bumps([100.0, 100.0, 100.0, 100.0 if k % 2 else 0.0], width=60.0, cycles=1) for k in range(10)])
    found = solve_pulses(rows, EVENTS, delay_deg=165.0, spread_deg=20.0)
    assert found.per_cycle.shape == (10, 4)
    assert found.per_cycle[1, 3] - found.per_cycle[0, 3] == pytest.approx(100.0, abs=5.0)


def test_noise_alone_explains_nothing():
    noise = np.random.default_rng(2).normal(0, 1.0, (12, POINTS))
    found = solve_pulses(noise - noise.mean(axis=1, keepdims=True), EVENTS, delay_deg=165.0, spread_deg=20.0)
    assert found.residual > 0.7


@settings(max_examples=25, deadline=None)
@given(st.lists(st.floats(5.0, 200.0), min_size=4, max_size=4), st.floats(0.1, 50.0))
def test_scale_does_not_matter(amplitudes, factor):
    rows = bumps(amplitudes, width=60.0)
    one, other = (
        solve_pulses(k * rows, EVENTS, delay_deg=165.0, spread_deg=20.0).amplitudes / k for k in (1.0, factor)
    )
    assert one == pytest.approx(other, rel=1e-6, abs=1e-6)


def test_a_slow_channel_is_folded_without_its_mean_and_its_ramp():
    starts = np.arange(6) * 0.16
    time = TimeBase(samples=9600, rate_hz=10_000.0)
    moments = time.at(np.arange(9600))
    values = 5.0 + 30.0 * moments + np.sin(2 * np.pi * moments / 0.16)
    channel = Channel(name="hose", role=Role.EXHAUST_PRESSURE, unit="kPa", samples=values.astype(np.float32))
    cycles = SimpleNamespace(starts_s=starts, ends_s=starts + 0.16)
    rows = folded_slow(channel, time, cycles)
    assert rows.shape == (6, POINTS)
    assert np.abs(rows.mean(axis=1)).max() < 1e-6
    assert rows[2] == pytest.approx(1000 * np.sin(2 * np.pi * np.arange(POINTS) / POINTS), abs=60.0)


def test_without_a_sync_of_a_known_cylinder_there_are_no_cycles():
    hose = Channel(name="hose", role=Role.EXHAUST_PRESSURE, unit="kPa", samples=np.zeros(1000, np.float32))
    capture = Capture(name="x", time=TimeBase(samples=1000, rate_hz=1000.0), channels=(hose,))
    refusal = marked_cycles(capture, FOUR)
    assert isinstance(refusal, Reason)
    assert (refusal.code, refusal.blocking) == ("unsynced", True)

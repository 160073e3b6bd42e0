"""Pulses that the range cuts off, and crests that are flat by themselves."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Channel, Role
from fairwitness.core.signal.quality import cut_off

RATE, COUNT = 20_000, 20_000


def pulses(*, noise=0.01, bits=8, span=2.0, limit=None, sign=1.0, plateau=0.9):
    """Rising currents that stay at their plateau for 3 ms, quantised over a span of amperes, perhaps cut off."""
    amps = np.zeros(COUNT)
    for at in range(1_000, COUNT - 200, 1_600):
        since = np.arange(100) / RATE
        amps[at : at + 100] = plateau * -np.expm1(-since / 5e-4)
    amps = sign * amps + np.random.default_rng(3).normal(0, noise, COUNT) if noise else sign * amps
    step = span / 2**bits
    amps = np.round(amps / step) * step
    if limit is not None:
        amps = np.clip(amps, -limit, limit)
    return Channel(name="clamp", role=Role.INJECTOR_CURRENT, unit="A", samples=amps.astype(np.float32))


@pytest.mark.parametrize("bits", [8, 10, 12, 16])
@pytest.mark.parametrize("sign", [1.0, -1.0])
def test_tops_that_the_range_cuts_off_are_refused(bits, sign):
    reason = cut_off(pulses(bits=bits, limit=0.6, sign=sign, noise=0.02))
    assert reason is not None
    assert reason.blocking
    assert "0.6 A" in render(reason.statement)


@pytest.mark.parametrize("bits", [8, 10, 12, 16])
@pytest.mark.parametrize("noise", [0.0, 0.003, 0.02])
def test_a_plateau_that_is_flat_by_itself_is_not(bits, noise):
    assert cut_off(pulses(bits=bits, noise=noise)) is None


def test_without_any_noise_nothing_tells_a_regulated_current_from_a_cut_one():
    assert cut_off(pulses(noise=0.0, limit=0.6)) is None


def test_a_dead_trace_and_a_short_one_are_not_called_cut():
    silent = Channel(name="x", role=Role.INJECTOR_CURRENT, unit="A", samples=np.zeros(500, dtype=np.float32))
    gone = Channel(name="x", role=Role.INJECTOR_CURRENT, unit="A", samples=np.full(500, np.nan, dtype=np.float32))
    assert cut_off(silent) is None
    assert cut_off(gone) is None

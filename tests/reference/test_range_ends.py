"""Currents that a converter cuts off, against the textbook solution of a coil on a battery.

i(t) = U/R (1 - exp(-t R/L)), any text on circuits; samples rounded by the rule of an ideal converter (IEEE Std 1241
[P]: steps of the full range over 2^bits). What the range took away is never made up again: the reading is refused with
the level at which it was cut.
"""

import numpy as np
import pytest

from fairwitness.core.model.capture import Channel, Role
from fairwitness.core.signal.quality import cut_off

VOLT, OHM, HENRY, ON_S, PERIOD_S, RATE_HZ = 13.8, 0.6, 3.5e-3, 3e-3, 0.05, 50_000.0
PEAK_A = VOLT / OHM * (1 - np.exp(-ON_S * OHM / HENRY))


def coil_current(bits, range_a, noise_a=0.02):
    time = np.arange(0.0, 1.0, 1.0 / RATE_HZ) % PERIOD_S
    current = np.where(time < ON_S, VOLT / OHM * (1 - np.exp(-time * OHM / HENRY)), 0.0)
    current = current + noise_a * np.random.default_rng(bits).standard_normal(time.size)
    step = 2 * range_a / 2**bits
    held = np.clip(np.round(current / step) * step, -range_a, range_a)
    return Channel(name="clamp", role=Role.COIL_CURRENT, unit="A", samples=held.astype(np.float32))


@pytest.mark.parametrize("bits", [8, 12, 16])
@pytest.mark.parametrize("of_peak", [0.4, 0.6, 0.8])
def test_a_range_below_the_peak_is_said_with_its_end(bits, of_peak):
    reason = cut_off(coil_current(bits, of_peak * PEAK_A))
    assert reason is not None
    assert reason.blocking
    assert float(dict(reason.statement.parameters)["level"]) == pytest.approx(of_peak * PEAK_A, rel=1e-3)


@pytest.mark.parametrize("bits", [8, 12, 16])
@pytest.mark.parametrize("of_peak", [1.1, 2.0, 5.0])
def test_a_range_above_the_peak_is_no_reason(bits, of_peak):
    assert cut_off(coil_current(bits, of_peak * PEAK_A)) is None

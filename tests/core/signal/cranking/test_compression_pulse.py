import numpy as np
import pytest

from fairwitness.core.model.engine import even_engine
from fairwitness.core.signal.cranking.compression_pulse import (
    GRID,
    fit_cycle,
    lag_range_deg,
    load_course,
    solve_heights,
)

ORDERS = {3: (1, 3, 2), 6: (1, 5, 3, 6, 2, 4), 12: (1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10)}


def bumps(engine, heights, *, width_deg=70.0, lag_deg=0.0):
    """Smooth bumps at each TDC: not the model's own shape."""
    angle = np.arange(GRID) * 720.0 / GRID
    total = np.zeros(GRID)
    for height, centre in zip(heights, engine.event_angles_deg, strict=True):
        apart = (angle - centre - lag_deg + 360) % 720 - 360
        total += height * np.exp(-0.5 * (apart / (width_deg / 2.355)) ** 2)
    return total


@pytest.mark.parametrize("n", ORDERS)
def test_equal_bumps_give_equal_heights(n):
    engine = even_engine(ORDERS[n])
    fit = fit_cycle(bumps(engine, np.ones(n)), engine, lags_deg=lag_range_deg(engine))
    assert np.ptp(fit.heights) < 1e-6 * fit.heights.max()


@pytest.mark.parametrize("n", [3, 6])
def test_a_missing_bump_is_the_only_low_one(n):
    engine = even_engine(ORDERS[n])
    heights = np.ones(n)
    heights[1] = 0.0
    fit = fit_cycle(bumps(engine, heights), engine, lags_deg=lag_range_deg(engine))
    shares = fit.heights / np.median(np.delete(fit.heights, 1))
    assert shares[1] < 0.3
    assert np.delete(shares, 1).min() > 0.7


def test_lags_stay_within_one_interval():
    for order in ORDERS.values():
        engine = even_engine(order)
        low, high = lag_range_deg(engine)
        assert high - low < min(engine.firing_intervals_deg)


def test_a_flat_cycle_has_no_heights():
    fit = fit_cycle(np.full(GRID, 5.0), even_engine((1, 3, 4, 2)), lags_deg=(-20.0, 20.0))
    assert fit.residual == 1.0
    assert not fit.heights.any()


def test_without_speed_swing_the_course_is_the_cycle():
    cycle = np.random.default_rng(0).normal(size=GRID)
    np.testing.assert_allclose(load_course(cycle, 0.0, 80.0), cycle - cycle.mean())


def test_single_cycles_scatter_around_the_average():
    engine = even_engine((1, 3, 4, 2))
    rng = np.random.default_rng(1)
    cycles = np.stack([bumps(engine, [1, 0.5, 1, 1]) + rng.normal(0, 0.02, GRID) for _ in range(12)])
    fit = fit_cycle(np.median(cycles, axis=0), engine, lags_deg=lag_range_deg(engine))
    each = solve_heights(cycles, engine, fit)
    assert each.shape == (12, 4)
    np.testing.assert_allclose(np.median(each, axis=0), fit.heights, rtol=0.1, atol=0.05 * fit.heights.max())

"""Work shares against a crank turned by first principles, at manifold pressures from a shut throttle to an open one."""

import numpy as np
import pytest

from tests.independent.running import Running, random_engines
from tests.independent.work import ORDERS, shares_of


@pytest.mark.parametrize("kpa", [25.0, 35.0, 50.0, 75.0])
@pytest.mark.parametrize("true", [0.85, 0.7, 0.5])
def test_a_loss_at_part_throttle_is_read_as_large_as_it_is(kpa, true):
    shares = shares_of(Running(manifold_kpa=kpa, shares={3: true}))
    assert shares[1] == pytest.approx(true, abs=0.08)
    assert np.delete(shares, 1) == pytest.approx(1.0, abs=0.08)


@pytest.mark.parametrize("cylinders", ORDERS)
def test_over_engines_drawn_at_random_the_error_is_small_and_never_gross(cylinders):
    errors, sound = [], []
    for run, true in random_engines(ORDERS[cylinders], count=18, seed=40 + cylinders):
        shares = shares_of(run)
        errors.append(shares[1] - true)
        sound.append(np.abs(np.delete(shares, 1) - 1.0).max())
    assert np.sqrt(np.mean(np.square(errors))) < 0.08
    assert np.mean(np.abs(errors) <= 0.08) >= 0.75
    assert np.abs(errors).max() < 0.2
    assert max(sound) < 0.12


@pytest.mark.parametrize("cylinders", ORDERS)
def test_differences_that_every_engine_has_accuse_nobody(cylinders):
    order = ORDERS[cylinders]
    ordinary = dict(zip(order, np.random.default_rng(cylinders).uniform(0.95, 1.05, cylinders), strict=True))
    shares = shares_of(Running(order=order, manifold_kpa=32.0, shares=ordinary))
    assert shares.min() > 0.85

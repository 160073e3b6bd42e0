import numpy as np
import pytest

from fairwitness.simulate.population import FIRING_ORDERS, UNUSABLE_TRAPS, known_case


def test_the_same_seed_gives_the_same_case():
    first, second = known_case(11), known_case(11)
    assert first.capture.sha256 == second.capture.sha256
    assert (first.low, first.trap) == (second.low, second.trap)


def test_the_population_covers_engines_faults_and_traps():
    cases = [known_case(seed) for seed in range(120)]
    assert {c.engine.cylinders for c in cases} == set(FIRING_ORDERS)
    assert {c.trap for c in cases if not c.usable} <= set(UNUSABLE_TRAPS)
    assert 0.1 < np.mean([not c.usable for c in cases]) < 0.35
    assert 0.1 < np.mean([not c.low for c in cases]) < 0.5
    assert all(c.dead <= c.low <= set(c.engine.firing_order) for c in cases)


@pytest.mark.parametrize("order", [o for orders in FIRING_ORDERS.values() for o in orders])
def test_firing_orders_name_each_cylinder_once(order):
    assert sorted(order) == list(range(1, len(order) + 1))

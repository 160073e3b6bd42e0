import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.model.engine import even_engine
from fairwitness.core.signal.crank.torque_fit import solve_work
from fairwitness.core.signal.crank.torque_shapes import burn_torque, inertia_torque, push_torque
from fairwitness.core.signal.crank.wheel import CrankAngle

ORDERS = {2: (1, 2), 3: (1, 3, 2), 4: (1, 3, 4, 2), 6: (1, 5, 3, 6, 2, 4)}
CYCLES = 24
SPEED = np.deg2rad(6 * 800.0)


def spun(engine, works, *, push=0.4, level=0.03):
    """A crank whose energy follows the shapes exactly, for works[cycle][place] of each event."""
    fine = np.arange(-180.0, 720.0 * CYCLES + 360.0, 1.0)
    torque = np.zeros(fine.size)
    for cycle in range(-1, CYCLES + 1):
        for place, event in enumerate(engine.event_angles_deg):
            at = fine - event - 720.0 * cycle
            near = (at > -180.0) & (at < 540.0)
            work = works[min(max(cycle, 0), CYCLES - 1)][place]
            torque[near] += work * burn_torque(at[near], 8.0, 65.0) + push * push_torque(at[near])
    torque -= torque[(fine >= 0) & (fine < 720.0 * CYCLES)].mean()
    energy = 0.5 * SPEED**2 * (1 + level * np.cumsum(torque) * np.deg2rad(1.0))
    times = np.concatenate(([0.0], np.cumsum(np.deg2rad(1.0) / np.sqrt(2 * energy[:-1]))))
    teeth = np.arange(-174.0, fine[-1], 6.0)
    return CrankAngle(times_s=np.interp(teeth, fine, times), angle_deg=teeth, teeth=60, gapped=True)


@pytest.mark.parametrize("cylinders", ORDERS)
def test_known_works_come_back(cylinders):
    engine = even_engine(ORDERS[cylinders])
    works = np.ones((CYCLES, cylinders))
    works[:, -1] = 0.5
    solved = solve_work(spun(engine, works), engine, 0.0)
    shares = solved.per_cycle.mean(axis=0) / np.median(np.delete(solved.level, -1))
    np.testing.assert_allclose(shares[:-1], 1.0, atol=0.08)
    assert shares[-1] == pytest.approx(0.5, abs=0.15)
    assert solved.residual < 0.1


@settings(max_examples=10, deadline=None)
@given(st.lists(st.integers(2, CYCLES - 3), min_size=2, max_size=6, unique=True), st.integers(0, 3))
def test_single_misfires_are_seen_in_the_cycle_they_happen_in(missed, place):
    engine = even_engine(ORDERS[4])
    works = np.ones((CYCLES, 4))
    works[missed, place] = 0.0
    solved = solve_work(spun(engine, works), engine, 0.0)
    shares = solved.per_cycle / np.median(solved.level)
    first = round(float(np.interp(0.0, [0.0, 1.0], [0.0, 1.0])))
    low = np.argwhere(shares < 0.5)
    assert {(int(c) + first, int(p)) for c, p in low} == {(c, place) for c in missed}


def test_shapes_hold_the_work_they_are_said_to_hold():
    angle = np.arange(-180.0, 540.0, 0.25)
    step = np.deg2rad(0.25)
    assert np.sum(burn_torque(angle, 0.0, 65.0)) * step == pytest.approx(1.0, abs=0.01)
    pushed = push_torque(angle)
    assert np.sum(pushed) * step == pytest.approx(0.0, abs=0.01)  # what compression takes, expansion gives back
    assert np.sum(pushed[angle > 0]) * step == pytest.approx(1.0, abs=0.01)
    assert np.sum(inertia_torque(angle)) * step == pytest.approx(0.0, abs=0.01)


def test_too_short_a_stretch_is_nothing():
    engine = even_engine(ORDERS[4])
    crank = spun(engine, np.ones((CYCLES, 4)))
    few = crank.angle_deg < 900.0
    short = CrankAngle(times_s=crank.times_s[few], angle_deg=crank.angle_deg[few], teeth=60, gapped=True)
    assert solve_work(short, engine, 0.0) is None

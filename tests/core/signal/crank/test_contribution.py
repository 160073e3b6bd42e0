"""What the work of single events amounts to, one cylinder beside its peers."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.model.measurement import State
from fairwitness.core.signal.crank.contribution import contributions, usual_work


def events(*levels, cycles=30, scatter=0.04):
    rng = np.random.default_rng(2)
    return np.array(levels) * (1 + scatter * rng.normal(size=(cycles, len(levels))))


def states(*levels, **about):
    return [own.state for own in contributions(events(*levels, **about))[1]]


def test_one_that_is_fed_too_much_does_not_accuse_the_others():
    # A leaking injector of a diesel: its cylinder works at two and a half times the rest.
    shares, found = contributions(events(165.0, 62.0, 63.0, 68.0))
    assert [own.state for own in found] == [State.NORMAL] * 4
    assert np.median(shares[:, 1]) == pytest.approx(1.0, abs=0.06)


def test_one_and_two_weak_ones_stay_weak():
    assert states(100.0, 40.0, 98.0, 101.0) == [State.NORMAL, State.LOW, State.NORMAL, State.NORMAL]
    assert states(100.0, 40.0, 98.0, 42.0) == [State.NORMAL, State.LOW, State.NORMAL, State.LOW]


def test_one_that_misses_now_and_then_is_told_by_its_rate():
    work = events(100.0, 100.0, 100.0, 100.0)
    work[::5, 2] = 0.0
    found = contributions(work)[1]
    assert found[2].misfire_rate == pytest.approx(0.2, abs=0.01)
    assert [own.misfire_rate for i, own in enumerate(found) if i != 2] == [0.0, 0.0, 0.0]


@given(st.floats(0.5, 500.0), st.lists(st.floats(0.9, 1.1), min_size=4, max_size=8), st.floats(1.6, 4.0))
def test_the_usual_work_is_that_of_the_group_however_one_towers(level, spread, tower):
    work = level * np.array(spread)
    above = work.copy()
    above[0] = level * tower
    assert usual_work(above) == pytest.approx(level, rel=0.15)
    assert usual_work(work) == pytest.approx(level, rel=0.15)

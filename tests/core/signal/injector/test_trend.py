"""What a long log says: the moment something is lost for good, what comes and goes, and heat."""

import tracemalloc
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.injector_current.measure import measure
from fairwitness.core.signal.injector.trend import Train, lost_from, presences
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.heat_soak import HeatSoak, warm_up
from tests.core.feeds import running

FOUR = even_engine((1, 3, 4, 2))


def train(cycles):
    numbers = np.array(sorted(cycles), dtype=np.intp)
    ones = np.ones(numbers.size)
    return Train(cycle=numbers, begin_s=ones, level_a=ones, hold_a=ones, on_ms=ones, charge_mc=ones, pulses=numbers)


@given(before=st.integers(20, 300), after=st.integers(20, 300), seed=st.integers(0, 10_000))
def test_the_moment_of_failure_is_found_to_the_event(before, after, seed):
    rng = np.random.default_rng(seed)
    here = np.concatenate((np.ones(before, bool), np.zeros(after, bool)))
    here[rng.integers(5, before - 5)] = False  # one slip long before changes nothing
    assert lost_from(here) == before


@pytest.mark.parametrize(
    "here", [np.ones(100, bool), np.zeros(100, bool), np.tile([True, False], 50), np.array([True] * 97 + [False] * 3)]
)
def test_what_works_to_the_end_or_never_or_now_and_then_is_not_lost(here):
    assert lost_from(here) is None


def test_fuel_cut_for_all_is_nobodys_fault():
    every = set(range(100))
    overrun = set(range(40, 60))
    ran = every - overrun
    found = presences([train(ran), train(ran), train(ran - {10, 11}), train(ran)], 100)
    assert [p.missed for p in found] == [0, 0, 2, 0]
    assert found[0].due == 98 - len(overrun)


def test_an_injector_that_stays_out_again_and_again_is_told_with_its_count():
    gone = {(4, k) for k in range(5, 60, 4)}
    reported = measure(running(FOUR, rpm=760, on_s=0.003, cycles=60, missing=gone), FOUR)
    finding = next(f for f in reported.findings if f.cylinder == 4 and not f.is_remark)
    assert finding.state is State.ABNORMAL
    assert f"{len(gone)} times" in render(finding.statement)
    shares = dict(zip(FOUR.firing_order, reported.lines[0].alternatives[0], strict=True))
    assert shares[4] == 0.0
    assert shares[1] == pytest.approx(1.0, abs=0.03)


@pytest.fixture(scope="module")
def log():
    """Twenty minutes at 20 kS/s on four channels, an injector opens when hot."""
    vehicle = build(ENGINES["drover-2.0"], (), rng=np.random.default_rng(1))
    return warm_up(replace(vehicle, feeds=((1, 4), (2, 3))), HeatSoak(opens=3, opens_at_s=815.0))


def test_open_when_hot_is_found_in_a_long_log_to_the_event_and_in_bounded_memory(log):
    capture, opened_s = log
    assert capture.time.duration_s == pytest.approx(1200.0, abs=1.0)
    tracemalloc.start()
    reported = measure(capture, ENGINES["drover-2.0"])
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    samples = sum(c.samples.nbytes for c in capture.channels)
    assert peak < 0.5 * samples
    finding = next(f for f in reported.findings if f.cylinder == 3 and not f.is_remark)
    assert finding.state is State.ABSENT
    moment = next(f for f in reported.findings if f.quantity == "lost_at")
    cycle_s = 120.0 / reported.facts["speed_rpm"]
    assert abs(moment.value - opened_s) < cycle_s
    assert {f.cylinder for f in reported.findings if f.state is not State.NORMAL} == {3}
    warming = next(f for f in reported.findings if f.quantity == "warming")
    assert 30 < warming.value < 75


def test_a_contact_that_warms_is_told_as_a_drift():
    vehicle = build(ENGINES["drover-2.0"], (), rng=np.random.default_rng(1))
    capture, _ = warm_up(vehicle, HeatSoak(seconds=240.0, rate_hz=10_000.0, opens=2, drifts=0.12))
    reported = measure(capture, ENGINES["drover-2.0"])
    drifts = {f.cylinder: f.value for f in reported.findings if f.quantity == "current_drift"}
    assert drifts.keys() == {2}
    assert drifts[2] == pytest.approx(-0.1, abs=0.03)

"""Injector current: pulses found, given to their cylinder, and compared."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import Fuel, Ignition, Injection, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.injector_current.measure import measure
from fairwitness.core.signal.injector.current import find_pulses
from fairwitness.core.signal.injector.needle import needles

FOUR = even_engine((1, 3, 4, 2))
PAIRED = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)))
RATE, CYCLE_S, CYCLES, ON_S = 50_000.0, 0.16, 5, 0.0035
COUNT = int(RATE * CYCLE_S * CYCLES)


def begin(cylinder, k):
    return int(RATE * CYCLE_S * (k + 0.08 + FOUR.position(cylinder) / 4))


def one_pulse(*, ohm=14.5, henry=11e-3, dip=0.06, on_s=ON_S):
    since = np.arange(int(RATE * on_s)) / RATE
    own = 13.5 / ohm * -np.expm1(-since * ohm / henry)
    return own - dip * 13.5 / ohm * np.exp(-(((since - 0.0014) / 0.00012) ** 2))


def amps_of(cylinder, *, closed=True, noise=0.01, **about):
    amps = np.random.default_rng(cylinder).normal(0.0, noise, COUNT)
    own = one_pulse(**about)
    for k in range(CYCLES):
        first = begin(cylinder, k)
        if closed:
            amps[first : first + own.size] += own[: COUNT - first]
    return amps


def sync(cylinder=1, role=Role.INJECTOR_VOLTAGE):
    level = np.full(COUNT, 13.5 if role is Role.INJECTOR_VOLTAGE else 0.0)
    for k in range(CYCLES):
        first = begin(cylinder, k)
        if role is Role.INJECTOR_VOLTAGE:
            level[first : first + int(RATE * ON_S)] = 0.6
            level[first + int(RATE * ON_S) : first + int(RATE * ON_S) + 12] = 70.0
        else:
            level[first - 900 : first - 750] = 5.0
    return Channel(name="sync", role=role, unit="V", samples=level, cylinder=cylinder, sync=True)


def capture(*channels):
    set_up = SetUp(test=CaptureTest.INJECTOR_CURRENT, engine_state=EngineState.RUNNING, load="idle")
    return Capture(name="inj", time=TimeBase(samples=COUNT, rate_hz=RATE), channels=channels, set_up=set_up)


def on_feed(odd, *, feeds=(), sign=1.0, gain=1.0, unit="A"):
    fed = feeds or FOUR.firing_order
    total = sum(amps_of(c, **odd.get(c, {})) for c in fed)
    return Channel(name=f"feed {fed}", role=Role.INJECTOR_CURRENT, unit=unit, samples=sign * gain * total, feeds=feeds)


def states(measured):
    return {f.cylinder: f.state for f in measured.findings}


@pytest.mark.parametrize(
    ("about", "state"),
    [
        ({}, State.NORMAL),
        ({"closed": False}, State.ABSENT),
        ({"ohm": 16.3}, State.LOW),
        ({"ohm": 15.1}, State.NORMAL),
        ({"ohm": 5.0, "henry": 1e-3, "dip": 0.0}, State.HIGH),
        ({"dip": 0.0}, State.ABNORMAL),
        ({"on_s": 0.008}, State.ABNORMAL),
    ],
)
def test_one_injector_on_a_shared_feed(about, state):
    measured = measure(capture(on_feed({4: about}), sync()), FOUR)
    assert states(measured)[4] is state
    assert {s for c, s in states(measured).items() if c != 4} == {State.NORMAL}


@pytest.mark.parametrize(("unit", "gain"), [("A", 1.0), ("mA", 1000.0), ("V", 0.1)])
@pytest.mark.parametrize("sign", [1.0, -1.0])
def test_gain_unit_and_direction_of_the_clamp_do_not_matter(unit, gain, sign):
    measured = measure(capture(on_feed({3: {"closed": False}}, unit=unit, gain=gain, sign=sign), sync(2)), FOUR)
    assert [c for c, s in states(measured).items() if s is State.ABSENT] == [3]


def test_two_feeds_of_unlike_gain_are_each_compared_with_their_own():
    six = even_engine((1, 4, 2, 5, 3, 6))
    assert six.position(5) == 3

    def own(c, **about):
        amps = np.random.default_rng(c).normal(0, 0.01, COUNT)
        pulse = one_pulse(**about)
        for k in range(CYCLES):
            first = int(RATE * CYCLE_S * (k + 0.05 + six.position(c) / 6))
            amps[first : first + pulse.size] += pulse[: COUNT - first]
        return amps

    def feed(cylinders, gain, **about):
        total = sum(own(c, **(about if c == 5 else {})) for c in cylinders)
        return Channel(name=str(cylinders), role=Role.INJECTOR_CURRENT, unit="A", samples=gain * total, feeds=cylinders)

    level = np.full(COUNT, 13.5)
    for k in range(CYCLES):
        first = int(RATE * CYCLE_S * (k + 0.05))
        level[first : first + int(RATE * ON_S)] = 0.6
        level[first + int(RATE * ON_S) :][:12] = 70.0
    mark = Channel(name="sync", role=Role.INJECTOR_VOLTAGE, unit="V", samples=level, cylinder=1, sync=True)
    measured = measure(capture(feed((1, 2, 3), 1.0), feed((4, 5, 6), 0.7, ohm=16.5), mark), six)
    assert {c for c, s in states(measured).items() if s is not State.NORMAL} == {5}


def test_a_coil_as_sync_tells_whether_but_not_which():
    measured = measure(capture(on_feed({4: {"closed": False}}), sync(1, Role.COIL_CONTROL)), FOUR)
    assert [f.cylinder for f in measured.findings] == [None]
    assert measured.findings[0].state is State.ABSENT
    assert len(measured.lines[0].alternatives) == 4


def test_a_shared_coil_as_sync_is_refused():
    assert not measure(capture(on_feed({}), sync(1, Role.COIL_CONTROL)), PAIRED).usable


def test_without_sync_or_without_current_nothing_is_said():
    assert not measure(capture(on_feed({})), FOUR).usable
    dead = on_feed({c: {"closed": False} for c in FOUR.firing_order})
    assert not measure(capture(dead, sync()), FOUR).usable


def test_figures_of_a_pulse_come_back():
    found = find_pulses(amps_of(1), RATE)
    assert found.count == CYCLES
    np.testing.assert_allclose(found.on_ms, 1e3 * ON_S, atol=0.1)
    np.testing.assert_allclose(found.peak_a, one_pulse().max(), rtol=0.03)
    np.testing.assert_allclose(found.charge_mc, 1e3 * one_pulse().sum() / RATE, rtol=0.03)


def test_interference_is_no_pulse():
    amps = amps_of(1)
    amps[np.arange(100, COUNT, 1733)] += 2.0
    found = find_pulses(amps, RATE)
    assert found.count == CYCLES
    assert found.spikes > 3


def test_a_needle_that_lifts_is_told_from_one_that_stays():
    shapes = {c: one_pulse(dip=0.0 if c == 3 else 0.06) for c in (1, 2, 3, 4)}
    found = needles(shapes, RATE, dict.fromkeys(shapes, 0.001))
    assert found.usual_ms == pytest.approx(1.4, abs=0.15)
    assert found.shares[3] == pytest.approx(0.0, abs=0.1)
    assert found.shares[1] == pytest.approx(1.0, abs=0.1)


def test_pilot_and_main_are_one_injection_and_the_missing_one_is_found():
    engine = even_engine(
        (1, 3, 4, 2), fuel=Fuel.DIESEL, ignition=Ignition.COMPRESSION_IGNITION, injection=Injection.COMMON_RAIL
    )
    amps = np.random.default_rng(3).normal(0.0, 0.1, COUNT)
    mark = np.full(COUNT, 13.5)
    for k in range(CYCLES):
        for cylinder in engine.firing_order:
            first = begin(cylinder, k)
            for offset_s, on_s in ((0.0, 0.3e-3), (1.8e-3, 0.9e-3)):
                at, last = first + int(offset_s * RATE), first + int((offset_s + on_s) * RATE)
                if cylinder != 4:
                    since = (np.arange(at, last) - at) / RATE
                    amps[at:last] += np.minimum(18.0, 430e3 * since + 4.0) - 8.0 * np.clip(since - 2e-4, 0, 1e-3) / 1e-3
                if cylinder == 1:
                    mark[at:last] = 0.6
                    mark[last : last + 10] = 60.0
    feed = Channel(name="feed", role=Role.INJECTOR_CURRENT, unit="A", samples=amps)
    lead = Channel(name="sync", role=Role.INJECTOR_VOLTAGE, unit="V", samples=mark, cylinder=1, sync=True)
    measured = measure(capture(feed, lead), engine)
    assert states(measured) == {1: State.NORMAL, 3: State.NORMAL, 4: State.ABSENT, 2: State.NORMAL}
    assert measured.figures[3]["per_injection"] == 2.0
    assert "in 2 pulses" in render(next(f for f in measured.findings if f.cylinder == 3).statement)
    assert measured.figures[3]["on_ms"] == pytest.approx(0.9, abs=0.1)

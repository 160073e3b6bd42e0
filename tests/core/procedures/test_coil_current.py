"""Coil current: on a shared feed and on single coils."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import Ignition, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.coil_current.measure import measure
from fairwitness.core.procedures.registry import swept

FOUR = even_engine((1, 3, 4, 2))
PAIRED = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)))
RATE, CYCLE_S, CYCLES = 50_000.0, 0.16, 6
SET_UP = SetUp(test=CaptureTest.COIL_CURRENT, engine_state=EngineState.RUNNING, load="idle")


def amps_of(engine, cylinder, *, henry=3e-3, ohm=0.7, closed=True, times=1, seed=0):
    count = int(RATE * CYCLE_S * CYCLES)
    amps = np.random.default_rng(seed + cylinder).normal(0, 0.06, count)
    own = 13.0 / ohm * -np.expm1(-np.arange(int(0.003 * RATE)) / RATE * ohm / henry)
    for k in range(CYCLES * times):
        off = int(RATE * CYCLE_S * (k / times + 0.05 + engine.position(cylinder) / engine.cylinders))
        if closed:
            amps[off - own.size : off] += own
    return amps


def command(cylinder):
    level = np.zeros(int(RATE * CYCLE_S * CYCLES))
    for k in range(CYCLES):
        off = int(RATE * CYCLE_S * (k + 0.05 + FOUR.position(cylinder) / 4))
        level[off - int(0.003 * RATE) : off] = 5.0
    return Channel(name="sync", role=Role.COIL_CONTROL, unit="V", samples=level, cylinder=cylinder, sync=True)


def capture(channels, name="coils"):
    time = TimeBase(samples=int(RATE * CYCLE_S * CYCLES), rate_hz=RATE)
    return Capture(name=name, time=time, channels=tuple(channels), set_up=SET_UP)


def own_clamps(odd, engine=FOUR, times=1):
    return capture(
        Channel(name=f"coil {c}", role=Role.COIL_CURRENT, unit="A", cylinder=c,
                samples=amps_of(engine, c, times=times, **odd.get(c, {})))
        for c in sorted(engine.firing_order)
    )  # fmt: skip


def states(measured):
    return {f.cylinder: f.state for f in measured.findings if not f.is_remark}


@pytest.mark.parametrize(
    ("about", "state", "share"),
    [
        ({"henry": 1.2e-3}, State.HIGH, 2.2),
        ({"ohm": 2.4}, State.LOW, 0.5),
        ({"closed": False}, State.ABSENT, 0.0),
        ({}, State.NORMAL, 1.0),
    ],
)
def test_one_coil_beside_its_peers(about, state, share):
    measured = measure(own_clamps({4: about}), FOUR)
    assert states(measured)[4] is state
    assert {s for c, s in states(measured).items() if c != 4} == {State.NORMAL}
    assert measured.lines[0].alternatives[0][FOUR.position(4)] == pytest.approx(share, abs=0.35 if share > 1 else 0.2)


def on_feed(odd, unit="A", scale=1.0, sign=1.0):
    total = sum(amps_of(FOUR, c, **odd.get(c, {})) for c in FOUR.firing_order)
    clamp = Channel(name="feed", role=Role.COIL_CURRENT, unit=unit, samples=sign * scale * total)
    return capture((clamp, command(1)))


@pytest.mark.parametrize(("unit", "scale"), [("A", 1.0), ("mA", 1000.0), ("V", 0.1)])
@pytest.mark.parametrize("sign", [1.0, -1.0])
def test_ramps_on_a_shared_feed_find_their_cylinder(unit, scale, sign):
    measured = measure(on_feed({2: {"closed": False}}, unit, scale, sign), FOUR)
    assert states(measured) == {1: State.NORMAL, 3: State.NORMAL, 4: State.NORMAL, 2: State.ABSENT}
    assert ("reversed" in {r.code for r in measured.reasons}) is (sign < 0)


@pytest.mark.parametrize(("ohm", "sags"), [(0.05, False), (0.4, True)])
def test_a_supply_that_sags_under_the_coils_is_said(ohm, sags):
    fed = on_feed({})
    volts = 13.2 - ohm * np.maximum(fed.channels[0].samples, 0.0)
    battery = Channel(name="supply", role=Role.BATTERY_VOLTAGE, unit="V", samples=volts)
    measured = measure(capture((*fed.channels, battery)), FOUR)
    assert ("supply_sags" in {r.code for r in measured.reasons}) is sags
    assert measured.facts["supply_v"] == pytest.approx(13.2, abs=0.1)
    assert measured.facts["sag_v"] == pytest.approx(ohm * measured.figures[1]["peak_a"], rel=0.15, abs=0.05)


def test_a_shared_feed_without_sync_assigns_nothing():
    alone = capture(on_feed({}).channels[:1])
    measured = measure(alone, FOUR)
    assert not measured.usable
    assert "sync" in render(measured.reasons[0].statement)


def test_a_waste_spark_coil_is_both_cylinders_coil():
    measured = measure(
        capture(
            Channel(name=f"coil {c}", role=Role.COIL_CURRENT, unit="A", cylinder=c,
                    samples=amps_of(PAIRED, c, times=2, closed=c != 2))
            for c in (1, 2)
        ),
        PAIRED,
    )  # fmt: skip
    assert states(measured) == {1: State.NORMAL, 4: State.NORMAL, 2: State.ABSENT, 3: State.ABSENT}


def test_coils_clamped_one_after_the_other_are_compared():
    whole = own_clamps({3: {"henry": 1.2e-3}})
    parts = [measure(capture((c,), name=c.name), FOUR) for c in whole.channels]
    judged = swept(parts, FOUR)
    assert [next(iter(states(m).values())) for m in judged] == [State.NORMAL, State.NORMAL, State.HIGH, State.NORMAL]

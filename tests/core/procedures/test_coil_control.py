"""Command levels: what switches, what only looks like it, and where along the wire it is lost."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.coil_control.measure import measure

FOUR = even_engine((1, 3, 4, 2))
RATE, SECONDS = 50_000.0, 1.0


def wire(cylinder, *, low=0.05, high=4.9, switches=True, **about):
    level = np.random.default_rng(cylinder).normal(low, 0.03, int(RATE * SECONDS))
    if switches:
        for at in np.arange(0.02 + 0.03 * cylinder, SECONDS - 0.05, 0.16):
            level[int(at * RATE) : int((at + 0.003) * RATE)] += high - low
    return Channel(name=f"w{cylinder}{sorted(about)}", role=Role.COIL_CONTROL, unit="V", samples=level,
                   cylinder=cylinder, **about)  # fmt: skip


def commands(*wires, seconds=SECONDS):
    count = int(RATE * seconds)
    wires = [replace(w, samples=w.samples[:count]) for w in wires]
    time = TimeBase(samples=count, rate_hz=RATE)
    set_up = SetUp(test=CaptureTest.COIL_CONTROL, engine_state=EngineState.RUNNING, load="idle")
    return measure(Capture(name="commands", time=time, channels=wires, set_up=set_up), FOUR)


def outcomes(measured):
    return {(s.kind, s.cylinders[0]): s.outcome for s in measured.categorical}


@pytest.mark.parametrize(
    ("about", "outcome", "state"),
    [
        ({}, "pulses", State.NORMAL),
        ({"low": 2.4}, "elevated", State.ABNORMAL),
        ({"low": 4.9, "switches": False}, "stuck", State.ABNORMAL),
        ({"switches": False}, "absent", State.ABSENT),
    ],
)
def test_each_level_has_its_meaning(about, outcome, state):
    measured = commands(wire(1), wire(3), wire(4), wire(2, **about))
    assert outcomes(measured)[("command:part", 2)] == outcome
    assert next(f.state for f in measured.findings if f.cylinder == 2) is state
    assert {f.state for f in measured.findings if f.cylinder != 2} == {State.NORMAL}


def test_the_same_wire_at_both_ends_unplugged_and_plugged():
    measured = commands(
        wire(1),
        wire(2, switches=False),
        wire(2, measured_at="control_unit"),
        wire(2, switches=False, unplugged=True),
    )
    assert outcomes(measured) == {
        ("command:part", 1): "pulses",
        ("command:part", 2): "absent",
        ("command:control_unit", 2): "pulses",
        ("command:part_unplugged", 2): "absent",
    }
    assert [f.state for f in measured.findings if f.cylinder == 2 and not f.is_remark] == [State.ABSENT]


def test_an_inverted_command_is_read_by_its_levels():
    flat = wire(2)
    inverted = Channel(name="t", role=Role.COIL_CONTROL, unit="V", samples=5.0 - flat.samples, cylinder=2)
    assert outcomes(commands(wire(1), inverted))[("command:part", 2)] == "pulses"


def test_where_nothing_switches_nothing_is_said():
    assert not commands(wire(1, switches=False), wire(2, switches=False)).usable


def test_a_wire_whose_command_did_not_fall_into_a_short_capture_is_not_called_missing():
    short = commands(wire(1), wire(3), wire(4), wire(2), seconds=0.12)  # those of 4 come later
    assert set(outcomes(short).values()) == {"pulses"}
    assert "cut_short" in [r.code for r in short.reasons]
    dead = commands(wire(1), wire(3), wire(2, switches=False), seconds=0.35)  # its peers switch twice
    assert outcomes(dead)[("command:part", 2)] == "absent"

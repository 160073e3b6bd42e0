"""Pulses at intake and crankcase while cranking: one cylinder stands out of what all breathe together."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import Ignition, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.crankcase_pulse import measure as crankcase_pulse
from fairwitness.core.procedures.intake_pulse import measure as intake_pulse

RATE, RPM, CYCLES = 5_000.0, 200.0, 9
COUNT = int(RATE * CYCLES * 120 / RPM)
TURNED = 6.0 * RPM * np.arange(COUNT) / RATE
ORDERS = [(1, 3, 2), (1, 3, 4, 2), (1, 2, 4, 5, 3), (1, 4, 2, 5, 3, 6), (1, 8, 4, 3, 6, 5, 7, 2)]


def bump(engine, cylinder, centre, width):
    at = (TURNED - engine.tdc_deg(cylinder) - centre + 360) % 720 - 360
    return np.where(np.abs(at) < width, 0.5 * (1 + np.cos(np.pi * at / width)), 0.0)


def taken(engine, role, values, *, sync=1, rpm_factor=1.0, seed=0, noise=4.0):
    mark = np.zeros(COUNT, dtype=np.float32)
    mark[((TURNED - engine.tdc_deg(sync)) % 720) < 12] = 5.0
    values = (values + np.random.default_rng(seed).normal(0, noise, COUNT)).astype(np.float32)
    return Capture(
        name="hose",
        time=TimeBase(samples=COUNT, rate_hz=RATE * rpm_factor),
        channels=(
            Channel(name="hose", role=role, unit="Pa", samples=values),
            Channel(name="sync", role=Role.COIL_CONTROL, unit="V", samples=mark, cylinder=sync, sync=True),
        ),
        set_up=SetUp(test=CaptureTest.CRANKCASE_PULSE, engine_state=EngineState.CRANKING),
    )


def breathing(engine):
    return 40 * np.sin(np.deg2rad(2 * TURNED)) + 25 * np.sin(np.deg2rad(TURNED * engine.cylinders / 2) + 0.4)


def ill(reported):
    return {f.cylinder: f.state for f in reported.findings if f.state is not State.NORMAL}


@pytest.mark.parametrize("order", ORDERS)
@pytest.mark.parametrize("delay", [0.0, 15.0])
def test_blow_by_is_given_to_its_cylinder(order, delay):
    engine = even_engine(order)
    at = order[len(order) // 2]
    reported = crankcase_pulse.measure(
        taken(engine, Role.CRANKCASE_PRESSURE, breathing(engine) + 400 * bump(engine, at, delay, 60)), engine
    )
    assert ill(reported) == {at: State.HIGH}
    assert "rings" in render(next(f for f in reported.findings if f.cylinder == at).statement)


@pytest.mark.parametrize("order", [(1, 3, 4, 2), (1, 4, 2, 5, 3, 6), (1, 8, 4, 3, 6, 5, 7, 2)])
@pytest.mark.parametrize("peers_push", [150.0, 400.0])
def test_where_all_push_but_one_that_one_is_named_and_not_its_companion(order, peers_push):
    engine = even_engine(order)
    at = order[1]
    pushes = sum(peers_push * bump(engine, c, 5, 60) for c in order if c != at)
    reported = crankcase_pulse.measure(taken(engine, Role.CRANKCASE_PRESSURE, breathing(engine) + pushes), engine)
    assert ill(reported) == {at: State.LOW}
    worn = pushes + 3.0 * peers_push * bump(engine, at, 5, 60)
    pushing = crankcase_pulse.measure(taken(engine, Role.CRANKCASE_PRESSURE, breathing(engine) + worn), engine)
    assert ill(pushing) == {at: State.HIGH}


@pytest.mark.parametrize("order", ORDERS)
def test_even_breathing_accuses_nobody(order):
    engine = even_engine(order)
    assert ill(crankcase_pulse.measure(taken(engine, Role.CRANKCASE_PRESSURE, breathing(engine)), engine)) == {}
    pulls = sum(-80 * bump(engine, c, -250, 110) for c in order)
    assert ill(intake_pulse.measure(taken(engine, Role.INTAKE_PRESSURE, pulls), engine)) == {}


@pytest.mark.parametrize("order", ORDERS)
def test_back_flow_and_a_missing_pull_are_told_apart(order):
    engine = even_engine(order)
    at = order[1]
    pulls = {c: -80 * bump(engine, c, -250, 110) for c in order}
    blown = sum(pulls.values()) + 120 * bump(engine, at, 4, 55)
    assert ill(intake_pulse.measure(taken(engine, Role.INTAKE_PRESSURE, blown), engine)) == {at: State.HIGH}
    missing = sum(v for c, v in pulls.items() if c != at)
    assert ill(intake_pulse.measure(taken(engine, Role.INTAKE_PRESSURE, missing), engine)) == {at: State.ABSENT}


def test_a_sync_on_a_shared_coil_leaves_the_companion_open():
    engine = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)))
    made = taken(engine, Role.CRANKCASE_PRESSURE, breathing(engine) + 400 * bump(engine, 3, 0, 60))
    mark = np.zeros(COUNT, dtype=np.float32)
    mark[(TURNED % 360) < 12] = 5.0
    object.__setattr__(made.channels[1], "samples", mark)
    reported = crankcase_pulse.measure(made, engine)
    assert [f.cylinder for f in reported.findings] == [None]
    assert reported.findings[0].state is State.HIGH
    assert len(reported.lines[0].alternatives) == 2


@pytest.mark.parametrize("what", ["silent", "running", "unsynced"])
def test_what_cannot_be_read_is_refused_with_a_reason(what):
    engine = even_engine((1, 3, 4, 2))
    made = taken(engine, Role.CRANKCASE_PRESSURE, breathing(engine), rpm_factor=5.0 if what == "running" else 1.0)
    if what == "silent":
        object.__setattr__(made.channels[0], "samples", np.zeros(COUNT, dtype=np.float32))
    if what == "unsynced":
        made = Capture(name="x", time=made.time, channels=made.channels[:1], set_up=made.set_up)
    reported = crankcase_pulse.measure(made, engine)
    assert not reported.usable
    assert render(reported.reasons[0].statement)

"""Crank speed on simulated engines: what each event really did against what is read from the sensor's trace."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, CaptureTest, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import CrankWheel, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.crank_speed.measure import applies, measure
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.core.procedures.specs import CARDS
from fairwitness.core.signal.crank.contribution import contributions
from fairwitness.simulate.examine import Recorder, sample
from fairwitness.simulate.garage import ENGINES, build, fault_named
from fairwitness.simulate.running import run_engine
from tests.core.wheels import passing_times, sensed, tooth_angles

CARD = CARDS[CaptureTest.CRANK_SPEED]
SENSOR = Clip(role=Role.CRANK_SENSOR)


def ran(name="drover-2.0", faults=(), *, clips=None, seed=3, load="idle", level="workshop"):
    rng = np.random.default_rng(seed)
    vehicle = build(ENGINES[name], [fault_named(f) for f in faults], rng=rng)
    trajectory = run_engine(vehicle, seconds=6.0, load=load, rng=rng)
    clips = clips or CARD.clips(vehicle.engine, (), vehicle.injector_feeds)
    set_up = CARD.recorded(hot=True)
    return sample(
        trajectory, clips, Recorder(rate_hz=50_000.0, level=level, name="run", set_up=set_up), rng=rng
    ), vehicle.engine


def states(measured):
    return {f.cylinder: f.state for f in measured.findings if f.quantity == measured.test}


@pytest.mark.parametrize("name", ["larder-1.2", "drover-2.0", "larder-2.5", "bookwain-2.7", "salter-4.4"])
def test_a_dead_cylinder_is_named(name):
    engine = ENGINES[name]
    ill = engine.firing_order[-2]
    capture, engine = ran(name, [f"injector_open_circuit@{ill}"])
    found = states(measure(capture, engine))
    assert found[ill] in (State.ABSENT, State.LOW)
    assert {c for c, s in found.items() if s is not State.NORMAL} == {ill}


@pytest.mark.parametrize(("load", "rpm"), [("cruise", 2500.0), ("brake_torque", 1400.0)])
def test_a_dead_cylinder_is_named_under_load(load, rpm):
    capture, engine = ran("slipway-3.1", ["injector_open_circuit@4"], load=load)
    measured = measure(capture, engine)
    assert measured.facts["speed_rpm"] == pytest.approx(rpm, rel=0.05)
    assert {c for c, s in states(measured).items() if s is not State.NORMAL} == {4}


@pytest.mark.parametrize(
    ("order", "intervals"),
    [((1, 6, 5, 4, 3, 2), (90.0, 150.0) * 3), ((1, 2), (270.0, 450.0)), ((1, 2), (360.0, 360.0))],
)
@pytest.mark.parametrize("ill", [False, True])
def test_odd_fire_and_twins_are_read_like_others(order, intervals, ill):
    engine = even_engine(order, firing_intervals_deg=intervals)
    rng = np.random.default_rng(1)
    vehicle = build(engine, [fault_named(f"injector_open_circuit@{order[-1]}")] if ill else [], rng=rng)
    trajectory = run_engine(vehicle, seconds=6.0, rng=rng)
    clips = CARD.clips(vehicle.engine, (), vehicle.injector_feeds)
    set_up = CARD.recorded(hot=True)
    capture = sample(
        trajectory, clips, Recorder(rate_hz=50_000.0, level="workshop", name="run", set_up=set_up), rng=rng
    )
    found = states(measure(capture, vehicle.engine))
    assert {c for c, s in found.items() if s is not State.NORMAL} == ({order[-1]} if ill else set())


@pytest.mark.parametrize("load", ["idle", "cruise"])
@pytest.mark.parametrize("name", ["larder-1.2", "drover-2.0", "bookwain-2.7", "salter-4.4"])
def test_a_sound_engine_is_left_alone_at_any_speed(name, load):
    measured = measure(*ran(name, load=load))
    assert set(states(measured).values()) == {State.NORMAL}
    assert measured.evidence is not None
    np.testing.assert_allclose(measured.evidence.alternatives[0], 1.0, atol=0.15)


def test_without_a_sync_the_wheel_leaves_companions_open():
    capture, engine = ran(faults=["injector_open_circuit@3"], clips=[SENSOR])
    measured = measure(capture, engine)
    assert render(measured.facts["assignment"]) == "once per revolution"
    assert [r.code for r in measured.reasons] == ["revolution_sync"]
    assert len(measured.evidence.alternatives) == 2
    assert "2 or 3" in render(measured.findings[0].statement)


def test_three_cylinders_tell_the_half_cycle_by_themselves():
    capture, engine = ran("larder-1.2", ["injector_open_circuit@3"], clips=[SENSOR])
    assert states(measure(capture, engine)).get(3) is State.ABSENT


def test_without_any_phase_it_says_whether_and_not_which():
    capture, engine = ran(faults=["injector_open_circuit@3"], clips=[SENSOR])
    bare = even_engine(engine.firing_order, crank_wheel=CrankWheel(teeth=60, missing=2))
    measured = measure(capture, bare)
    assert render(measured.facts["assignment"]) == "not assigned"
    assert len(measured.evidence.alternatives) == 4
    assert measured.findings[0].cylinder is None
    assert "which one it is" in render(measured.findings[0].statement).lower()


def test_a_sync_against_the_wheel_is_said():
    capture, engine = ran()
    wrong = even_engine(engine.firing_order, crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=260.0))
    assert "sync_against_wheel" in [r.code for r in measure(capture, wrong).reasons]


def test_a_wheel_other_than_said_is_believed_from_the_trace():
    capture, engine = ran()
    wrong = even_engine(engine.firing_order, crank_wheel=CrankWheel(teeth=36, missing=1, tdc1_deg_after_gap=90.0))
    measured = measure(capture, wrong)
    assert "wheel_differs" in [r.code for r in measured.reasons]
    assert set(states(measured).values()) == {State.NORMAL}


def test_misfires_now_and_then_are_counted():
    capture, engine = ran(faults=["coil_output_dead@2!random"], seed=5)
    measured = measure(capture, engine)
    rates = {f.cylinder: f.value for f in measured.findings if f.quantity == "misfire_rate"}
    assert set(rates) == {2}
    assert "misfires in" in render(next(f.statement for f in measured.findings if f.cylinder == 2))


def shortened(capture, cycles, rpm=800.0):
    count = int(cycles * 120 / rpm * capture.time.rate_hz)
    channels = tuple(replace(c, samples=c.samples[:count]) for c in capture.channels)
    return replace(capture, channels=channels, time=replace(capture.time, samples=count))


@pytest.mark.parametrize("ill", [True, False])
def test_few_cycles_still_name_a_dead_cylinder_and_clear_no_now_and_then(ill):
    capture, engine = ran("drover-2.0", ["injector_open_circuit@4"] if ill else [])
    whole, few = measure(capture, engine), measure(shortened(capture, 5), engine)
    assert few.facts["cycles"] < 6
    assert {c for c, s in states(few).items() if s is not State.NORMAL} == ({4} if ill else set())
    assert "few_cycles" in {r.code for r in few.reasons}
    assert "few_cycles" not in {r.code for r in whole.reasons}
    assert not any(s.kind == "misfire_rate" for s in few.categorical)
    assert np.median(few.lines[0].sigmas) >= np.median(whole.lines[0].sigmas)


def capture_of(trace, time, **set_up):
    channel = Channel(name="crank", role=Role.CRANK_SENSOR, unit="V", samples=trace)
    return Capture(name="run", time=time, channels=(channel,), set_up=SetUp(test=CaptureTest.CRANK_SPEED, **set_up))


@pytest.mark.parametrize(
    ("trace", "rate", "code"),
    [
        (np.zeros(20_000), 10_000.0, "no_teeth"),
        (np.tile([0.0, 5.0, 0.0], 4000), 3000.0, "aliased"),
    ],
)
def test_what_cannot_be_read_says_why(four, trace, rate, code):
    trace = trace.astype(np.float32)
    measured = measure(capture_of(trace, TimeBase(samples=trace.size, rate_hz=rate)), four)
    assert not measured.usable
    assert [r.code for r in measured.reasons] == [code]
    assert {f.state for f in measured.findings} == {State.UNUSABLE}


@pytest.mark.parametrize(
    ("speed", "revolutions", "code"),
    [(4800.0, 4, "too_short"), (1200.0, 30, "not_running"), (4800.0, 30, "wheel_unknown")],
)
def test_a_motion_that_is_no_running_engine_says_why(speed, revolutions, code):
    pattern = "x" * 24 if code == "wheel_unknown" else "x" * 58 + ".."
    angles = tooth_angles(pattern, revolutions)
    trace, time = sensed(passing_times(angles, lambda a: np.full(np.shape(a), speed)), square=True)
    measured = measure(capture_of(trace, time), even_engine((1, 3, 4, 2)))
    assert code in [r.code for r in measured.reasons]
    assert not measured.usable


def test_a_cranking_capture_is_not_for_this_test(four):
    trace = np.zeros(100, np.float32)
    time = TimeBase(samples=100, rate_hz=1000.0)
    assert not applies(capture_of(trace, time, engine_state=EngineState.CRANKING))
    assert applies(capture_of(trace, time, engine_state=EngineState.RUNNING))


def test_a_neighbour_of_a_much_worse_one_is_spared():
    events = np.ones((40, 4)) + np.random.default_rng(1).normal(0, 0.03, (40, 4))
    events[:, 1] = 0.02
    events[:, 2] *= 0.7
    _, found = contributions(events)
    assert [c.state for c in found] == [State.NORMAL, State.ABSENT, State.NORMAL, State.NORMAL]
    events[:, 1] = 1.0
    assert contributions(events)[1][2].state is State.LOW


def test_misfires_that_wander_are_not_one_cylinders():
    rng = np.random.default_rng(2)
    events = np.where(rng.random((60, 4)) < 0.2, 0.02, 1.0) + rng.normal(0, 0.02, (60, 4))
    _, found = contributions(events)
    assert all(c.misfire_rate > 0.05 for c in found)

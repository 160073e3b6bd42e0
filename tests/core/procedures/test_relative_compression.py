import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, Channel, EngineState, Role, SetUp, TimeBase
from fairwitness.core.model.engine import REVOLUTION_DEG, Ignition, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.relative_compression.measure import applies, measure
from fairwitness.core.procedures.relative_compression.shares import judge, shares_of_peers
from tests.conftest import cranking

EIGHT = even_engine((1, 8, 4, 3, 6, 5, 7, 2))
TWELVE = even_engine((1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10))


def states(measured):
    return {f.cylinder: f.state for f in measured.findings}


def low(measured):
    return {c for c, s in states(measured).items() if s in (State.LOW, State.ABSENT)}


def codes(measured):
    return {r.code for r in measured.reasons}


@pytest.mark.parametrize("engine", [even_engine((1, 3, 2)), even_engine((1, 3, 4, 2)), EIGHT, TWELVE])
def test_a_healthy_engine_is_even(engine):
    measured = measure(cranking(engine), engine)
    assert measured.usable
    assert set(states(measured).values()) == {State.NORMAL}


@pytest.mark.parametrize(("engine", "hole"), [(even_engine((1, 3, 4, 2)), 3), (EIGHT, 5), (TWELVE, 12)])
@pytest.mark.parametrize("sync", [1, 2])
def test_a_dead_hole_is_absent_and_alone(engine, hole, sync):
    measured = measure(cranking(engine, {hole: 0.04}, sync_cylinder=sync), engine)
    assert {c for c, s in states(measured).items() if s is not State.NORMAL} == {hole}
    assert states(measured)[hole] is State.ABSENT


def test_a_mild_loss_is_low(six):
    measured = measure(cranking(six, {4: 0.65}), six)
    assert states(measured)[4] is State.LOW
    assert low(measured) == {4}


def test_companions_dead_together_are_both_named(four):
    assert low(measure(cranking(four, {1: 0.05, 4: 0.05}), four)) == {1, 4}


@pytest.mark.parametrize(
    ("rig", "code"),
    [({"clamp_sign": -1.0}, "reversed"), ({"clamp_zero_a": -70.0}, "clamp_zero"), ({"spikes_per_s": 20.0}, "spikes")],
)
def test_what_was_put_right_is_said_and_the_cylinder_still_found(six, rig, code):
    measured = measure(cranking(six, {2: 0.1}, **rig), six)
    assert code in codes(measured)
    assert low(measured) == {2}


def test_battery_voltage_alone_is_enough(four):
    measured = measure(cranking(four, {2: 0.1}, current=False, voltage=True, noise_v=0.005), four)
    assert render(measured.facts["source"]) == "battery voltage"
    assert low(measured) == {2}


def test_two_sources_that_disagree_are_reported(four):
    good = cranking(four, voltage=True)
    ill = cranking(four, {3: 0.3}, voltage=True)
    count = min(good.time.samples, ill.time.samples)
    mixed = [good.channels[0], ill.channels[1], good.channels[2]]
    channels = tuple(
        Channel(name=c.name, role=c.role, unit=c.unit, samples=c.samples[:count], cylinder=c.cylinder, sync=c.sync)
        for c in mixed
    )
    capture = Capture(name="mixed", time=TimeBase(samples=count, rate_hz=4000.0), channels=channels, set_up=good.set_up)
    found = [f for f in measure(capture, four).findings if f.quantity == "source_disagreement"]
    assert [f.state for f in found] == [State.ABNORMAL]


def test_without_sync_it_tells_whether_not_which(four):
    measured = measure(cranking(four, {3: 0.1}, sync_cylinder=None), four)
    assert [f.cylinder for f in measured.findings] == [None]
    assert measured.findings[0].state is State.ABSENT
    assert measured.evidence is not None
    assert len(measured.evidence.alternatives) == 4
    healthy = measure(cranking(four, sync_cylinder=None), four)
    assert healthy.findings[0].state is State.NORMAL


def test_a_sync_once_per_revolution_leaves_companions_open():
    engine = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK)
    measured = measure(cranking(engine, {2: 0.05}, sync_every_deg=REVOLUTION_DEG), engine)
    assert {c for c, s in states(measured).items() if s is State.ABNORMAL} == {2, 3}
    assert states(measured)[1] is State.NORMAL
    assert "revolution_sync" in codes(measured)


def test_a_sync_lost_part_way_keeps_the_assigned_part(six):
    measured = measure(cranking(six, {6: 0.1}, sync_lost_after_s=4.3), six)
    assert "sync_lost" in codes(measured)
    assert low(measured) == {6}


def test_several_strikes_per_event_are_one_event(four):
    assert low(measure(cranking(four, {4: 0.1}, strikes=3), four)) == {4}


@pytest.mark.parametrize(
    ("rig", "code"),
    [
        ({"fuel_disabled": False}, "fuel_not_disabled"),
        ({"rate_hz": 25.0}, "aliased"),
        ({"cut_s": (0.0, 1.6)}, "too_short"),
    ],
)
def test_a_capture_that_cannot_be_believed_accuses_nobody(four, rig, code):
    measured = measure(cranking(four, {3: 0.05}, **rig), four)
    assert not measured.usable
    assert code in {r.code for r in measured.reasons if r.blocking}
    assert set(states(measured).values()) == {State.UNUSABLE}
    assert all(f.value is None for f in measured.findings)
    assert measured.evidence is None


def test_uneven_time_stamps_are_followed(four):
    capture = cranking(four, {3: 0.1})
    rng = np.random.default_rng(8)
    kept = np.sort(rng.choice(capture.time.samples, int(0.7 * capture.time.samples), replace=False))
    thinned = Capture(
        name="thin",
        time=TimeBase.from_stamps(kept / 4000.0),
        channels=tuple(
            Channel(name=c.name, role=c.role, unit=c.unit, samples=c.samples[kept], cylinder=c.cylinder, sync=c.sync)
            for c in capture.channels
        ),
        set_up=capture.set_up,
    )
    assert thinned.time.stamps_s is not None
    assert low(measure(thinned, four)) == {3}


def test_findings_say_what_they_stand_on(four):
    capture = cranking(four, {3: 0.1})
    finding = measure(capture, four).findings[0]
    assert finding.origin.capture_sha256 == capture.sha256
    assert finding.origin.code_version
    assert dict(finding.origin.parameters)["source"] == "starter_current"
    assert finding.events >= 4


def test_the_averaged_cycle_has_each_crest_in_its_column(four):
    strip = measure(cranking(four), four).averaged_cycle
    assert strip is not None
    crests = [int(np.argmax(q)) * 2 for q in strip.middle.reshape(4, 90)]
    assert all(60 <= c <= 120 for c in crests)


@pytest.mark.parametrize(
    ("shares", "expected"),
    [
        ([1.0, 0.05, 0.75, 1.0], [State.NORMAL, State.ABSENT, State.NORMAL, State.NORMAL]),
        ([1.0, 1.0, 0.75, 1.0], [State.NORMAL, State.NORMAL, State.LOW, State.NORMAL]),
        ([1.0, 0.05, 0.5, 1.0], [State.NORMAL, State.ABSENT, State.LOW, State.NORMAL]),
        ([1.0, 1.0, 1.5, 1.0], [State.NORMAL, State.NORMAL, State.HIGH, State.NORMAL]),
    ],
)
def test_a_neighbour_of_a_dead_hole_is_not_accused_of_a_small_deviation(shares, expected):
    assert judge(np.array(shares), np.full(4, 0.01)) == expected


def test_a_value_within_its_error_is_not_an_accusation():
    assert judge(np.array([1.0, 0.75, 1.0]), np.array([0.01, 0.2, 0.01]))[1] is State.NORMAL


def test_no_compression_anywhere_gives_no_shares():
    shares, _ = shares_of_peers(-np.ones((5, 4)))
    assert not shares.any()


def test_running_captures_are_left_to_other_tests(four):
    capture = cranking(four)
    running = Capture(
        name="r", time=capture.time, channels=capture.channels, set_up=SetUp(engine_state=EngineState.RUNNING)
    )
    assert applies(capture)
    assert not applies(running)
    assert not applies(Capture(name="n", time=capture.time, channels=(capture.channels[1],)))


def test_one_cylinder_has_no_peers():
    single = even_engine((1,))
    measured = measure(cranking(single, seconds=8.0), single)
    assert measured.evidence is None
    if measured.usable:
        assert "no peers" in render(measured.findings[0].statement)


def test_secondary_voltage_tells_compression_from_waste_spark():
    engine = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK)
    capture = cranking(engine, {2: 0.05}, sync_every_deg=REVOLUTION_DEG)
    sync = capture.channels[1].samples
    edges = np.flatnonzero(np.diff((sync > 2.5).astype(int)) == -1)
    kilovolts = np.zeros(sync.size, np.float32)
    first_compression = states(measure(cranking(engine, {2: 0.05}), engine))[2] is State.ABSENT
    assert first_compression
    true_events = np.flatnonzero(np.diff((cranking(engine, {2: 0.05}).channels[1].samples > 2.5).astype(int)) == -1)
    for edge in edges:
        near = np.abs(true_events - edge).min() < 20
        kilovolts[edge : edge + 6] = 9.0 if near else -2.5
    secondary = Channel(name="kv", role=Role.SECONDARY_VOLTAGE, unit="kV", samples=kilovolts, cylinder=1, sync=True)
    reported = Capture(name="ws", time=capture.time, channels=(capture.channels[0], secondary), set_up=capture.set_up)
    measured = measure(reported, engine)
    assert "waste_spark_told" in codes(measured)
    assert low(measured) == {2}

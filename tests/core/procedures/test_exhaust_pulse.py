import numpy as np
import pytest

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, Role, SetUp, TimeBase
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.exhaust_pulse.measure import measure

RATE = 5_000.0


def tailpipe(order, amplitudes, *, rpm=780.0, delay_s=0.008, seconds=6.0, noise=20.0, sync=1, unit="Pa"):
    """Bumps of known size that arrive a known time after each valve opens, and a sync on one cylinder."""
    rng = np.random.default_rng(4)
    time = np.arange(int(seconds * RATE)) / RATE
    angle = 6.0 * rpm * (time + 0.02 * np.sin(0.7 * time))
    events = np.arange(len(order)) * 720.0 / len(order)
    late = 6.0 * rpm * delay_s + 160.0
    pressure = np.zeros(time.size)
    for event, amplitude in zip(events, amplitudes, strict=True):
        apart = (angle - event - late + 360.0) % 720.0 - 360.0
        pressure += amplitude * np.exp(-0.5 * (apart / 32.0) ** 2)
    pressure = 300.0 * (pressure - pressure.mean()) + rng.normal(0.0, noise, time.size)
    spark = (angle - events[order.index(sync)] + 10.0) % 720.0 < 12.0
    channels = (
        Channel(name="hose", role=Role.EXHAUST_PRESSURE, unit=unit, samples=pressure.astype(np.float32)),
        Channel(name="sync", role=Role.COIL_CONTROL, unit="V", samples=(5.0 * spark).astype(np.float32),
                cylinder=sync, sync=True),
    )  # fmt: skip
    set_up = SetUp(test=CaptureTest.EXHAUST_PULSE)
    return Capture(name="tail", time=TimeBase(samples=time.size, rate_hz=RATE), channels=channels, set_up=set_up)


@pytest.mark.parametrize("order", [(1, 3, 2), (1, 3, 4, 2), (1, 5, 3, 6, 2, 4)])
@pytest.mark.parametrize("delay_s", [0.005, 0.008, 0.011])
@pytest.mark.parametrize("dead", [0, 1, -1])
def test_the_cylinder_that_does_not_push_is_named_whatever_the_pipe(order, delay_s, dead):
    amplitudes = [1.0] * len(order)
    amplitudes[dead] = -0.2
    measured = measure(tailpipe(order, amplitudes, delay_s=delay_s), even_engine(order))
    found = {f.cylinder: f.state for f in measured.findings}
    assert {c for c, s in found.items() if s is not State.NORMAL} == {order[dead]}
    assert found[order[dead]] is State.ABSENT


def test_the_sync_may_be_on_any_cylinder():
    order = (1, 3, 4, 2)
    measured = measure(tailpipe(order, [1, 1, 0, 1], sync=3), even_engine(order))
    assert {f.cylinder for f in measured.findings if f.state is State.ABSENT} == {4}


def test_a_sound_engine_is_left_alone():
    order = (1, 3, 4, 2)
    measured = measure(tailpipe(order, [1.0, 0.95, 1.05, 1.0]), even_engine(order))
    assert {f.state for f in measured.findings} == {State.NORMAL}


def test_an_engine_of_which_most_do_not_push_would_not_run():
    order = (1, 3, 4, 2)
    measured = measure(tailpipe(order, [1.0, -0.2, -0.2, -0.2]), even_engine(order))
    assert not measured.usable
    assert [r.code for r in measured.reasons] == ["phase_wrong"]
    assert measure(tailpipe(order, [1.0, -0.2, 1.0, -0.2]), even_engine(order)).usable


def test_a_fast_eight_keeps_the_neighbours_open():
    order = (1, 8, 4, 3, 6, 5, 7, 2)
    measured = measure(tailpipe(order, [1.0] * 4 + [0.0] + [1.0] * 3, rpm=2500.0), even_engine(order))
    assert len(measured.evidence.alternatives) == 3
    assert "delay_open" in [r.code for r in measured.reasons]
    assert measured.findings[0].cylinder is None


def test_pulses_that_run_into_each_other_are_refused():
    order = (1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9)
    measured = measure(tailpipe(order, [1.0] * 12), even_engine(order))
    assert [r.code for r in measured.reasons] == ["pulses_merge"]


def test_without_sync_or_pulses_nothing_is_said(four):
    capture = tailpipe((1, 3, 4, 2), [1, 1, 1, 1])
    bare = Capture(name="t", time=capture.time, channels=capture.channels[:1], set_up=capture.set_up)
    assert [r.code for r in measure(bare, four).reasons] == ["unsynced"]
    silent = tailpipe((1, 3, 4, 2), [0, 0, 0, 0])
    assert not measure(silent, four).usable

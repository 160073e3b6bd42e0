from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.capture import Capture, Channel, TimeBase
from fairwitness.core.model.engine import REVOLUTION_DEG, Ignition, even_engine
from fairwitness.core.signal.cranking.reading import read_trace
from fairwitness.core.signal.cranking.reading_reasons import cycle_reasons
from fairwitness.core.signal.cranking.trace import slow_trace
from fairwitness.core.signal.resampling import evenly_sampled
from fairwitness.core.signal.sync import Anchor
from tests.conftest import cranking

FIVE = even_engine((1, 2, 4, 5, 3))


def read(capture, engine):
    channel = capture.channels[0]
    return read_trace(capture, channel, slow_trace(channel, capture.time.rate_hz, 0.0), engine)


@pytest.mark.parametrize(
    ("changes", "rig", "anchor", "order_offsets"),
    [
        ({}, {}, Anchor.COMPRESSION, (0,)),
        ({"ignition": Ignition.WASTE_SPARK}, {"sync_every_deg": REVOLUTION_DEG}, Anchor.REVOLUTION, (0, 2)),
        ({}, {"sync_every_deg": REVOLUTION_DEG}, Anchor.REVOLUTION, (0, 2)),
        ({}, {"sync_cylinder": None}, Anchor.NONE, (0, 1, 2, 3)),
    ],
)
def test_what_the_sync_means_is_found(changes, rig, anchor, order_offsets):
    engine = even_engine((1, 3, 4, 2), **changes)
    reading, _ = read(cranking(engine, {3: 0.1}, **rig), engine)
    assert (reading.cycles.anchor, reading.order_offsets) == (anchor, order_offsets)


def test_an_odd_count_resolves_a_sync_once_per_revolution():
    """No compression lies half a cycle from another: only one of the two readings fits."""
    reading, _ = read(cranking(FIVE, {4: 0.1}, sync_every_deg=REVOLUTION_DEG), FIVE)
    assert reading.order_offsets == (0,)
    assert int(np.argmin(np.median(reading.per_cycle, axis=0))) == FIVE.position(4)


def test_the_speed_found_is_the_speed_turned(four):
    from tests.conftest import crank_run

    reading, _ = read(cranking(four), four)
    run = crank_run(four.firing_order, (1.0,) * 4)
    inverted = np.interp([2.0, 5.5], run.time_s, run.angle_deg)
    assert np.median(reading.cycles.speed_rpm) == pytest.approx(np.ptp(inverted) / 6 / 3.5, rel=0.02)


def test_too_little_cranking_is_said(four):
    reading, why = read(cranking(four, cut_s=(0.0, 1.7)), four)
    assert reading is None
    assert [r.code for r in why if r.blocking] == ["too_short"]


def test_few_samples_per_hump_are_said(four):
    capture = cranking(four, rate_hz=200.0)
    reading, _ = read(capture, four)
    slow = Capture(name="x", time=TimeBase(samples=8, rate_hz=100.0), channels=())
    assert "aliased" not in {r.code for r in cycle_reasons(reading, capture, four)}
    assert {"aliased", "few_samples"} & {r.code for r in cycle_reasons(reading, slow, four)}


def test_stamps_are_laid_on_even_steps():
    stamps = np.array([0.0, 0.1, 0.2, 0.8, 0.9, 1.0])
    channel = Channel(name="a", role="other", unit="V", samples=np.arange(6, dtype=np.float32))
    even = evenly_sampled(Capture(name="x", time=TimeBase.from_stamps(stamps), channels=(channel,)))
    assert even.time.stamps_s is None
    assert even.channels[0].samples.tolist() == [0, 1, 2, 2, 2, 2, 2, 2, 3, 4, 5]


def test_even_captures_are_left_alone(four):
    capture = cranking(four)
    assert evenly_sampled(capture) is capture


def slower(reading, factor):
    cycles = reading.cycles
    return replace(reading, cycles=replace(cycles, starts_s=cycles.starts_s * factor, ends_s=cycles.ends_s * factor))


@pytest.mark.parametrize(
    ("low", "rig", "told"),
    [({}, {"sync_cylinder": None}, True), ({3: 0.3}, {"sync_cylinder": None}, False), ({}, {}, False)],
    ids=["even without a sync", "somebody low", "with a sync"],
)
def test_a_slow_even_crank_without_a_sync_may_be_one_at_twice_the_speed(four, low, rig, told):
    """Companions without compression leave equal humps, half as many: even at 130 rpm, or half dead at 260."""
    capture = cranking(four, low, seconds=9.0, **rig)
    reading, _ = read(capture, four)
    assert "slow_or_dead" not in {r.code for r in cycle_reasons(reading, capture, four)}  # at its own, usual speed
    slow = slower(reading, float(np.median(reading.cycles.speed_rpm)) / 130.0)
    blocking = {r.code for r in cycle_reasons(slow, capture, four) if r.blocking}
    assert ("slow_or_dead" in blocking) is told

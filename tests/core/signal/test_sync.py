import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.model.capture import Channel, Role, TimeBase
from fairwitness.core.model.engine import REVOLUTION_DEG, Fuel, Ignition, Injection, even_engine
from fairwitness.core.signal.sync import (
    Anchor,
    Side,
    SyncEvents,
    cycles_by_autocorrelation,
    cycles_from_events,
    find_events,
    sync_channel,
    waste_spark_split,
)
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))
RATE = 10_000.0


def pulses(times, *, width=0.004, height=5.0, seconds=6.0, noise=0.02, base=0.0):
    at = np.arange(int(seconds * RATE)) / RATE
    trace = np.random.default_rng(3).normal(base, noise, at.size)
    for t in times:
        trace[(at >= t) & (at < t + width)] += height
    return Channel(name="s", role=Role.COIL_CONTROL, unit="V", samples=trace.astype(np.float32), cylinder=1, sync=True)


def found(channel, engine=FOUR):
    return find_events(channel, TimeBase(samples=channel.samples.size, rate_hz=RATE), engine)


def events(times, **about):
    times = np.asarray(times, dtype=float)
    return SyncEvents(**({"cylinder": 1, "times_s": times, "heights": np.ones(times.size), "anchors": ()} | about))


@settings(max_examples=30, deadline=None)
@given(st.floats(0.35, 0.9), st.floats(-12.0, 12.0), st.floats(0.0, 11.0))
def test_the_end_of_each_dwell_is_found(spacing, height, base):
    if abs(height) < max(2.0, 0.5 * base):
        height = 5.0 + 0.5 * base
    times = np.arange(0.3, 5.5, spacing)
    got = found(pulses(times, height=height, base=base)).times_s
    np.testing.assert_allclose(got, times + 0.004, atol=2e-4)


def test_repeated_strikes_count_once_with_the_first():
    times = np.arange(0.3, 5.5, 0.6)
    strikes = np.concatenate((times, times + 0.006, times + 0.012))
    got = found(pulses(np.sort(strikes)))
    np.testing.assert_allclose(got.times_s, times + 0.004, atol=2e-4)
    assert [r.code for r in got.reasons] == ["multi_strike"]


def test_noise_alone_is_no_sync():
    got = found(pulses([]))
    assert got.times_s.size == 0
    assert [r.code for r in got.reasons] == ["sync_silent"]


def test_a_missing_event_is_bridged_and_a_lost_sync_is_said():
    times = np.delete(np.arange(0.0, 4.2, 0.6), 3)
    cycles = cycles_from_events(events(times), Anchor.COMPRESSION, begin_s=0.0, end_s=6.0)
    assert cycles.count == 7
    assert {r.code for r in cycles.reasons} == {"sync_bridged", "sync_lost"}


def test_an_uneven_cycle_is_left_out():
    times = [0.0, 0.6, 1.2, 1.62, 2.22, 2.82]
    cycles = cycles_from_events(events(times), Anchor.COMPRESSION, begin_s=0.0, end_s=2.9)
    assert cycles.count == 4
    assert "cycles_dropped" in {r.code for r in cycles.reasons}


def test_once_per_revolution_takes_two_events_per_cycle():
    cycles = cycles_from_events(events(np.arange(0, 3, 0.3)), Anchor.REVOLUTION, begin_s=0.0, end_s=3.0)
    assert cycles.speed_rpm == pytest.approx(200.0)


def test_speed_drift_does_no_harm():
    times = np.cumsum(np.linspace(0.5, 0.65, 10))
    cycles = cycles_from_events(events(times), Anchor.COMPRESSION, begin_s=0.0, end_s=6.0)
    assert cycles.count == 9


def test_waste_sparks_are_told_by_their_size():
    heights = np.tile([2.0, 8.0], 6)
    split = waste_spark_split(events(np.arange(12) * 0.3, heights=heights))
    assert split is not None
    np.testing.assert_allclose(split.times_s, np.arange(1, 12, 2) * 0.3)
    assert waste_spark_split(events(np.arange(12) * 0.3, heights=np.ones(12))) is None


@pytest.mark.parametrize(
    ("role", "changes", "first"),
    [
        (Role.COIL_CONTROL, {}, Anchor.COMPRESSION),
        (Role.COIL_CONTROL, {"ignition": Ignition.WASTE_SPARK}, Anchor.REVOLUTION),
        (Role.INJECTOR_VOLTAGE, {}, Anchor.CYCLE),
        (
            Role.INJECTOR_CURRENT,
            {"fuel": Fuel.DIESEL, "ignition": Ignition.COMPRESSION_IGNITION, "injection": Injection.COMMON_RAIL},
            Anchor.COMPRESSION,
        ),
        (Role.CAM_SENSOR, {}, Anchor.CYCLE),
    ],
)
def test_what_a_sync_may_mean_follows_channel_and_engine(role, changes, first):
    channel = pulses([1.0, 1.6])
    other = Channel(name="s", role=role, unit="V", samples=channel.samples, cylinder=1, sync=True)
    assert found(other, even_engine((1, 3, 4, 2), **changes)).anchors[0] is first


def test_the_flagged_channel_is_the_sync():
    capture = cranking(FOUR)
    assert sync_channel(capture) is capture.channels[1]
    assert sync_channel(cranking(FOUR, sync_cylinder=None)) is None


def test_cycles_are_followed_without_a_sync():
    at = np.arange(6000) / 1000.0
    phase = 2 * np.pi * (at / 0.6 + 0.01 * at**2)
    trace = np.sin(phase) + 0.5 * np.sin(4 * phase)
    cycles = cycles_by_autocorrelation(trace, 1000.0, 0.0, cycle_s=0.59, begin_s=0.2, end_s=5.9)
    order_offsets = np.interp(cycles.ends_s, at, phase) - np.interp(cycles.starts_s, at, phase)
    np.testing.assert_allclose(order_offsets / (2 * np.pi), 1.0, atol=0.02)


def test_revolution_sync_of_the_simulator_comes_twice_as_often():
    once = found_in(cranking(FOUR))
    twice = found_in(cranking(FOUR, sync_every_deg=REVOLUTION_DEG))
    assert twice.times_s.size == pytest.approx(2 * once.times_s.size, abs=1)


def found_in(capture):
    return find_events(capture.channels[1], capture.time, FOUR)


def test_a_supply_that_sags_is_no_switched_wire():
    sagging = pulses(np.arange(0.3, 5.5, 0.4), height=-2.5, base=12.2)
    silent = found(sagging)
    assert silent.times_s.size == 0
    assert silent.reasons[0].code == "sync_silent"


def test_crossings_at_any_distance_are_mostly_no_engine():
    silent = 0
    for seed in range(40):
        at = 0.2 + np.cumsum(np.random.default_rng(seed).exponential(0.12, 60))
        silent += found(pulses(at[at < 5.8], width=0.001)).times_s.size == 0
    assert silent >= 24


def test_a_sync_that_loses_every_fourth_event_is_still_one():
    times = [t for i, t in enumerate(np.arange(0.2, 5.8, 0.3)) if i % 4]
    assert found(pulses(times)).times_s.size == len(times)


@pytest.mark.parametrize(
    ("side", "expected"),
    [(Side.ABOVE, [0.0, 2.0, -3.0]), (Side.BELOW, [0.0, -2.0, 3.0]), (Side.BOTH, [0.0, 2.0, 3.0])],
)
def test_events_are_turned_upright_whichever_way_they_go(side, expected):
    assert side.upright(np.array([12.0, 14.0, 9.0]), 12.0).tolist() == expected

"""Relative compression of cranks made by other physics: too short, mis-scaled or badly synced accuses nobody."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.capture import Capture, CaptureTest, Channel, Role, SetUp, TimeBase
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.relative_compression.measure import measure
from tests.independent.recordings import ORDERS, recordings
from tests.independent.starter import STEP_S, Crank, Instrument, gas_torque, recorded, turn, volume

LENGTHS_S = (1.0, 1.4, 1.8, 2.0, 2.2, 2.6, 3.0, 3.2, 3.6, 4.0, 5.0, 8.0, 10.0)
ENOUGH_S = 5.0
ODD = (State.LOW, State.ABSENT, State.HIGH)


def accused(measured: Measured) -> list[int | None]:
    return [f.cylinder for f in measured.findings if f.state in ODD] if measured.usable else []


def codes(measured: Measured) -> set[str]:
    return {r.code for r in measured.reasons}


@pytest.mark.parametrize("sync", ["clean", "none", "half", "rings"])
@pytest.mark.parametrize("cylinders", list(ORDERS))
def test_no_length_of_a_healthy_crank_accuses_anybody(cylinders, sync):
    order = ORDERS[cylinders]
    engine = even_engine(order)
    for place, seconds in enumerate(LENGTHS_S):
        how = Crank(order=order, seconds=seconds, start_deg=60.0 + 75.0 * place, seed=place)
        read = measure(recorded(how, Instrument(sync=sync)), engine)
        assert accused(read) == [], f"{seconds} s"
        if seconds > ENOUGH_S:
            assert read.usable, f"{seconds} s: {codes(read)}"


@pytest.mark.parametrize("rpm", [140.0, 170.0, 260.0, 330.0])
@pytest.mark.parametrize("cylinders", [3, 4, 6, 8])
def test_slow_and_fast_starters_accuse_nobody(cylinders, rpm):
    order = ORDERS[cylinders]
    for seconds in (1.6, 2.1, 2.7, 3.4, 6.0):
        for sync in ("clean", "none"):
            how = Crank(order=order, seconds=seconds, rpm=rpm, start_deg=100.0)
            read = measure(recorded(how, Instrument(sync=sync)), even_engine(order))
            assert accused(read) == [], f"{seconds} s, sync {sync}"


@pytest.mark.parametrize(("cylinders", "sick"), [(3, 2), (4, 3), (4, 1), (5, 4), (6, 3), (8, 5)])
def test_a_leaking_cylinder_is_still_found_and_named(cylinders, sick):
    order = ORDERS[cylinders]
    how = Crank(order=order, seconds=6.0, leak=((sick, 0.5),))
    assert accused(measure(recorded(how), even_engine(order))) == [sick]
    unsynced = measure(recorded(how, Instrument(sync="none")), even_engine(order))
    assert accused(unsynced) == [None]


@pytest.mark.parametrize("scale", [0.001, 0.01, 1.0, 10.0, -0.001, -1.0])
def test_shares_need_no_ampere(scale):
    engine = even_engine(ORDERS[4])
    by = Instrument(scale=scale)
    assert accused(measure(recorded(Crank(), by), engine)) == []
    read = measure(recorded(Crank(leak=((3, 0.5),)), by), engine)
    assert accused(read) == [3]
    assert ("level_unknown" in codes(read)) == (abs(scale) < 0.1)


@pytest.mark.parametrize(("scale", "gain"), [(0.001, "1"), (0.01, "10")])
def test_a_clamp_logged_in_volts_is_told_its_likely_gain(scale, gain):
    read = measure(recorded(Crank(), Instrument(scale=scale)), even_engine(ORDERS[4]))
    said = next(r.statement for r in read.reasons if r.code == "level_unknown")
    assert float(dict(said.parameters)["mv"]) == pytest.approx(float(gain))


@pytest.mark.parametrize("by", [Instrument(bits=8), Instrument(bits=8, range_a=500.0), Instrument(bits=16)], ids=str)
def test_converters_of_eight_to_sixteen_bits(by):
    engine = even_engine(ORDERS[4])
    assert accused(measure(recorded(Crank(), by), engine)) == []
    assert accused(measure(recorded(Crank(leak=((4, 0.5),)), by), engine)) == [4]


@pytest.mark.parametrize("rate_hz", [100.0, 250.0, 1000.0, 20_000.0, 1_000_000.0])
def test_rates_from_a_logger_to_a_fast_scope(rate_hz):
    engine = even_engine(ORDERS[4])
    by = Instrument(rate_hz=rate_hz)
    assert accused(measure(recorded(Crank(), by), engine)) == []
    assert accused(measure(recorded(Crank(leak=((3, 0.6),)), by), engine)) in ([3], [None])


def on_the_wrong_cable(ripple_a: float, ripple_hz: float, seed: int) -> Capture:
    """A clamp around a cable that carries no starter current: ripple, a fan and noise."""
    rng = np.random.default_rng(seed)
    time = np.arange(0.0, 6.0, 1 / 2000.0)
    current = ripple_a * np.abs(np.sin(np.pi * ripple_hz * time)) + rng.normal(0.0, 0.3, time.size)
    current += 0.8 * np.sin(2 * np.pi * 1.3 * time)
    channel = Channel(name="clamp", unit="A", samples=current.astype(np.float32), role=Role.STARTER_CURRENT)
    return Capture(
        name="crank",
        channels=(channel,),
        time=TimeBase(rate_hz=2000.0, samples=time.size),
        set_up=SetUp(test=CaptureTest.RELATIVE_COMPRESSION),
    )


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize(("ripple_a", "ripple_hz"), [(0.5, 430.0), (3.0, 620.0), (12.0, 890.0), (0.0, 50.0)])
def test_a_clamp_on_the_wrong_cable_accuses_nobody(ripple_a, ripple_hz, seed):
    read = measure(on_the_wrong_cable(ripple_a, ripple_hz, seed), even_engine(ORDERS[4]))
    assert not read.usable
    assert accused(read) == []


def test_a_sync_of_too_few_cycles_is_refused_as_too_short():
    for seconds in (1.4, 1.7, 2.0):
        read = measure(recorded(Crank(seconds=seconds)), even_engine(ORDERS[4]))
        assert not read.usable
        assert "too_short" in codes(read)


def test_the_maker_itself_compresses_as_slider_crank_and_polytrope_say():
    """Displacement by ratio; peak by the polytrope; a cycle without leaks gives back what it took."""
    low, high = volume(np.array([0.0, 180.0]), 10.0)
    assert high / low == pytest.approx(10.0)
    sound, leaking = gas_torque(10.0, 0.0), gas_torque(10.0, 0.5)
    assert abs(sound[:1350].sum() + sound[5850:].sum()) < 0.02 * np.abs(sound).sum()
    assert leaking.sum() < sound.sum() - 100.0
    turned = turn(Crank(seconds=3.0))
    assert np.all(np.diff(turned.angle_deg) >= 0.0)
    assert turned.time_s[-1] == pytest.approx(3.8, abs=2 * STEP_S)
    assert 150.0 < np.ptp(turned.angle_deg) / 6.0 / 3.0 < 260.0


@pytest.mark.parametrize("entry", sorted({r.entry for r in recordings()}))
def test_every_recording_of_the_table_comes_out_right(entry):
    """The same recordings that docs/accuracy/recordings.txt counts."""
    for recording in (r for r in recordings() if r.entry == entry):
        read = measure(recording.make(), even_engine(recording.order))
        expected = ([recording.sick], [None]) if recording.sick else ([],)
        assert accused(read) in expected, recording
        assert read.usable or not recording.judged, (recording, codes(read))


def test_a_third_and_more_of_the_recordings_are_healthy_engines_in_disguise():
    every = list(recordings())
    assert len(every) >= 80
    assert 3 * sum(not r.sick for r in every) >= len(every)


@pytest.mark.parametrize("rpm", [620.0, 700.0, 780.0])
def test_a_belt_starter_with_the_fuel_off_is_no_running_engine(rpm):
    made = recorded(Crank(order=ORDERS[4], rpm=rpm, seconds=6.0))
    read = measure(fuel_cut(made), even_engine(ORDERS[4]))
    assert read.usable, codes(read)
    assert accused(read) == []
    assert "engine_started" in codes(measure(made, even_engine(ORDERS[4])))


def test_a_belt_starter_finds_the_sick_one_and_beyond_its_reach_accuses_nobody():
    engine = even_engine(ORDERS[4])
    sick = Crank(order=ORDERS[4], rpm=620.0, seconds=6.0, leak=((3, 0.7),))
    assert accused(measure(fuel_cut(recorded(sick)), engine)) == [3]
    for rpm in (850.0, 950.0):
        assert accused(measure(fuel_cut(recorded(replace(sick, rpm=rpm, leak=()))), engine)) == []


def fuel_cut(capture: Capture) -> Capture:
    return replace(capture, set_up=replace(capture.set_up, fuel_disabled=True))


def test_a_spark_cut_serves_as_well_as_the_fuel_cut():
    made = recorded(Crank(leak=((3, 0.7),)))
    sparkless = replace(made, set_up=replace(made.set_up, fuel_disabled=False, ignition_disabled=True))
    assert accused(measure(sparkless, even_engine(ORDERS[4]))) == [3]

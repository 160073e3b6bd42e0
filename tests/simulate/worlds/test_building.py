"""Each alternative changes what it says, and nothing else."""

import numpy as np
import pytest

from fairwitness.core.model.capture import CaptureTest, Role
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.simulate import pulses, sensors
from fairwitness.simulate.clips import signal
from fairwitness.simulate.examine import capture_of, captures_of, examine
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.gauges import observe
from fairwitness.simulate.health import Fault
from fairwitness.simulate.injection import injections
from fairwitness.simulate.running import run_engine
from fairwitness.simulate.trajectory import crank_over
from fairwitness.simulate.worlds.building import BUILDS
from fairwitness.simulate.worlds.choices import world_of
from fairwitness.study.visit import Visit

DROVER = ENGINES["drover-2.0"]


def rng(seed=1):
    return np.random.default_rng(seed)


def vehicle(*faults, engine=DROVER, **answers):
    return build(engine, faults, rng=rng(4), world=world_of(answers))


def cranked(**answers):
    run = crank_over(vehicle(**answers), seconds=5.0, rng=rng()).run
    steady = run.time_s > 2.5
    return run, steady


def test_the_known_world_is_the_vehicle_as_it_always_was():
    assert vehicle() == build(DROVER, (), rng=rng(4))


@pytest.mark.parametrize(("question", "answer"), sorted(BUILDS))
def test_every_alternative_changes_the_vehicle(question, answer):
    assert vehicle(**{question: answer}) != vehicle()


@pytest.mark.parametrize(("question", "answer"), [("starter", "series"), ("starter", "overrunning"),
                                                  ("battery", "polarising"), ("friction", "uneven"),
                                                  ("gas", "cooling")])  # fmt: skip
def test_every_starter_still_cranks(question, answer):
    run, steady = cranked(**{question: answer})
    assert 90 < run.speed_rpm[steady].mean() < 420


def test_a_series_field_draws_sharper_compressions():
    (plain, steady), (series, _) = cranked(), cranked(starter="series")
    swing = [np.ptp(np.percentile(r.current_a[steady], (5, 95))) / r.current_a[steady].mean() for r in (plain, series)]
    assert swing[1] != pytest.approx(swing[0], rel=0.05)


def test_an_overrunning_clutch_keeps_a_least_current():
    run, steady = cranked(starter="overrunning")
    least = vehicle(starter="overrunning").turning.idling_a
    assert run.current_a[steady].min() == pytest.approx(least, rel=0.05)


def test_a_polarising_battery_loses_more_the_longer_it_cranks():
    (plain, steady), (slow, _) = cranked(), cranked(battery="polarising")
    assert slow.battery_v[steady].mean() < plain.battery_v[steady].mean()


def test_walls_take_pressure_after_the_crest_more_than_before():
    tables = [crank_over(vehicle(**a), seconds=1.0, rng=rng()).tables[1] for a in ({}, {"gas": "cooling"})]
    before, after = (tables[1].charge[360 + at] / tables[0].charge[360 + at] for at in (-40, 40))
    assert before > after


def test_stragglers_make_sound_cylinders_burn_badly_now_and_then():
    usual, straggling = (
        np.concatenate([c.heat for c in run_engine(vehicle(**a), seconds=20.0, rng=rng()).cylinders.values()])
        for a in ({}, {"combustion": "straggling"})
    )
    weak = [np.mean(h < 0.75 * np.median(h)) for h in (usual, straggling)]
    assert weak[1] > weak[0]


def test_a_wheel_that_runs_out_is_seen_once_a_turn():
    true, off = (run_engine(vehicle(**a), seconds=2.0, rng=rng()) for a in ({}, {"wheel": "eccentric"}))
    times = np.arange(0, 2.0, 1e-4)
    difference = sensors._seen_deg(off, times) - off.angle_at(times)
    assert np.abs(difference).max() == pytest.approx(off.vehicle.sensors.runout_deg, rel=0.02)
    assert (sensors._seen_deg(true, times) == true.angle_at(times)).all()


def test_a_crank_that_winds_up_rings_after_firings():
    course = run_engine(vehicle(wheel="twisting"), seconds=2.0, rng=rng())
    times = np.arange(0, 2.0, 1e-4)
    wound = sensors._seen_deg(course, times) - course.angle_at(times)
    assert wound.std() == pytest.approx(course.vehicle.sensors.twist_deg, rel=0.1)


@pytest.mark.parametrize(("question", "answer", "heard"), [("exhaust", "echoing", pulses.exhaust_pa),
                                                           ("exhaust", "ringing", pulses.exhaust_pa),
                                                           ("intake", "plenum", pulses.intake_pa)])  # fmt: skip
def test_pipes_change_what_is_heard_and_keep_its_rhythm(question, answer, heard):
    plain, other = (crank_over(vehicle(**a), seconds=5.0, rng=rng()) for a in ({}, {question: answer}))
    times = np.arange(2.0, 5.0, 1e-3)
    a, b = heard(plain, times), heard(other, times)
    assert np.corrcoef(a, b)[0, 1] < 0.9999
    spectrum = np.abs(np.fft.rfft(b - b.mean()))
    firing_hz = float(plain.run.speed_rpm[plain.run.time_s > 2.0].mean()) / 30
    strongest = np.fft.rfftfreq(b.size, 1e-3)[spectrum.argmax()]
    assert min(abs(strongest - n * firing_hz / 2) for n in range(1, 17)) < 0.3 * firing_hz


def test_a_saturated_coil_bends_upward():
    course = run_engine(vehicle(coil="saturating"), seconds=1.0, rng=rng())
    times = np.arange(0, 1.0, 5e-6)
    amps = signal(course, Clip(role=Role.COIL_CURRENT, cylinder=1), times, rng())
    bends = course.vehicle.ignition.saturates_a
    begins = np.flatnonzero(amps > 1.0)[0]
    ends = begins + np.flatnonzero(amps[begins:] > 0.99 * amps.max())[0]
    straight, bent = (begins + np.flatnonzero(amps[begins:ends] > a)[0] for a in (bends - 1.0, bends + 0.7))
    slopes = np.diff(amps[begins:ends])
    assert slopes[bent - begins + 10] > slopes[straight - begins + 10]


def test_injecting_twice_a_cycle_doubles_the_openings():
    built = (build(DROVER, (), rng=rng(seed), world=world_of({"unit": "plain"})) for seed in range(20))
    twice = next(v for v in built if v.injection.twice)
    plain, doubled = (run_engine(v, seconds=2.0, rng=rng()) for v in (vehicle(), twice))
    assert len(list(injections(doubled, 1))) > 1.7 * len(list(injections(plain, 1)))


def test_short_captures_end_after_a_few_cycles():
    capture = capture_of(vehicle(habit="short"), CaptureTest.CRANK_SPEED, rng=rng())
    assert capture.time.samples / capture.time.rate_hz < 1.2


def test_coarse_captures_have_few_levels_and_a_low_rate():
    fine, coarse = (
        capture_of(vehicle(**a), CaptureTest.RELATIVE_COMPRESSION, rng=rng()) for a in ({}, {"habit": "coarse"})
    )
    assert coarse.time.rate_hz <= 0.5 * fine.time.rate_hz
    assert np.unique(coarse.channels[0].samples).size <= 256


def test_one_lead_after_the_other_gives_a_capture_for_each():
    captures = captures_of(vehicle(habit="singly"), CaptureTest.SECONDARY_VOLTAGE, rng=rng())
    assert sorted(c.channels[0].cylinder for c in captures) == [1, 2, 3, 4]
    assert len({c.name for c in captures}) == 4
    assert all(any(channel.sync for channel in c.channels) for c in captures)


def test_what_is_entered_wrongly_stands_in_the_case_and_not_in_the_vehicle():
    wrong = vehicle(entries="off")
    case = examine(wrong, ("relative_compression",), seed=1)
    assert case.engine.injector_ohms != wrong.engine.injector_ohms
    assert case.engine.crank_wheel != wrong.engine.crank_wheel
    assert wrong.engine.injector_ohms == vehicle().engine.injector_ohms


def test_a_cam_held_as_known_good_does_not_move_with_a_wrong_entry():
    """Its edges are counted from the gap, wherever somebody believes TDC to be."""
    wrong, right = (Visit(vehicle(**a), "clean", 3) for a in ({"entries": "off"}, {}))
    assert wrong.engine.crank_wheel != right.engine.crank_wheel
    assert [bay.take(OFFERS["cam_timing"], ())[0].categorical[0].outcome for bay in (wrong, right)] == ["usual"] * 2


def test_rough_hands_find_a_plug_wet_where_nothing_burns():
    fault = Fault("exhaust_valve_leak", (2,), 1.0)
    looks = {
        o.data["seen"] for o in observe(vehicle(fault, hands="rough"), "visual", hot=True, rng=rng())
        if o.data["item"] == "plug"
    }  # fmt: skip
    assert looks == {"wet"}
    careful = observe(vehicle(fault), "visual", hot=True, rng=rng())
    assert next(o.data["seen"] for o in careful if o.data["item"] == "plug") == "clean"

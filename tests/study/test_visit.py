"""A vehicle in the bay: a test is taken once and says what the vehicle shows."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.messages.message import NOTHING
from fairwitness.core.model.measurement import State
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault
from fairwitness.simulate.worlds.choices import draw_world
from fairwitness.study.population import Population, vehicle_of
from fairwitness.study.visit import Visit, asks_for_longer


def visit(*faults, engine="drover-2.0", seed=4):
    return Visit(build(ENGINES[engine], faults, rng=np.random.default_rng(seed)), "clean", seed)


def test_the_same_test_is_taken_once():
    bay = visit(Fault("injector_open_circuit", (2,)))
    assert bay.take(OFFERS["injector_current"], ()) is bay.take(OFFERS["injector_current"], ())


@pytest.mark.parametrize(
    ("fault", "test", "kind", "outcome"),
    [
        ("coil_control_open", "command:control_unit", "command:control_unit", "pulses"),
        ("coil_driver_failed", "command:part_unplugged", "command:part_unplugged", "stuck"),
        ("injector_control_open", "injector_command:control_unit", "injector_command:control_unit", "pulses"),
        ("injector_control_open", "resistance:control_wire", "resistance:control_wire", "open"),
        ("cut_by_ecu", "key_cycle", "key_cycle", "returns"),
        ("injector_driver_failed", "key_cycle", "key_cycle", "stays_away"),
        ("exhaust_valve_leak", "leak_down", "leak_down", "exhaust"),
    ],
)
def test_each_form_of_a_test_says_its_own(fault, test, kind, outcome):
    reported = visit(Fault(fault, (3,), 0.6)).take(OFFERS[test], (3,))
    assert (kind, outcome) in {(s.kind, s.outcome) for m in reported for s in m.categorical if 3 in s.cylinders}


def test_a_cam_that_is_late_shows_beside_the_known_good():
    late, sound = visit(Fault("valve_timing_shifted", (), 0.8)), visit()
    assert late.take(OFFERS["cam_timing"], ())[0].categorical[0].outcome == "late"
    assert sound.take(OFFERS["cam_timing"], ())[0].categorical[0].outcome == "usual"


def test_whatever_fits_an_engine_can_be_taken():
    bay = visit(Fault("injector_open_circuit", (2,)), engine="larder-1.2")
    unread = [
        t.id for t in OFFERS.values()
        if t.fits(bay.engine) and not any(m.usable and m.findings for m in bay.take(t, (2,)))
    ]  # fmt: skip
    assert unread == []


def test_nothing_in_the_case_tells_the_fault():
    bay = visit(Fault("injector_open_circuit", (2,)))
    assert not bay.case().observations
    assert "injector" not in bay.case().name
    assert all(f.state is not State.UNUSABLE for f in bay.take(OFFERS["injector_current"], ())[0].findings)


def test_a_crank_of_few_marks_is_not_read_at_twice_its_speed():
    bay, faults, _ = vehicle_of(300_325, Population.LEFT_OUT)  # six turns, a mark at each: a dead coil, all seal
    assert [f.fault for f in faults] == ["coil_output_dead"]
    read = bay.take(OFFERS["relative_compression"], ())[0]
    assert "few_cycles" in {r.code for r in read.reasons}
    assert 100 < read.facts["speed_rpm"] < 300
    assert {f.state for f in read.findings if f.quantity == read.test} == {State.NORMAL}


def hasty():
    """Somebody who stops after two turns of the cam."""
    bay = visit(Fault("injector_open_circuit", (2,)))
    return replace(bay, vehicle=replace(bay.vehicle, habit=replace(bay.vehicle.habit, cycles=2.2)))


def test_what_was_too_short_asks_for_longer_and_is_then_read():
    bay, test = hasty(), OFFERS["crank_speed"]
    short = bay.take(test, ())
    assert asks_for_longer(short)
    longer = bay.take(test, (), longer=True)
    assert not asks_for_longer(longer)
    assert longer[0].usable
    assert longer[0].resource != short[0].resource
    assert bay.take(test, ()) is short


def test_what_is_usable_or_refused_for_another_reason_does_not_ask_for_longer():
    bay = visit(Fault("injector_open_circuit", (2,)))
    assert not asks_for_longer(bay.take(OFFERS["crank_speed"], ()))
    assert not asks_for_longer(())
    silent = replace(
        bay.take(OFFERS["crank_speed"], ())[0], usable=False, reasons=(Reason("no_teeth", NOTHING, blocking=True),)
    )
    assert not asks_for_longer((silent,))


@pytest.mark.parametrize("seed", [450_115, 450_124, 450_131])
def test_the_shoulder_of_a_missing_pull_is_no_burst(seed):
    """Plenums that refill where the valve should open: what comes alone would be gas that was not let out."""
    rng = np.random.default_rng(seed)
    engine = ENGINES[str(rng.choice(list(ENGINES)))]
    shut = int(rng.choice(engine.firing_order))
    fault = Fault("intake_valve_not_opening", (shut,), float(rng.uniform(0, 1)))
    world = draw_world(np.random.default_rng((20_26, 15, seed)), always={})
    bay = Visit(build(engine, (fault,), rng=rng, world=world), "workshop", seed)
    pulls = [m for m in bay.take(OFFERS["intake_pulse"], ()) if m.test == "intake_pulse"]
    assert {f.state for f in pulls[0].findings if f.state is not State.NORMAL} == {State.ABSENT}


def test_a_test_that_is_done_again_is_another_reading_of_its_own():
    bay, test = visit(Fault("injector_open_circuit", (2,))), OFFERS["exhaust_temperature"]
    once, again = bay.take(test, ()), bay.take(test, (), again=True)
    assert {s.source for s in once[0].lines} & {s.source for s in again[0].lines} == set()
    assert [f.value for f in once[0].findings] != [f.value for f in again[0].findings]
    assert bay.take(test, (), again=True) is again

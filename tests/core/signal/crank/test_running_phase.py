"""Which event is whose: a crank with known works, and a sync, a gap, both, or none."""

import numpy as np
import pytest

from fairwitness.core.model.capture import Capture, Channel, Role, TimeBase
from fairwitness.core.model.engine import CrankWheel, Ignition, even_engine
from fairwitness.core.signal.crank.running_phase import running_phase, sync_events
from fairwitness.core.signal.sync import Anchor, SyncEvents
from tests.core.signal.crank.test_torque_fit import CYCLES, spun

ORDER = (1, 3, 4, 2)
FOUR = even_engine(ORDER)
DEAD = 2  # place in the firing order: cylinder 4
WORKS = np.ones((CYCLES, 4))
WORKS[:, DEAD] = 0.05


def marks(crank, *, cylinder=1, anchor=Anchor.COMPRESSION, every=720.0, lead_deg=-15.0, spread=0.0):
    """Events near TDC of a cylinder, as the sync has them."""
    at = FOUR.tdc_deg(cylinder) + lead_deg + np.arange(0.0, 720.0 * (CYCLES - 1), every)
    at = at + np.random.default_rng(3).uniform(-spread, spread, at.size)
    times = np.interp(at, crank.angle_deg, crank.times_s)
    return SyncEvents(cylinder=cylinder, times_s=times, heights=np.ones(times.size), anchors=(anchor,))


def weakest(phase, engine=FOUR):
    place = int(np.argmin(phase.work.level))
    return {engine.firing_order[(place + t) % engine.cylinders] for t in phase.order_offsets}


@pytest.fixture(scope="module")
def crank():
    return spun(FOUR, WORKS)


@pytest.mark.parametrize("cylinder", ORDER)
def test_a_compression_sync_on_any_cylinder_names_the_dead_one(crank, cylinder):
    phase = running_phase(crank, FOUR, marks(crank, cylinder=cylinder))
    assert phase.order_offsets == (0,)
    assert weakest(phase) == {4}


def test_a_sync_every_revolution_leaves_a_cylinder_and_its_companion(crank):
    phase = running_phase(crank, FOUR, marks(crank, anchor=Anchor.REVOLUTION, every=360.0))
    assert weakest(phase) == {4, 1}
    assert {r.code for r in phase.reasons} == {"revolution_sync"}


def test_without_a_sync_a_dead_one_is_seen_and_nobody_named(crank):
    phase = running_phase(crank, FOUR, None)
    assert len(phase.order_offsets) == 4
    assert {r.code for r in phase.reasons} == {"unsynced"}
    shares = np.sort(phase.work.level) / np.median(phase.work.level)
    assert shares[0] < 0.4 < shares[1]


def test_events_that_wander_over_the_cycle_mark_nothing(crank):
    phase = running_phase(crank, FOUR, marks(crank, spread=360.0))
    assert {r.code for r in phase.reasons} == {"unsynced"}


def test_too_few_events_mark_nothing(crank):
    one = marks(crank)
    few = SyncEvents(cylinder=1, times_s=one.times_s[:1], heights=one.heights[:1], anchors=one.anchors)
    assert {r.code for r in running_phase(crank, FOUR, few).reasons} == {"unsynced"}


def test_the_wheels_own_gap_tells_the_revolution_and_the_sync_the_rest(crank):
    known = even_engine(ORDER, crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=0.0))
    assert weakest(running_phase(crank, known, None), known) == {4, 1}
    both = running_phase(crank, known, marks(crank))
    assert weakest(both, known) == {4}
    assert both.reasons == ()


def test_a_sync_that_no_dead_centre_of_the_wheel_allows_is_told_and_believed(crank):
    wrong = even_engine(ORDER, crank_wheel=CrankWheel(teeth=60, missing=2, tdc1_deg_after_gap=120.0))
    phase = running_phase(crank, wrong, marks(crank))
    assert {r.code for r in phase.reasons} == {"sync_against_wheel"}
    assert weakest(phase, wrong) == {4}


def command(role=Role.COIL_CONTROL, every_s=0.15, count=20, cylinder=1):
    level = np.zeros(40_000, np.float32)
    for k in range(count):
        at = int((0.1 + k * every_s) * 10_000)
        level[at : at + 30] = 5.0
    channel = Channel(name="s", role=role, unit="V", samples=level, cylinder=cylinder, sync=True)
    return Capture(name="c", time=TimeBase(samples=level.size, rate_hz=10_000.0), channels=(channel,))


def test_events_are_read_from_the_channel_that_marks_a_cylinder():
    events = sync_events(command(), FOUR)
    assert events.cylinder == 1
    assert events.anchors[0] is Anchor.COMPRESSION
    assert np.diff(events.times_s) == pytest.approx(0.15, abs=1e-3)


def test_a_shared_coils_events_stay_both_where_their_heights_do_not_tell_them_apart():
    paired = even_engine(ORDER, ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)))
    assert sync_events(command(), paired).anchors[0] is Anchor.REVOLUTION


def test_no_events_are_none():
    assert sync_events(command(count=2), FOUR) is None
    assert sync_events(command(cylinder=None), FOUR) is None

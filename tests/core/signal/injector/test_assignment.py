"""Whose pulse is it: injections written down by hand, given back to their cylinders."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.capture import Channel, Role
from fairwitness.core.model.engine import Ignition, InjectorDrive, even_engine
from fairwitness.core.model.reason import Reason
from fairwitness.core.signal.injector.assignment import Assigned, assign
from tests.core.feeds import OHM, RATE, VOLTS, capture, running, trajectory

FOUR = even_engine((1, 3, 4, 2))
ODD = {3: 0.6}
PLATEAU = VOLTS / OHM


def refusal(capture, engine=FOUR):
    answer = assign(capture, engine)
    assert isinstance(answer, Reason)
    assert answer.blocking
    return answer.code


def levels(assigned):
    assert isinstance(assigned, Assigned)
    return {c: float(np.median(t.level_a)) if t.count else 0.0 for c, t in assigned.trains.items()}


def spark_marks(about, *, every_deg=720.0, cylinder=1, lead_deg=0.0, rpm=700.0, cycles=30):
    """A coil's command on the capture's clock; the cycles of ``running`` are 120/rpm long but for 1 %."""
    level = np.zeros(about.time.samples, np.float32)
    for k in range(int(cycles * 720 / every_deg)):
        at = int((k * every_deg + lead_deg + 400.0) / 720.0 * 120.0 / rpm * RATE)
        level[at : at + int(0.003 * RATE)] = 5.0
    sync = Channel(name="coil", role=Role.COIL_CONTROL, unit="V", samples=level, cylinder=cylinder, sync=True)
    return replace(about, channels=(about.channels[0], sync))


def even(**settings):
    """Like ``running``, but every cycle exactly as long as the one before."""
    engine, rpm, on_s, cycles = FOUR, 700.0, 3e-3, 30
    cycle_s = 120.0 / rpm
    times = np.arange(int(RATE * cycle_s * cycles)) / RATE
    amps = np.random.default_rng(1).normal(0.0, 0.02, times.size)
    for k in range(cycles):
        for i, c in enumerate(engine.firing_order):
            begin = k * cycle_s + 0.25 * cycle_s + cycle_s * engine.event_angles_deg[i] / 720.0 % cycle_s
            first, last = np.searchsorted(times, (begin, begin + on_s + 3e-3))
            amps[first:last] += trajectory(times[first:last] - begin, on_s, ohm=OHM * settings.get("odd", {}).get(c, 1))
    return capture(Channel(name="feed", role=Role.INJECTOR_CURRENT, unit="A", samples=amps.astype(np.float32)))


@pytest.mark.parametrize("sync", [1, 3, 4, 2])
def test_a_sync_on_any_injector_names_them_all(sync):
    assigned = assign(running(FOUR, rpm=700, on_s=3e-3, odd=ODD, sync=sync), FOUR)
    seen = levels(assigned)
    assert assigned.order_offsets == (0,)
    assert max(seen, key=seen.get) == 3
    usual = [seen[c] for c in (1, 2, 4)]
    assert max(usual) / min(usual) < 1.05
    assert seen[3] / usual[0] == pytest.approx(1 / 0.6, rel=0.12)


def test_every_injection_is_counted_once():
    assigned = assign(running(FOUR, rpm=700, on_s=3e-3), FOUR)
    assert assigned.cycles == 29
    assert all(abs(t.count - 30) <= 1 for t in assigned.trains.values())
    assert assigned.cycle_s == pytest.approx(120.0 / 700, rel=0.02)
    assert not assigned.overlapping


def test_an_open_injector_has_no_pulses_and_the_others_keep_theirs():
    assigned = assign(running(FOUR, rpm=700, on_s=3e-3, odd={4: np.inf}), FOUR)
    assert assigned.trains[4].count == 0
    assert all(assigned.trains[c].count > 27 for c in (1, 2, 3))


def test_injections_that_stay_out_are_missing_from_their_own_train():
    assigned = assign(running(FOUR, rpm=700, on_s=3e-3, missing={(2, k) for k in (5, 6, 7, 20)}), FOUR)
    counts = {c: t.count for c, t in assigned.trains.items()}
    assert counts[2] <= min(counts[c] for c in (1, 3, 4)) - 3


def test_a_coil_marks_the_cycle_but_leaves_open_whose_injection_follows():
    assigned = assign(spark_marks(even(odd=ODD)), FOUR)
    assert isinstance(assigned, Assigned)
    assert assigned.order_offsets == (0, 1, 2, 3)
    assert sorted(levels(assigned).values())[-1] == pytest.approx(PLATEAU / 0.6, rel=0.15)


def test_a_shared_coil_marks_revolutions_and_is_refused():
    paired = even_engine((1, 3, 4, 2), ignition=Ignition.WASTE_SPARK, coil_pairs=((1, 4), (2, 3)))
    assert refusal(spark_marks(even(), every_deg=360.0), paired) == "revolution_sync"


def test_clamps_on_single_leads_name_themselves():
    def lead(cylinder, ohm):
        times = np.arange(int(RATE * 3.0)) / RATE
        amps = np.random.default_rng(cylinder).normal(0.0, 0.02, times.size)
        for begin in np.arange(0.05 + 0.04 * cylinder, 2.9, 0.16):
            first, last = np.searchsorted(times, (begin, begin + 6e-3))
            amps[first:last] += trajectory(times[first:last] - begin, 3e-3, ohm=ohm)
        return Channel(name=f"i{cylinder}", role=Role.INJECTOR_CURRENT, unit="A", cylinder=cylinder,
                       samples=amps.astype(np.float32))  # fmt: skip

    assigned = assign(capture(lead(1, OHM), lead(2, 1.4 * OHM), lead(3, OHM)), FOUR)
    seen = levels(assigned)
    assert set(seen) == {1, 2, 3}
    assert seen[2] / seen[1] == pytest.approx(1 / 1.4, rel=0.1)
    assert assigned.order_offsets == (0,)


def test_two_feeds_are_read_through_their_own_clamps():
    whole = running(FOUR, rpm=700, on_s=3e-3, odd=ODD)
    silent = replace(whole.channels[0], name="other feed", samples=np.zeros(whole.time.samples, np.float32))
    split = replace(
        whole,
        channels=(
            replace(whole.channels[0], feeds=(1, 3)),
            replace(silent, feeds=(4, 2)),
            whole.channels[1],
        ),
    )
    assigned = assign(split, FOUR)
    assert isinstance(assigned, Assigned)
    assert assigned.clamp == {1: 0, 3: 0, 4: 1, 2: 1}
    assert assigned.trains[3].count > 27
    assert assigned.trains[2].count == assigned.trains[4].count == 0


@pytest.mark.parametrize(
    ("spoilt", "code"),
    [
        (lambda c: replace(c, channels=c.channels[:1]), "unsynced"),
        (lambda c: replace(c, channels=(c.channels[0], replace(c.channels[1], cylinder=9))), "unsynced"),
        (lambda c: replace(c, channels=(c.channels[0], replace(c.channels[1], samples=np.full(c.time.samples, 13.5, np.float32)))), "sync_silent"),  # noqa: E501
        (lambda c: replace(c, channels=(replace(c.channels[0], samples=np.zeros(c.time.samples, np.float32)), c.channels[1])), "no_current"),  # noqa: E501
        (lambda c: replace(c, channels=(replace(c.channels[0], cylinder=9),)), "no_clamp"),
    ],
)  # fmt: skip
def test_what_cannot_be_assigned_says_why(spoilt, code):
    assert refusal(spoilt(running(FOUR, rpm=700, on_s=3e-3))) == code


def test_pulses_of_a_regulated_drive_that_overlap_are_refused():
    boosted = replace(FOUR, injector_drive=InjectorDrive.PEAK_AND_HOLD)
    assert refusal(running(boosted, rpm=5500, on_s=8e-3), boosted) == "overlapping"


def test_saturated_pulses_that_overlap_are_taken_apart():
    assigned = assign(running(FOUR, rpm=5500, on_s=8e-3, odd=ODD), FOUR)
    seen = levels(assigned)
    assert assigned.overlapping
    assert max(seen, key=seen.get) == 3

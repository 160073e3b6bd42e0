"""The bench's verbs in orders nobody plans for: while it records, after the scope has gone, twice at once."""

import threading

import numpy as np
import pytest

from fairwitness.core.errors import InstrumentError
from fairwitness.core.model.capture import CaptureTest
from fairwitness.core.procedures.specs import CARDS
from fairwitness.server.bench.session import Benches, BenchSession
from fairwitness.server.bench.stage import InBay, Stage
from fairwitness.simulate.garage import ENGINES, build

TEST = CaptureTest.RELATIVE_COMPRESSION
CHECKS = [c.id for c in CARDS[TEST].checks]


def vehicle(name="drover-2.0"):
    return InBay(vehicle=build(ENGINES[name], (), rng=np.random.default_rng(1)), case_id=1, hidden=False)


@pytest.fixture
def bench():
    made = BenchSession(pace=25.0)
    made.put_in_bay(vehicle(), seed=1)
    yield made
    made.clear()


@pytest.fixture
def set_up(bench):
    bench.connect_scope()
    bench.set_fuel(disabled=True)
    bench.set_up(TEST, ())
    return bench


VERBS = {
    "set_fuel": lambda b: b.set_fuel(disabled=True),
    "start_engine": lambda b: b.start_engine(),
    "stop_engine": lambda b: b.stop_engine(),
    "connect_scope": lambda b: b.connect_scope(),
    "connect_scan": lambda b: b.connect_scan(),
    "set_up": lambda b: b.set_up(TEST, ()),
    "go": lambda b: b.go(CHECKS),
    "start_balance": lambda b: b.start_balance(),
    "balance_observation": lambda b: b.balance_observation(),
}


@pytest.mark.parametrize("verb", VERBS)
def test_nothing_can_be_done_without_a_vehicle(verb):
    with pytest.raises(InstrumentError, match="no vehicle"):
        VERBS[verb](BenchSession(pace=25.0))


def test_nothing_can_be_set_up_or_cranked_without_a_scope(bench):
    for verb in ("set_up", "go"):
        with pytest.raises(InstrumentError):
            VERBS[verb](bench)


def test_a_card_cannot_be_changed_while_it_is_recorded(set_up):
    set_up.go(CHECKS)
    with pytest.raises(InstrumentError, match="being recorded"):
        set_up.set_up(CaptureTest.CRANK_SPEED, ())
    set_up.recording.wait(20)
    assert set_up.stage is Stage.CAPTURED
    set_up.set_up(CaptureTest.CRANK_SPEED, ())
    assert set_up.recording is None


def test_a_second_crank_is_refused_while_the_first_is_recorded(set_up):
    set_up.go(CHECKS)
    with pytest.raises(InstrumentError, match="No test is set up"):
        set_up.go(CHECKS)


def test_of_two_hands_on_the_button_one_cranks(set_up):
    told, gate = [], threading.Barrier(2)

    def press():
        gate.wait(5)
        try:
            set_up.go(CHECKS)
            told.append("cranks")
        except InstrumentError:
            told.append("refused")

    hands = [threading.Thread(target=press) for _ in range(2)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join(20)
    assert sorted(told) == ["cranks", "refused"]


def test_a_scope_let_go_while_it_is_set_up_leaves_no_card(bench):
    bench.connect_scope()
    scope, usual = bench.scope, bench.scope.set_up

    def let_go_meanwhile(*args, **settings):
        usual(*args, **settings)
        bench.disconnect_scope()

    scope.set_up = let_go_meanwhile
    with pytest.raises(InstrumentError, match="changed meanwhile"):
        bench.set_up(TEST, ())
    assert bench.card is None
    assert bench.leads == ()


def test_stopping_nothing_does_nothing(set_up):
    version = set_up.version
    set_up.stop()
    assert (set_up.stage, set_up.version) == (Stage.SET_UP, version)


def test_nothing_waits_to_be_kept_before_it_was_taken(set_up):
    with pytest.raises(InstrumentError, match="Nothing waits"):
        set_up.capture()


def test_a_plug_pulled_in_mid_crank_leaves_what_came_until_then(set_up):
    set_up.go(CHECKS)
    while set_up.recording.count < 2:
        set_up.recording.wait(0.01)
    set_up.pull_plug()
    set_up.recording.wait(20)
    assert set_up.stage is Stage.BROKEN_OFF
    assert set_up.scope is None
    assert set_up.problem
    assert set_up.capture().time.samples > 1


def test_another_vehicle_starts_from_nothing(set_up):
    set_up.put_in_bay(vehicle(), seed=2)
    assert (set_up.stage, set_up.scope, set_up.card, set_up.leads) == (Stage.IDLE, None, None, ())
    assert not set_up.bay.fuel_disabled


def test_pulling_the_fuel_stops_an_engine_that_runs(bench):
    bench.start_engine()
    bench.set_fuel(disabled=True)
    assert bench.bay.motion.value == "off"


def test_every_change_is_told_by_a_higher_number(bench):
    before = bench.version
    bench.set_fuel(disabled=True)
    bench.connect_scan()
    bench.disconnect_scan()
    assert bench.version > before + 2


def test_each_person_has_one_bench():
    benches = Benches()
    assert benches.of(1, pace=1.0) is benches.of(1, pace=2.0)
    assert benches.of(1, pace=1.0) is not benches.of(2, pace=1.0)

"""A watch goes on until something is lost, and says how much it saw."""

import threading

import numpy as np
import pytest

from fairwitness.core.errors import InstrumentError
from fairwitness.core.model.capture import CaptureTest, Role, SetUp
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.core.procedures.specs import CARDS
from fairwitness.instruments.scope_link import Lead
from fairwitness.server.bench.recording import Recording
from fairwitness.server.bench.session import BenchSession
from fairwitness.server.bench.stage import InBay, Stage
from fairwitness.server.bench.watch import Watch
from fairwitness.server.bench.words import describe
from fairwitness.simulate.garage import ENGINES, build, fault_named

RATE_HZ, SECONDS = 1_000.0, 2.0
LEAD = Lead(channel=1, clip=Clip(role=Role.INJECTOR_CURRENT, name="feed"), unit="A", reach=5.0)


class Link:
    """A scope that plays prepared stretches, one after the other."""

    def __init__(self, stretches):
        self.stretches, self.started = stretches, 0
        self.recording = False

    def start(self):
        self.started += 1
        if self.started > len(self.stretches):
            raise InstrumentError("The scope does not answer.")

    def stop(self):
        self.recording = False

    @property
    def points(self):
        return int(RATE_HZ * SECONDS)

    def fetch(self, _channel, first, count):
        return self.stretches[self.started - 1][first : first + count].astype(np.float32)


def stretch(lost=None):
    trace = np.zeros(int(RATE_HZ * SECONDS))
    for n in range(21):
        if n != lost:
            trace[50 + 95 * n : 53 + 95 * n] = 1.0
    return trace


def watch(stretches):
    over, faults, shown = threading.Event(), [], []

    def ended(fault):
        faults.append(fault)
        over.set()

    link = Link(stretches)
    watching = Watch(
        lambda told: Recording(link, (LEAD,), rate_hz=RATE_HZ, seconds=SECONDS, ended=told),
        shown=shown.append,
        ended=ended,
    )
    watching.start()
    assert over.wait(20)
    return watching, faults, shown


def test_it_goes_on_until_something_is_lost_and_keeps_that_stretch():
    watching, faults, shown = watch([stretch(), stretch(), stretch(lost=7), stretch()])
    assert faults == [None]
    assert len(shown) == 3
    assert [loss.at_s for loss in watching.losses] == pytest.approx([0.05 + 0.095 * 7], abs=0.01)
    assert watching.losses[0].lead == "feed"
    assert watching.watched_s == pytest.approx(3 * SECONDS)
    kept = watching.described(SetUp(temperature="hot"))
    assert kept.happened
    assert kept.watched_s == pytest.approx(6.0)
    assert len(kept.marks_s) == 1


def test_a_scope_that_goes_silent_ends_it_with_what_is_there():
    watching, faults, _ = watch([stretch(), stretch()])
    assert isinstance(faults[0], InstrumentError)
    assert watching.watched_s >= 2 * SECONDS
    assert not watching.described(SetUp()).happened


TEST = CaptureTest.INJECTOR_CURRENT
CHECKS = [c.id for c in CARDS[TEST].checks]


@pytest.fixture
def bench():
    made = BenchSession(pace=25.0)
    yield made
    made.clear()


def in_bay(bench, *faults):
    engine = ENGINES["drover-2.0"]
    vehicle = build(engine, tuple(fault_named(f) for f in faults), rng=np.random.default_rng(1))
    bench.put_in_bay(InBay(vehicle=vehicle, case_id=1, hidden=False), seed=1)
    bench.connect_scope()
    bench.set_up(TEST, ())


def wait_for(bench, state, seconds=60):
    reached = threading.Event()
    told = bench.changed

    def changed():
        told()
        if state():
            reached.set()

    bench.changed = changed
    changed()
    assert reached.wait(seconds), bench.stage
    bench.changed = told


def test_at_the_bench_a_wire_that_loses_contact_is_caught_and_marked(bench):
    in_bay(bench, "injector_control_open@3:1!random")
    bench.watch(CHECKS)
    wait_for(bench, lambda: bench.stage is Stage.CAPTURED)
    assert describe(bench)["losses"]
    assert describe(bench)["big"] == "Caught it"
    kept = bench.capture()
    assert kept.set_up.happened
    assert 0 <= kept.set_up.marks_s[0] <= kept.time.duration_s


def test_a_sound_one_is_watched_until_somebody_stops(bench):
    in_bay(bench)
    with pytest.raises(InstrumentError, match="Not ticked"):
        bench.watch([])
    bench.watch(CHECKS)
    assert describe(bench)["stage"] == "watching"
    with pytest.raises(InstrumentError, match="being recorded"):
        bench.set_up(TEST, ())
    wait_for(bench, lambda: bench.watching.watched_s >= 12.0)
    bench.stop()
    wait_for(bench, lambda: bench.stage is Stage.CAPTURED)
    assert describe(bench)["big"] == "Not seen"
    assert bench.capture().set_up.happened is False
    assert bench.capture().set_up.watched_s >= 12.0


def test_a_starter_is_not_watched(bench):
    in_bay(bench)
    bench.set_fuel(disabled=True)
    bench.set_up(CaptureTest.RELATIVE_COMPRESSION, ())
    with pytest.raises(InstrumentError, match="starter"):
        bench.watch([c.id for c in CARDS[CaptureTest.RELATIVE_COMPRESSION].checks])

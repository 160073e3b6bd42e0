"""The guided power balance on a scan link and an engine reckoned by head: what it cuts, gives back and tells."""

import itertools
import threading

import pytest

from fairwitness.core.errors import InstrumentError
from fairwitness.core.model.engine import even_engine
from fairwitness.instruments.bay import EngineMotion
from fairwitness.server.bench.guided_balance import SLICES, TOO_SELDOM, TRIES, Balance, GuidedBalance

ORDER = (1, 3, 4, 2)
DEAD = 4


class Engine:
    """Stands for the bay: it runs, and has an engine."""

    def __init__(self, motion=EngineMotion.RUNNING):
        self.motion = motion
        self.vehicle = type("Vehicle", (), {"engine": even_engine(ORDER)})()


class Link:
    """Stands for the scan link: 800 rpm, 90 less while a living cylinder is cut; fails at will."""

    def __init__(self, *, breaks_on=None):
        self.cut_now, self.cuts, self.given_back, self.breaks_on = None, [], [], breaks_on

    def rpm(self):
        if self.cut_now is not None and self.cut_now == self.breaks_on:
            raise InstrumentError("The control unit is silent.", remedy="Look at the plug.")
        return 800.0 - (90.0 if self.cut_now not in (None, DEAD) else 0.0)

    def cut(self, cylinder):
        self.cut_now = cylinder
        self.cuts.append(cylinder)

    def give_back(self, cylinder):
        self.cut_now = None
        self.given_back.append(cylinder)


class Told:
    """What the balance tells its bench, and the moment it is over."""

    def __init__(self, clock=lambda: 0.0):
        self.troubles, self.over = [], threading.Event()
        self.balance = GuidedBalance(pace=1e5, changed=self, clock=clock)

    def __call__(self, trouble):
        self.troubles.append(trouble)
        if not self.balance.now.running:
            self.over.set()

    def run(self, link):
        self.balance.start(Engine(), link)
        assert self.over.wait(20)
        return self.balance.now


def test_every_cylinder_is_cut_once_in_firing_order_and_given_back():
    link = Link()
    seen = Told().run(link)
    assert link.cuts == link.given_back == list(ORDER)
    assert not seen.running
    assert seen.phase == "done"
    assert seen.cylinder is None


def test_the_drop_of_the_dead_cylinder_is_none():
    told = Told()
    seen = told.run(Link())
    assert {d["cylinder"]: d["rpm_before"] - d["rpm_after"] for d in seen.drops} == {1: 90, 3: 90, 4: 0, 2: 90}
    observation = told.balance.observation(len(ORDER))
    assert observation.test == "power_balance"
    assert observation.data["drops"] == list(seen.drops)
    assert set(told.troubles) == {""}


def test_a_link_that_falls_silent_gives_the_cylinder_back_and_is_told():
    told, link = Told(), Link(breaks_on=4)
    seen = told.run(link)
    assert link.given_back == [1, 3, 4]
    assert [d["cylinder"] for d in seen.drops] == [1, 3]
    assert told.troubles[-1] == "The control unit is silent. Look at the plug."


def test_what_is_not_complete_is_no_evidence():
    told = Told()
    told.run(Link(breaks_on=3))
    with pytest.raises(InstrumentError, match="not complete"):
        told.balance.observation(len(ORDER))


@pytest.mark.parametrize("motion", [m for m in EngineMotion if m is not EngineMotion.RUNNING])
def test_an_engine_that_does_not_run_cannot_be_balanced(motion):
    told = Told()
    with pytest.raises(InstrumentError, match="does not run"):
        told.balance.start(Engine(motion), Link())
    assert told.balance.now == Balance()


def test_a_second_one_is_refused_while_the_first_runs():
    told = Told()
    slow = Link()
    gate = threading.Event()
    slow.rpm = lambda: gate.wait(20) and 800.0
    told.balance.start(Engine(), slow)
    with pytest.raises(InstrumentError, match="under way"):
        told.balance.start(Engine(), Link())
    told.balance.stop()
    gate.set()
    assert told.over.wait(20)
    assert told.balance.now.drops == ()


def test_stopped_in_the_first_baseline_nothing_is_cut():
    told, link = Told(), Link()
    looks = []

    def stop_at_once():
        looks.append(1)
        told.balance.stop()
        return 800.0

    link.rpm = stop_at_once
    seen = told.run(link)
    assert link.cuts == []
    assert len(looks) < SLICES
    assert seen.drops == ()


def test_another_vehicle_in_the_bay_forgets_the_drops():
    told = Told()
    told.run(Link())
    told.balance.forget()
    assert told.balance.now == Balance()


def test_a_drop_nobody_looked_at_is_taken_again():
    stalls = iter([0.0] * (SLICES + 4) + [1.0] * 10_000)  # once, in the first cut
    told, link = Told(clock=lambda: next(stalls)), Link()
    seen = told.run(link)
    assert link.cuts == [1, *ORDER]
    assert [d["cylinder"] for d in seen.drops] == list(ORDER)


def test_a_speed_that_always_comes_too_seldom_is_said_and_never_judged():
    told, link = Told(clock=itertools.count().__next__), Link()
    seen = told.run(link)
    assert link.cuts == link.given_back == [1] * TRIES
    assert seen.drops == ()
    assert told.troubles[-1].startswith(TOO_SELDOM)

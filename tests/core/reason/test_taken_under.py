"""A complaint that comes and goes: what was taken when it is there weighs otherwise, and the rest is said not to be."""

from dataclasses import replace

import pytest

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Capture, SetUp, TimeBase
from fairwitness.core.model.case import Observation
from fairwitness.core.model.circumstances import UNKNOWN, Circumstances
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures.registry import measure_observation
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.inference.posterior import SourceTrust, infer
from fairwitness.core.reason.knowledge.fault_spec import Cause, Mode
from fairwitness.core.reason.planning.approach import Bay
from fairwitness.core.reason.planning.catching import waits
from fairwitness.core.reason.taken_under import caught, not_tried, odds_met
from tests.core.reason.evidence import case, line, measured

FOUR = even_engine((1, 3, 4, 2))
HOT = Circumstances(temperature="hot")


def taken(**set_up):
    """A case of one even capture, the complaint coming hot."""
    capture = Capture(name="a", time=TimeBase(samples=2, rate_hz=1.0), channels=(), set_up=SetUp(**set_up))
    return replace(case(FOUR), captures=(capture,), complaint_when=HOT)


EVEN = (measured(FOUR, {}),)


def intermittent(odds):
    trust = SourceTrust(odds_met={"capture:a": odds})
    found = infer(hypotheses(case(FOUR)), [replace(line(FOUR, {}), line="CON")], FOUR, (), trust)
    now_and_then = sum(
        p for h, p in zip(found.hypotheses, found.probabilities, strict=True) if h.mode is Mode.INTERMITTENT
    )
    return now_and_then / found.of_cause(Cause.NONE)


def test_an_even_reading_clears_little_where_the_complaint_was_not_there():
    missed, usual, met = (intermittent(odds) for odds in (0.02, 1.0, 50.0))
    assert missed > usual > met
    assert missed > 3 * met


@pytest.mark.parametrize(
    ("set_up", "factor"),
    [
        ({}, None),
        ({"temperature": "hot"}, "more"),
        ({"temperature": "cold"}, "less"),
        ({"temperature": "cold", "happened": True}, "more"),
        ({"temperature": "hot", "happened": False}, "less"),
    ],
)
def test_how_far_a_capture_could_meet_it(set_up, factor):
    found = odds_met(taken(**set_up), EVEN)
    if factor is None:
        assert found == {}
    else:
        assert (found["capture:a"] > 1) == (factor == "more")


def test_a_reading_by_hand_carries_its_own_conditions():
    reading = Observation(
        test="spark_check",
        data={"test": "spark_check", "cylinder": 1, "spark": "strong", "measured_at": "coil", "temperature": "hot"},
    )
    whole = replace(case(FOUR), observations=(reading,), complaint_when=HOT)
    own = (measure_observation(reading, 0, FOUR),)
    assert next(iter(odds_met(whole, own).values())) > 1
    assert not_tried(whole, own) == UNKNOWN


def test_what_was_not_tried_is_said():
    assert not_tried(taken(temperature="cold"), EVEN) == HOT
    assert not_tried(taken(temperature="hot"), EVEN) == UNKNOWN
    assert not_tried(taken(temperature="cold", happened=True), EVEN) == UNKNOWN
    said = " ".join(render(s.text) for s in conclude(taken(temperature="cold"), EVEN).statement.not_seen)
    assert "nothing was taken hot" in said
    watched = " ".join(render(s.text) for s in conclude(taken(temperature="cold"), EVEN).statement.follows)
    assert "rpm (cold)" in watched


def test_it_is_caught_where_it_was_there_or_something_stands_out():
    assert not caught(taken(), EVEN, deviates=False)
    assert caught(taken(happened=True), EVEN, deviates=False)
    assert caught(taken(), EVEN, deviates=True)


def test_until_it_was_caught_nothing_is_unplugged_and_the_list_says_so():
    plan = conclude(taken(temperature="cold"), EVEN).plan
    assert len(plan.leave_alone) >= 3
    assert "Take it hot: that is when it comes." in render(plan.offers[0].reason)
    assert conclude(replace(taken(), complaint_when=UNKNOWN), EVEN).plan.leave_alone == ()
    assert conclude(taken(happened=True), EVEN).plan.leave_alone == ()


def test_while_it_does_it_what_disturbs_nothing_comes_first():
    low = (measured(FOUR, {}), replace(measured(FOUR, {3: 0.6}, name="b"), test="power_balance"))
    offers = conclude(taken(), low, bay=Bay(happening=True)).plan.offers
    waiting = [waits(OFFERS[o.id], Bay(happening=True)) for o in offers]
    assert waiting == sorted(waiting)
    assert any(waiting)
    assert not any(
        OFFERS[o.id].turning is Turning.CRANKING for o, later in zip(offers, waiting, strict=True) if not later
    )
    assert "unplug nothing" in render(offers[0].reason)

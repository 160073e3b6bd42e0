"""Coil currents of another physics: dwell adapted, limited or struck again is healthy; the sick one is found."""

from dataclasses import replace

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Role
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.verdict import Status
from tests.independent.injector import Feed, Winding, feed_current
from tests.independent.test_spark import SIX, odd_ones

WINDING = Winding(ohm=0.6, henry=3.5e-3, lifts_ms=None, on_ms=3.0)
COILS = Feed(usual=WINDING, role=Role.COIL_CURRENT, reach_a=20.0, noise_a=0.05, fall_s=4e-5)
EACH, SHARED = {"each": True}, {"sync": "coil"}


def coils(**changes):
    return replace(COILS, **changes)


def dwell(ms):
    return replace(WINDING, on_ms=ms)


HEALTHY = {
    "one clamp, synced": (coils(), SHARED),
    "six on one clamp": (coils(order=SIX), SHARED),
    "a clamp on each": (coils(), EACH),
    "held at 7 A": (coils(limited_a=7.0), EACH),
    "held at 7 A on one clamp": (coils(limited_a=7.0), SHARED),
    "dwell adapted": (coils(odd={1: dwell(2.6), 2: dwell(3.4)}), EACH),
    "dwell adapted and held": (coils(limited_a=7.0, odd={1: dwell(2.8), 2: dwell(3.4)}), EACH),
    "a tenth of the level": (coils(gain=0.1, reach_a=2.0, noise_a=0.005), EACH),
    "a thousand times the level": (coils(gain=1000.0, reach_a=20_000.0, noise_a=50.0), EACH),
    "clamp backwards": (coils(gain=-1.0), EACH),
    "offset": (coils(offset_a=1.5), EACH),
    "eight bits": (coils(bits=8), EACH),
    "ten thousand samples": (coils(rate_hz=10_000.0), EACH),
    "three strikes": (coils(strikes=3, usual=dwell(1.5)), EACH),
    "two strikes on one clamp": (coils(strikes=2, usual=dwell(1.5)), SHARED),
    "a low battery": (coils(volts=11.0), EACH),
    "a short capture": (coils(seconds=0.6), EACH),
    "windings apart by 6 %": (coils(odd={1: replace(WINDING, ohm=0.63, henry=3.3e-3)}), EACH),
    "noise": (coils(noise_a=0.4), EACH),
}
SICK = {
    "draws nothing": Winding(dead=True),
    "shorted turns": replace(WINDING, henry=1.2e-3),
    "resistance": replace(WINDING, ohm=1.6),
    "short dwell": dwell(1.4),
}


def judged(how, **kind):
    return diagnose(Case(name="x", engine=even_engine(how.order), captures=(feed_current(how, **kind),)))


@pytest.mark.parametrize("entry", HEALTHY)
def test_nobody_healthy_is_accused_and_nothing_is_refused(entry):
    how, kind = HEALTHY[entry]
    found = judged(how, **kind)
    assert odd_ones(found) == set()
    assert found.verdict.status is Status.NO_FAULT_FOUND
    assert found.captures[0].usable


@pytest.mark.parametrize("how", [coils(), coils(order=SIX)], ids=["four", "six"])
@pytest.mark.parametrize("kind", [EACH, SHARED], ids=["a clamp on each", "one clamp"])
@pytest.mark.parametrize("fault", SICK)
def test_the_sick_one_is_the_only_one_that_stands_out(fault, kind, how):
    found = judged(replace(how, odd={3: SICK[fault]}), **kind)
    assert odd_ones(found) == {3}
    assert found.verdict.cylinders == (3,)


def test_a_driver_that_holds_the_current_does_not_hide_resistance():
    found = judged(coils(limited_a=7.0, odd={3: SICK["resistance"]}), **EACH)
    assert odd_ones(found) == {3}
    assert any("does not reach the current" in render(s.text) for s in found.statement.seen)

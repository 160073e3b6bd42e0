"""Injector currents of another physics: the healthy are not accused, whatever hangs on the feed; the sick is found."""

from dataclasses import replace

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import InjectorDrive, even_engine
from fairwitness.core.reason.verdict import Status
from tests.independent.injector import Feed, Winding, feed_current
from tests.independent.test_spark import odd_ones

SIX = (1, 5, 3, 6, 2, 4)
HELD = Feed(usual=Winding(ohm=2.2, henry=0.003, lifts_ms=0.6), hold_a=1.0)
HEALTHY = {
    "as usual": (Feed(), {}),
    "six cylinders": (Feed(order=SIX), {}),
    "a clamp on each": (Feed(), {"each": True}),
    "offset": (Feed(offset_a=0.4), {}),
    "drift": (Feed(drift_a=0.3), {}),
    "clamp backwards": (Feed(gain=-1.0), {}),
    "a tenth of the level": (Feed(gain=0.1, noise_a=0.002, reach_a=1.0), {}),
    "eight bits": (Feed(bits=8, reach_a=4.0), {}),
    "ten thousand samples": (Feed(rate_hz=10_000.0), {}),
    "two hundred thousand samples": (Feed(rate_hz=200_000.0, seconds=1.0), {}),
    "a short capture": (Feed(seconds=0.6), {}),
    "coils on the feed": (Feed(coils=True), {}),
    "peak and hold": (HELD, {"drive": InjectorDrive.PEAK_AND_HOLD}),
    "peak and hold that nobody said": (HELD, {}),
    "long pulses": (Feed(usual=Winding(on_ms=12.0)), {}),
    "short pulses": (Feed(usual=Winding(on_ms=1.6)), {}),
    "windings apart by 4 %": (Feed(odd={1: Winding(ohm=14.4), 2: Winding(ohm=13.6)}), {}),
    "noise": (Feed(noise_a=0.06), {}),
    "a low battery": (Feed(volts=11.5), {}),
    "on-times trimmed": (Feed(odd={1: Winding(on_ms=3.2), 2: Winding(on_ms=2.8)}), {}),
    "24 V": (Feed(volts=27.6, usual=Winding(ohm=28.0, henry=0.028)), {}),
}
SICK = {
    "dead": Winding(dead=True),
    "a fifth more resistance": Winding(ohm=16.8),
    "shorted turns": Winding(ohm=7.0, henry=0.007),
    "stuck": Winding(lifts_ms=None),
    "late": Winding(lifts_ms=2.2),
}


def judged(how, *, drive=None, **kind):
    engine = even_engine(how.order)
    engine = replace(engine, injector_drive=drive) if drive else engine
    return diagnose(Case(name="x", engine=engine, captures=(feed_current(how, **kind),)))


@pytest.mark.parametrize("entry", HEALTHY)
def test_nobody_healthy_is_accused_and_nothing_is_refused(entry):
    how, kind = HEALTHY[entry]
    found = judged(how, **kind)
    assert odd_ones(found) == set()
    assert found.verdict.status is Status.NO_FAULT_FOUND
    assert found.captures[0].usable


@pytest.mark.parametrize("how", [Feed(batch=4, twice=True), Feed(batch=2, twice=True), Feed(twice=True)])
@pytest.mark.parametrize("odd", [{}, {3: Winding(dead=True)}], ids=["healthy", "one dead"])
def test_injectors_fired_together_are_asked_for_one_by_one_and_nobody_is_accused(how, odd):
    found = judged(replace(how, odd=odd))
    assert not found.captures[0].usable
    assert "fire at once" in " ".join(render(r) for r in found.captures[0].reasons)
    assert not found.verdict.accuses


@pytest.mark.parametrize("how", [Feed(), Feed(order=SIX), Feed(coils=True)], ids=["four", "six", "coils on the feed"])
@pytest.mark.parametrize("fault", SICK)
def test_the_sick_one_is_the_only_one_that_stands_out(fault, how):
    found = judged(replace(how, odd={3: SICK[fault]}))
    assert odd_ones(found) == {3}


def test_coils_on_the_feed_are_told():
    assert "Something else draws" in " ".join(render(r) for r in judged(Feed(coils=True)).captures[0].reasons)


@pytest.mark.parametrize("fault", SICK)
def test_whether_and_which_are_separate_answers(fault):
    """A coil's command says where the cycle begins, not where in it an injector fires: somebody is ill, who is open."""
    found = judged(Feed(odd={3: SICK[fault]}), sync="coil")
    assert found.verdict.status is not Status.NO_FAULT_FOUND
    assert found.verdict.cylinders == ()

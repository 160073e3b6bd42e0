"""Sparks of another physics under odd instruments: the healthy are not accused, the sick one is found."""

import pytest

from fairwitness.core.diagnose import Diagnosis, diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.accusations import deviates
from fairwitness.core.reason.verdict import Status
from tests.independent.spark import Ignition, Pickup, Spark, secondary

SIX = (1, 5, 3, 6, 2, 4)
ROUGH = Spark(arc_rough=0.25, arc_rises=0.6, arc_kv=1.6)
HEALTHY = {
    "as usual": (Ignition(), Pickup()),
    "six cylinders": (Ignition(order=SIX), Pickup()),
    "cut off at 5 kV both ways": (Ignition(), Pickup(stops_kv=(-5.0, 5.0))),
    "cut off at 2 kV both ways": (Ignition(), Pickup(stops_kv=(-2.0, 2.0))),
    "cut off one way only": (Ignition(), Pickup(stops_kv=(-8.0, 1.0))),
    "one pick-up at 60 %": (Ignition(), Pickup(gain={3: 0.6})),
    "one pick-up at 160 %": (Ignition(), Pickup(gain={3: 1.6})),
    "two leads upside down": (Ignition(), Pickup(upside_down=(2, 3))),
    "all leads upside down": (Ignition(), Pickup(upside_down=(1, 2, 3, 4))),
    "rough lines of a lean idle": (Ignition(usual=ROUGH, scatter=0.15), Pickup()),
    "three strikes": (Ignition(usual=Spark(strikes=3)), Pickup()),
    "two strikes of six": (Ignition(order=SIX, usual=Spark(strikes=2)), Pickup()),
    "capacitor discharge": (Ignition(usual=Spark(capacitive=True)), Pickup()),
    "all plugs high": (Ignition(usual=Spark(breakdown_kv=20.0)), Pickup()),
    "offset and hum": (Ignition(), Pickup(offset_kv=0.8, hum_kv=0.4)),
    "noise": (Ignition(), Pickup(noise_kv=0.25)),
    "eight bits": (Ignition(), Pickup(bits=8)),
    "breakdown between samples": (Ignition(), Pickup(rate_hz=50_000.0)),
    "a million samples": (Ignition(seconds=1.2), Pickup(rate_hz=1e6)),
    "a slow pick-up": (Ignition(), Pickup(low_pass_hz=30_000.0)),
    "short dwell": (Ignition(usual=Spark(dwell_ms=1.4, energy_mj=20.0)), Pickup()),
    "a short capture": (Ignition(seconds=0.7), Pickup()),
    "scatter": (Ignition(scatter=0.2), Pickup()),
    "dwell adapted cylinder by cylinder": (
        Ignition(odd={1: Spark(dwell_ms=2.9, energy_mj=29.0), 2: Spark(dwell_ms=3.5, energy_mj=35.0)}),
        Pickup(),
    ),
}
SICK = {
    "no arc": Spark(arc_kv=None),
    "gap of twice its width": Spark(breakdown_kv=19.0, arc_kv=1.6),
    "shorted plug": Spark(breakdown_kv=3.0, arc_kv=0.9),
    "resistance in the lead": Spark(breakdown_kv=11.0, arc_kv=2.6),
}


def judged(how: Ignition, by: Pickup, *, one_clamp: bool = False) -> Diagnosis:
    capture = secondary(how, by, one_clamp=one_clamp)
    return diagnose(Case(name="x", engine=even_engine(how.order), captures=(capture,)))


def odd_ones(found: Diagnosis) -> set[int]:
    return {f.cylinder for m in found.measured for f in m.findings if f.cylinder is not None and deviates(f)}


@pytest.mark.parametrize("entry", HEALTHY)
def test_nobody_healthy_is_accused_and_nothing_is_refused(entry):
    found = judged(*HEALTHY[entry])
    assert odd_ones(found) == set()
    assert found.verdict.status is Status.NO_FAULT_FOUND
    assert found.captures[0].usable


def test_one_pick_up_over_all_leads_reads_alike():
    assert odd_ones(judged(Ignition(), Pickup(), one_clamp=True)) == set()


@pytest.mark.parametrize("order", [(1, 3, 4, 2), SIX], ids=["four", "six"])
@pytest.mark.parametrize("upside_down", [(), (2, 3)], ids=["usual", "two upside down"])
@pytest.mark.parametrize("fault", SICK)
def test_the_sick_one_is_the_only_one_that_stands_out(fault, upside_down, order):
    found = judged(Ignition(order=order, odd={3: SICK[fault]}), Pickup(upside_down=upside_down))
    assert odd_ones(found) == {3}
    assert found.verdict.cylinders == (3,)


@pytest.mark.parametrize("fault", ["no arc", "shorted plug", "resistance in the lead"])
def test_what_the_line_shows_is_found_though_the_breakdown_is_cut_off(fault):
    found = judged(Ignition(odd={3: SICK[fault]}), Pickup(stops_kv=(-5.0, 5.0)))
    assert odd_ones(found) == {3}


def test_a_breakdown_that_was_not_seen_clears_nobody():
    found = judged(Ignition(odd={3: SICK["gap of twice its width"]}), Pickup(stops_kv=(-5.0, 5.0)))
    assert any("cut" in render(r) for c in found.captures for r in c.reasons)
    assert any("ignition" in render(s.text) for s in found.statement.not_seen)


def test_an_unfuelled_cylinder_needs_little_more_and_is_not_a_worn_plug():
    found = judged(Ignition(odd={3: Spark(breakdown_kv=11.5, arc_kv=1.35)}), Pickup())
    assert found.verdict.faults == ()
    assert odd_ones(found) == set()

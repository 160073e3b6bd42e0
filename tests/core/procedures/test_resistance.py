"""Resistances: what a meter cannot tell is not judged, drives have ranges of their own, and heat decides."""

from dataclasses import replace

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import Ignition, InjectorDrive, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures import resistance
from fairwitness.core.procedures.safety import COIL_DRIVER, IN_COIL
from fairwitness.core.reason.inference.hypotheses import Placed

FOUR = even_engine((1, 3, 4, 2))


def reading(item, cylinder=2, temperature="cold", **shown):
    return Observation(
        test="resistance", data={"item": item, "cylinder": cylinder, "temperature": temperature, **shown}
    )


def state_of(engine, item, **shown):
    measured = resistance.measure(reading(item, **shown), 0, engine)
    return measured.findings[0].state


@pytest.mark.parametrize(
    ("changes", "item"),
    [
        ({"injector_drive": InjectorDrive.PIEZO}, "injector"),
        ({"extra": {COIL_DRIVER: IN_COIL}}, "coil_primary"),
    ],
)
@pytest.mark.parametrize("shown", [{"open": True}, {"ohms": 180_000.0}, {"ohms": 0.0}])
def test_what_a_meter_cannot_reach_is_not_judged(changes, item, shown):
    assert state_of(replace(FOUR, **changes), item, **shown) is State.UNUSABLE


@pytest.mark.parametrize(
    ("changes", "item", "ohms", "state"),
    [
        ({"injector_drive": InjectorDrive.BOOSTED}, "injector", 0.25, State.NORMAL),
        ({"injector_drive": InjectorDrive.BOOSTED}, "injector", 1.8, State.NORMAL),
        ({"injector_drive": InjectorDrive.BOOSTED}, "injector", 9.0, State.HIGH),
        ({"injector_drive": InjectorDrive.SATURATED}, "injector", 2.2, State.LOW),
        ({"injector_drive": InjectorDrive.PEAK_AND_HOLD}, "injector", 2.2, State.NORMAL),
        ({"ignition": Ignition.DISTRIBUTOR}, "coil_primary", 4.0, State.NORMAL),
        ({"ignition": Ignition.DISTRIBUTOR}, "coil_primary", 9.0, State.HIGH),
        ({}, "coil_primary", 4.0, State.HIGH),
    ],
)
def test_each_drive_has_the_range_it_is_built_with(changes, item, ohms, state):
    assert state_of(replace(FOUR, injector_ohms=None, **changes), item, ohms=ohms) is state


def test_a_motorcycle_s_coil_of_four_ohms_is_usual():
    assert state_of(even_engine((1, 2)), "coil_primary", ohms=4.0) is State.NORMAL


@pytest.mark.parametrize("item", ["coil_primary", "coil_secondary"])
def test_coils_that_all_read_open_are_built_so(item):
    found = diagnose(Case(name="x", engine=FOUR, observations=tuple(reading(item, c, open=True) for c in (1, 2, 3, 4))))
    assert {f.state for f in found.findings if f.test == "resistance"} == {State.NORMAL}


def test_injectors_that_all_read_open_are_not_built_so():
    readings = tuple(reading("injector", c, open=True) for c in (1, 2, 3, 4))
    found = diagnose(Case(name="x", engine=FOUR, observations=readings))
    assert {f.state for f in found.findings if f.test == "resistance"} == {State.ABSENT}


def test_open_when_hot_beats_normal_when_cold():
    cold = tuple(reading("injector", c, ohms=14.0) for c in (1, 2, 3, 4))
    hot = reading("injector", 3, "hot", open=True)
    both = diagnose(Case(name="x", engine=FOUR, observations=(*cold, hot)))
    only_hot = diagnose(Case(name="x", engine=FOUR, observations=(hot,)))
    where = Placed("injector_open_circuit", (3,))
    assert both.verdict.cylinders == (3,)
    assert both.posterior.of_placed(where) > 0.8 * only_hot.posterior.of_placed(where)
    assert "fails_hot" in {r.code for m in both.measured for r in m.reasons}


def test_normal_when_hot_too_stays_normal():
    readings = tuple(reading("injector", 3, t, ohms=14.0) for t in ("cold", "hot"))
    found = diagnose(Case(name="x", engine=FOUR, observations=readings))
    assert not found.verdict.accuses
    assert all(m.categorical for m in found.measured)


def test_sentences_name_readings_that_were_judged_beside_each_other():
    readings = [reading("injector", c, ohms=14.0 + 0.1 * c) for c in (1, 2, 3, 4)]
    found = diagnose(Case(name="ohms", engine=FOUR, captures=(), observations=tuple(readings)))
    numbers = {f.id for f in found.findings}
    assert "" not in numbers
    told = [s for s in found.statement.seen if s.findings]
    assert told
    assert all(set(s.findings) <= numbers for s in told)

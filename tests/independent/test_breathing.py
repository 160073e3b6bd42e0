"""Pulses of manifold, crankcase and tailpipe through hoses that ring: unevenness that all engines have is no fault."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.capture import Role
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.crankcase_pulse.measure import measure as crankcase
from fairwitness.core.procedures.exhaust_pulse.measure import measure as exhaust
from fairwitness.core.procedures.intake_pulse.measure import measure as intake
from fairwitness.core.reason.accusations import deviates
from tests.independent.breathing import Breathing, Hose, Lungs, breathing_capture
from tests.independent.entries import HOSES, LUNGS, SICK_LUNGS
from tests.independent.recordings import ORDERS

PULSES = {Role.INTAKE_PRESSURE: intake, Role.CRANKCASE_PRESSURE: crankcase, Role.EXHAUST_PRESSURE: exhaust}
IDLE_RPM = 750.0


def engine_of(cylinders, where, **changes):
    how = Breathing(order=ORDERS[cylinders], **changes)
    return replace(how, rpm=IDLE_RPM) if where is Role.EXHAUST_PRESSURE else how


def read(how, where, by=Hose(), seed=0):  # noqa: B008
    return PULSES[where](breathing_capture(how, where, by, seed=seed), even_engine(how.order))


def odd_ones(measured):
    return {f.cylinder for f in measured.findings if deviates(f)}


@pytest.mark.parametrize("cylinders", [3, 4, 6, 8])
@pytest.mark.parametrize("where", PULSES)
@pytest.mark.parametrize("hose", HOSES)
def test_a_hose_makes_nobody_ill(hose, where, cylinders):
    assert odd_ones(read(engine_of(cylinders, where), where, HOSES[hose])) == set()


@pytest.mark.parametrize("cylinders", [3, 4, 6, 8])
@pytest.mark.parametrize("where", PULSES)
@pytest.mark.parametrize("odd", LUNGS)
def test_how_an_engine_is_built_makes_nobody_ill(odd, where, cylinders):
    assert odd_ones(read(engine_of(cylinders, where, **LUNGS[odd]), where)) == set()


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("cylinders", [4, 6, 8])
@pytest.mark.parametrize("where", PULSES)
def test_cylinders_that_differ_by_a_tenth_are_all_sound(where, cylinders, seed):
    order = ORDERS[cylinders]
    rng = np.random.default_rng(100 * cylinders + seed)
    odd = {c: Lungs(fills=f, fires=f, blow_by=b) for c, f, b in zip(
        order, rng.uniform(0.9, 1.1, cylinders), rng.uniform(0.02, 0.05, cylinders), strict=True
    )}  # fmt: skip
    assert odd_ones(read(engine_of(cylinders, where, odd=odd), where, seed=seed)) == set()


@pytest.mark.parametrize("cylinders", [3, 4, 6, 8])
@pytest.mark.parametrize("sick", SICK_LUNGS)
def test_a_sick_one_is_found_or_said_to_look_like_another(sick, cylinders):
    where, lungs = SICK_LUNGS[sick]
    order = ORDERS[cylinders]
    found = read(engine_of(cylinders, where, odd={order[1]: lungs}), where)
    assert found.usable
    named = {f.cylinder for f in found.findings if f.state is not State.NORMAL}
    assert named in ({order[1]}, {None})


def test_a_leak_that_looks_like_a_pull_that_is_missing_is_told_both_ways():
    order = ORDERS[8]
    odd = {order[1]: Lungs(intake_leak=60.0)}
    found = read(engine_of(8, Role.INTAKE_PRESSURE, odd=odd), Role.INTAKE_PRESSURE)
    assert len(found.lines[0].alternatives) == 2
    accused = [int(np.argmax(np.abs(np.asarray(shares) - 1.0))) for shares in found.lines[0].alternatives]
    assert order.index(order[1]) in accused
    assert accused[0] != accused[1]


def test_what_stands_out_without_a_name_is_not_denied_by_what_follows():
    order = ORDERS[8]
    capture = breathing_capture(Breathing(order=order, odd={order[1]: Lungs(intake_leak=60.0)}), Role.INTAKE_PRESSURE)
    found = diagnose(Case(name="x", engine=even_engine(order), captures=(capture,)))
    assert not found.verdict.accuses
    follows = [render(sentence.text) for sentence in found.statement.follows]
    assert follows == ["One of them deviates; nobody is accused before it is known which."]
    assert [render(words) for words in found.verdict.unmet] == ["Which cylinder: a test that compares all of them."]

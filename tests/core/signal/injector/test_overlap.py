"""Pulses that run into each other are taken apart: the heights put in come out."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import InjectorDrive, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.injector_current.measure import measure
from tests.core.feeds import HENRY, OHM, VOLTS, running

EIGHT = even_engine((1, 8, 4, 3, 6, 5, 7, 2))


def states(reported):
    return {f.cylinder: f.state for f in reported.findings if not f.is_remark}


@pytest.mark.parametrize(("rpm", "on_ms"), [(3000, 4.5), (3000, 8.0), (3000, 12.0), (4500, 10.0), (2000, 9.0)])
@pytest.mark.parametrize(("odd", "state"), [({}, State.NORMAL), ({5: np.inf}, State.ABSENT), ({5: 1 / 0.9}, State.LOW)])
def test_an_injector_is_found_where_none_stands_alone(rpm, on_ms, odd, state):
    reported = measure(running(EIGHT, rpm=rpm, on_s=on_ms / 1e3, odd=odd), EIGHT)
    assert "overlapping" in {r.code for r in reported.reasons}
    found = states(reported)
    assert found.pop(5) is state
    assert set(found.values()) == {State.NORMAL}
    reached = VOLTS / OHM * -np.expm1(-on_ms / 1e3 * OHM / HENRY)
    # Even pulses hide their common height; what is compared, each beside the others, is exact to a few per cent.
    assert reported.figures[1]["level_a"] == pytest.approx(reached, rel=0.12)
    assert reported.figures[1]["on_ms"] == pytest.approx(on_ms, rel=0.04)


def test_pulses_that_stand_alone_are_not_fitted():
    reported = measure(running(EIGHT, rpm=760, on_s=0.003, odd={7: np.inf}), EIGHT)
    assert not reported.reasons
    assert {c for c, s in states(reported).items() if s is State.ABSENT} == {7}


def test_the_sync_injectors_neighbour_is_not_taken_for_it_where_pulses_are_long():
    # 3 ms of on-time are 54 degrees at 3000 rpm, more than half way to the next cylinder.
    reported = measure(running(EIGHT, rpm=3000, on_s=0.003, odd={5: np.inf}), EIGHT)
    assert {c for c, s in states(reported).items() if s is State.ABSENT} == {5}


def test_overlapping_pulses_of_a_regulated_drive_are_refused_with_a_way_on():
    regulated = even_engine((1, 8, 4, 3, 6, 5, 7, 2), injector_drive=InjectorDrive.PEAK_AND_HOLD)
    reported = measure(running(regulated, rpm=3000, on_s=0.008), regulated)
    assert not reported.usable
    assert "idle" in render(reported.reasons[0].statement)

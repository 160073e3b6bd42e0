from dataclasses import replace

import pytest

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Fuel, Ignition, Injection
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures import safety
from fairwitness.core.procedures.form import Filled
from fairwitness.core.procedures.power_balance import SPEC, measure


def balance(drops, before=800.0, **data):
    rows = [{"cylinder": c, "rpm_before": before, "rpm_after": before - d} for c, d in drops]
    return Observation(test="power_balance", data={"drops": rows, **data})


def states(measured):
    return {f.cylinder: f.state for f in measured.findings}


def test_no_drop_is_no_work(four):
    measured = measure(balance([(1, 90), (2, 95), (3, 3), (4, 88)]), 0, four)
    assert states(measured) == {1: State.NORMAL, 2: State.NORMAL, 3: State.ABSENT, 4: State.NORMAL}
    assert measured.evidence.alternatives[0][four.position(3)] < 0.1


def test_half_a_drop_is_weak_and_repeats_narrow_it(four):
    once = measure(balance([(1, 90), (2, 95), (3, 45), (4, 88)]), 0, four)
    often = measure(balance([(1, 90), (2, 95), (3, 45), (3, 48), (3, 44), (4, 88)]), 0, four)
    assert states(once)[3] is states(often)[3] is State.LOW
    at = four.position(3)
    assert often.evidence.sigmas[at] < once.evidence.sigmas[at]


def test_a_cylinder_not_tried_weighs_nothing(four):
    measured = measure(balance([(1, 90), (2, 95), (4, 2)]), 0, four)
    assert 3 not in states(measured)
    assert measured.evidence.sigmas[four.position(3)] > 3


def test_an_idle_control_that_fills_the_hole_is_caught(four):
    measured = measure(balance([(1, 4), (2, 5), (3, 1), (4, 6)], idle_control="active"), 0, four)
    assert not measured.usable
    assert [r.code for r in measured.reasons] == ["no_drop"]


def test_active_idle_control_and_a_wandering_baseline_are_said(four):
    rows = [(1, 780), (2, 905), (3, 800), (4, 790)]
    drops = [{"cylinder": c, "rpm_before": b, "rpm_after": b - 80} for c, b in rows]
    measured = measure(Observation(test="power_balance", data={"drops": drops, "idle_control": "active"}), 0, four)
    assert {r.code for r in measured.reasons} == {"idle_active", "baseline_drift"}
    assert measured.usable


@pytest.mark.parametrize("drops", [None, [], "x", [{"cylinder": 1, "rpm_before": 800, "rpm_after": 700}]])
def test_too_little_is_refused(four, drops):
    assert not measure(Observation(test="power_balance", data={"drops": drops}), 0, four).usable


@pytest.mark.parametrize("row", [5, {}, {"cylinder": 9, "rpm_before": 800, "rpm_after": 700},
                                 {"cylinder": 1, "rpm_before": "fast", "rpm_after": 700},
                                 {"cylinder": 1, "rpm_before": 800, "rpm_after": True}])  # fmt: skip
def test_a_bad_row_is_left_out_and_said(four, row):
    good = [{"cylinder": c, "rpm_before": 800, "rpm_after": 710} for c in (1, 2, 3, 4)]
    measured = measure(Observation(test="power_balance", data={"drops": [*good, row]}), 0, four)
    assert measured.usable
    assert [r.code for r in measured.reasons] == ["bad_row"]


def by_ear(*unchanged, tried=(1, 2, 3, 4), **data):
    rows = [{"cylinder": c, "changed": c not in unchanged} for c in tried]
    return Observation(test="power_balance", data={"drops": rows, **data})


def test_by_ear_a_dead_cylinder_is_told_and_a_weak_one_is_not_claimed(four):
    measured = measure(by_ear(3), 0, four)
    read = measure(balance([(1, 90), (2, 95), (3, 3), (4, 88)]), 0, four)
    assert states(measured) == states(read) == {1: State.NORMAL, 2: State.NORMAL, 3: State.ABSENT, 4: State.NORMAL}
    assert measured.evidence.sigmas[0] > read.evidence.sigmas[0]
    assert [r.code for r in measured.reasons] == ["by_ear"]


def test_by_ear_nothing_changing_anywhere_is_no_answer(four):
    assert not measure(by_ear(1, 2, 3, 4), 0, four).usable
    assert not measure(by_ear(tried=(1,)), 0, four).usable


def test_the_form_without_speeds_makes_a_reading_that_is_understood(four):
    filled = Filled(values={"heard": {1: "changed", 3: "unchanged", 4: "changed"}}, choices={"by": "shorting"})
    [data] = SPEC.form.read(filled, four.firing_order)
    assert data["by"] == "shorting"
    assert states(measure(Observation(test="power_balance", data=data), 0, four)) == {
        1: State.NORMAL, 3: State.ABSENT, 4: State.NORMAL}  # fmt: skip


def test_speeds_go_before_what_was_heard(four):
    values = {"before": {1: 800.0, 3: 800.0}, "after": {1: 700.0, 3: 798.0}, "heard": {1: "unchanged"}}
    [data] = SPEC.form.read(Filled(values=values), four.firing_order)
    assert states(measure(Observation(test="power_balance", data=data), 0, four)) == {1: State.NORMAL, 3: State.ABSENT}


def test_no_injector_of_a_common_rail_is_unplugged_while_it_runs(four):
    rail = replace(four, fuel=Fuel.DIESEL, injection=Injection.COMMON_RAIL, ignition=Ignition.COMPRESSION_IGNITION)
    assert safety.why_not(SPEC, rail, {"by": "unplugging"})
    assert safety.why_not(SPEC, rail, {"by": "shorting"})
    assert safety.why_not(SPEC, rail, {"by": "command"}) is None
    assert safety.why_not(SPEC, four, {"by": "unplugging"}) is None

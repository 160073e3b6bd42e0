import pytest

from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.cranking_speed import measure


def table(speeds, seconds=10.0):
    data = {"test": "cranking_speed", "cylinder_rpm": {str(c): v for c, v in speeds.items()}, "seconds": seconds}
    return Observation(test="cranking_speed", data=data)


def test_faster_is_weaker(four):
    measured = measure(table({1: 214, 2: 212, 3: 248, 4: 213}), 0, four)
    assert {f.cylinder: f.state for f in measured.findings} == {
        1: State.NORMAL, 2: State.NORMAL, 3: State.ABSENT, 4: State.NORMAL,
    }  # fmt: skip
    assert measured.evidence is not None
    assert measured.evidence.alternatives[0][four.position(3)] < 0.2


@pytest.mark.parametrize("value", [0, 65535, 8191.75, -1, float("nan"), float("inf"), "200", None, True])
def test_placeholders_are_refused(four, value):
    measured = measure(table({1: 214, 2: 212, 3: value, 4: 213}), 2, four)
    assert not measured.usable
    assert measured.evidence is None
    assert {f.state for f in measured.findings} == {State.UNUSABLE}


def test_an_unsettled_table_is_refused(four):
    measured = measure(table({1: 214, 2: 212, 3: 248, 4: 213}, seconds=4), 0, four)
    assert [r.code for r in measured.reasons] == ["table_unsettled"]


@pytest.mark.parametrize("broken", [None, [], "fast", {"1": 200}])
def test_a_table_with_holes_is_refused(four, broken):
    observation = Observation(test="cranking_speed", data={"cylinder_rpm": broken, "seconds": 10})
    assert not measure(observation, 0, four).usable


def test_many_cylinders_must_stand_out_further_and_weigh_less(four):
    """Compressions of eight overlap: what is a weak cylinder of four is bearings and cables of eight."""
    eight = even_engine((1, 8, 4, 3, 6, 5, 7, 2))
    speeds = dict.fromkeys(range(1, 9), 210) | {3: 218}
    of_eight, of_four = measure(table(speeds), 0, eight), measure(table({1: 210, 2: 210, 3: 218, 4: 210}), 0, four)
    assert {f.state for f in of_eight.findings} == {State.NORMAL}
    assert next(f.state for f in of_four.findings if f.cylinder == 3) is State.LOW
    assert of_eight.evidence.sigmas[0] > 2 * of_four.evidence.sigmas[0]


def test_a_dead_cylinder_of_eight_still_stands_out():
    eight = even_engine((1, 8, 4, 3, 6, 5, 7, 2))
    found = measure(table(dict.fromkeys(range(1, 9), 210) | {3: 255}), 0, eight)
    assert {f.cylinder for f in found.findings if f.state is not State.NORMAL} == {3}

"""Held up to known good captures: what lies outside their own spread, and what is no figure of its own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import measure_capture
from fairwitness.core.messages.message import verbatim
from fairwitness.core.model.measurement import Finding, Measured, Origin, State
from fairwitness.core.reason.beside_known_good import FIGURES, judged_beside
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.health import Fault


def of(values, test="coil_current", name="peak_a", **changes):
    return Measured(test=test, figures={c: {name: v} for c, v in enumerate(values, start=1)}, **changes)


def shares(*values):
    findings = tuple(
        Finding(test="relative_compression", cylinder=c, quantity="relative_compression", value=v, unit="1",
                spread=None, events=9, state=State.NORMAL, statement=verbatim("x"), origin=Origin())
        for c, v in enumerate(values, start=1)
    )  # fmt: skip
    return Measured(test="relative_compression", findings=findings)


def test_one_that_draws_far_less_lies_below():
    (told,) = judged_beside([of([8.5, 8.4, 5.0, 8.6])], [of([8.5, 8.4, 8.6, 8.5])])
    assert (told.low, told.high, told.captures, told.figure) == ((3,), (), 1, FIGURES["peak_a"])
    assert told.usual == pytest.approx(8.5)


def test_several_known_goods_narrow_what_may_be_expected():
    one = judged_beside([of([8.5])], [of([8.5, 8.4, 8.6])])[0].level_spread
    many = judged_beside([of([8.5])], [of([8.5, 8.4, 8.6])] * 9)[0].level_spread
    assert many < one


def test_a_dead_pair_of_four_lies_below_and_its_sound_half_does_not_lie_above():
    (told,) = judged_beside([of([8.5, 4.0, 4.1, 8.6])], [of([8.5, 8.4, 8.6, 8.5])])
    assert (told.level, told.high, told.low) == ("", (), (2, 3))


def test_all_together_lower_is_a_level_and_no_cylinder():
    (told,) = judged_beside([of([4.0, 4.1, 4.0, 4.05])], [of([8.5, 8.4, 8.6, 8.5])])
    assert (told.level, told.high, told.low) == ("low", (), ())


def test_another_day_moves_all_of_them_a_little_and_says_nothing():
    (told,) = judged_beside([of([9.4, 9.3, 9.5, 9.4])], [of([8.5, 8.4, 8.6, 8.5])])
    assert (told.level, told.high, told.low) == ("", (), ())


def test_a_share_of_the_peers_is_held_up_too():
    (told,) = judged_beside([shares(1.0, 1.0, 0.4, 1.0)], [shares(1.0, 0.99, 1.01, 1.0)])
    assert (told.low, told.figure.unit) == ((3,), "%")


def test_another_test_a_helper_or_an_unusable_one_is_no_known_good():
    here = [of([8.5])]
    assert judged_beside(here, [of([8.5], test="injector_current")]) == ()
    assert judged_beside(here, [of([8.5], usable=False)]) == ()
    assert judged_beside([of([20.0], name="ramps")], [of([3.0], name="ramps")]) == ()
    assert judged_beside([of([float("nan")])], [of([8.5])]) == ()


@given(st.lists(st.floats(0.5, 500.0), min_size=1, max_size=8), st.floats(0.2, 5.0))
def test_what_is_its_own_known_good_never_lies_outside_whatever_the_unit(values, scale):
    middle = [float(np.median(values))] * 4
    (told,) = judged_beside([of([scale * v for v in middle])], [of([scale * v for v in values])])
    assert told.high == told.low == ()


def test_a_dead_coil_stands_out_beside_another_sound_vehicle_of_the_kind():
    def measured(faults, seed):
        vehicle = build(ENGINES["drover-2.0"], faults, rng=np.random.default_rng(seed))
        case = examine(vehicle, ["secondary_voltage"], seed=seed)
        return [m for capture in case.captures for m in measure_capture(capture, case)]

    told = judged_beside(measured((Fault("plug_gap_wide", (3,), 1.0),), 5), measured((), 9))
    firing = next(t for t in told if t.figure is FIGURES["firing_kv"])
    assert 3 in firing.high
    assert not firing.low
    assert not firing.level

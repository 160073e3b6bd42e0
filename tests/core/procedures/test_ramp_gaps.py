"""A coil that is left out now and then is evidence, not a median."""

from dataclasses import replace

import pytest

from fairwitness.core.model.engine import Ignition, even_engine
from fairwitness.core.procedures.coil_current.gaps import ramp_gaps

FOUR = even_engine((1, 3, 4, 2))


def figures(ramps=50.0, **missed):
    return {c: {"ramps": ramps, "missed": missed.get(f"c{c}", 0.0)} for c in (1, 2, 3, 4)}


def outcomes(seen, engine=FOUR):
    return {s.cylinders: s.outcome for s in ramp_gaps(seen, engine, source="capture:x")}


def test_half_the_ramps_missing_in_one_coil():
    assert outcomes(figures(c3=0.47)) == {(1,): "none", (2,): "none", (3,): "some", (4,): "none"}


def test_all_coils_left_out_alike_is_a_cut_of_the_control_unit_not_a_coil():
    assert set(outcomes(figures(c1=0.3, c2=0.3, c3=0.3, c4=0.32)).values()) == {"none"}


def test_two_cylinders_of_one_coil_are_told_once():
    waste = replace(FOUR, ignition=Ignition.WASTE_SPARK)
    assert outcomes(figures(c2=0.3, c3=0.3), waste) == {(1, 4): "none", (2, 3): "some"}


@pytest.mark.parametrize("seen", [{}, figures(ramps=5.0, c3=0.5), {3: {"ramps": 50.0, "missed": 0.5}}])
def test_too_little_says_nothing(seen):
    assert outcomes(seen) == {}

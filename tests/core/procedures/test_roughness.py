"""A table of unknown unit: who stands apart, which way is bad, and when it says nothing."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.roughness import APART_SIGMAS, HALF_APART, LEAST_SPREAD, NOBODY_APART, measure
from fairwitness.core.reason.source_precedence import raw_preferred
from fairwitness.simulate.examine import examine
from fairwitness.simulate.garage import ENGINES, build
from fairwitness.simulate.gauges import observe
from fairwitness.simulate.health import Fault

SIX = even_engine((1, 5, 3, 6, 2, 4))


def read(values, bad="unknown", engine=SIX, **more):
    table = {str(c): v for c, v in enumerate(values, start=1)} if isinstance(values, list) else values
    return measure(Observation(test="roughness", data={"values": table, "bad": bad, **more}), 0, engine)


def ill(measured):
    return sorted(f.cylinder for f in measured.findings if f.state is State.LOW)


@pytest.mark.parametrize(
    ("values", "bad", "named"),
    [
        ([2.0, 2.1, 9.0, 1.9, 2.0, 2.2], "high", [3]),
        ([2.0, 2.1, 9.0, 1.9, 2.0, 2.2], "low", []),
        ([2.0, 2.1, 9.0, 1.9, 2.0, 2.2], "unknown", [3]),
        ([100, 99, 62, 101, 100, 98], "low", [3]),
        ([-0.2, 0.1, 0.0, -7.0, 0.1, 0.2], "low", [4]),
        ([2.0, 2.1, 2.2, 1.9, 2.0, 2.2], "high", []),
    ],
)
def test_who_stands_apart_the_bad_way(values, bad, named):
    assert ill(read(values, bad)) == named


SIGNS = st.sampled_from([-1.0, 1.0])
LEAST_APART = APART_SIGMAS * LEAST_SPREAD
"""Share of the middle below which nobody stands apart, however even the others are."""


@given(
    st.lists(st.floats(1.0, 0.99 * (1.0 + LEAST_APART)), min_size=6, max_size=6),
    st.integers(1, 6),
    st.floats(0.001, 1e5),
    SIGNS,
)
def test_one_far_off_is_named_alone_where_the_others_lie_near_in_any_unit(values, bad_one, unit, sign):
    values[bad_one - 1] = 3.0
    assert ill(read([sign * unit * v for v in values], "high" if sign > 0 else "low")) == [bad_one]


@given(st.lists(st.floats(0.5, 2.0), min_size=6, max_size=6), st.integers(-10, 16), SIGNS)
def test_neither_unit_nor_sign_matters(values, power, sign):
    """Units that are powers of two change no digit, so that nothing at the very limit is rounded over it."""
    assert ill(read([sign * 2.0**power * v for v in values], "high" if sign > 0 else "low")) == ill(
        read(values, "high")
    )


def test_what_is_less_than_the_least_apart_is_none_though_all_others_are_equal():
    just_under, just_over = (1.0 + share * LEAST_APART for share in (0.99, 1.01))
    assert ill(read([1.0, 1.0, just_under, 1.0, 1.0, 1.0], "high")) == []
    assert ill(read([1.0, 1.0, just_over, 1.0, 1.0, 1.0], "high")) == [3]


def test_an_unknown_way_weighs_less():
    known, unknown = (read([2.0, 2.1, 9.0, 1.9, 2.0, 2.2], bad).lines[0].sigmas for bad in ("high", "unknown"))
    assert (unknown > known).all()


def test_nobody_apart_clears_nobody():
    measured = read([2.0, 2.1, 2.0, 1.9, 2.0, 2.1], "high")
    assert [r.statement for r in measured.reasons] == [NOBODY_APART]
    even = Observation(test="roughness", data={"values": dict.fromkeys("123456", 1)})
    reported = diagnose(Case(name="x", engine=SIX, observations=(even,)))
    assert reported.verdict.cylinders == ()


@pytest.mark.parametrize(
    ("values", "engine"),
    [(None, SIX), ({"1": 2}, SIX), (dict.fromkeys("123456", "x"), SIX), ([1.0, 2.0], even_engine((1, 2))),
     ({c: float("inf") for c in "123456"}, SIX)],
)  # fmt: skip
def test_what_is_no_table(values, engine):
    assert not read(values, engine=engine).usable


def test_half_apart_tells_nothing():
    measured = read([1.0, 1.0, 1.0, 60.0, -60.0, 40.0], "unknown")
    assert not measured.usable
    assert measured.reasons[0].statement == HALF_APART


def test_a_name_of_the_tool_is_said():
    measured = read([2.0, 2.1, 9.0, 1.9, 2.0, 2.2], "high", name="smooth running")
    said = next(f.statement for f in measured.findings if f.cylinder == 3)
    assert render(said) == "Cylinder 3 reads 9 in smooth running, the others about 2: higher."


def test_the_cranks_own_signal_is_heard_before_it_and_the_disagreement_is_said():
    vehicle = build(ENGINES["drover-2.0"], (Fault("coil_output_dead", (3,)),), rng=np.random.default_rng(3))
    case = examine(vehicle, ["crank_speed"], seed=3)
    wrong = Observation(test="roughness", data={"values": {"1": 1, "2": 9, "3": 1, "4": 1}, "bad": "high"})
    reported = diagnose(Case(name="x", engine=case.engine, captures=case.captures, observations=(wrong,)))
    table = next(m for m in raw_preferred(reported.measured) if m.test == "roughness")
    assert table.lines == ()
    assert any("sets cylinder 2 apart" in render(r.statement) for r in table.reasons)
    assert reported.verdict.cylinders == (3,)


def test_a_dead_cylinder_of_a_simulated_vehicle_stands_apart():
    vehicle = build(ENGINES["drover-2.0"], (Fault("coil_output_dead", (2,)),), rng=np.random.default_rng(3))
    (seen,) = observe(vehicle, "roughness", hot=True, rng=np.random.default_rng(4))
    assert ill(measure(seen, 0, vehicle.engine)) == [2]

"""Fuel by hand: pressure, trims, delivery and leaks at the runners."""

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import Layout, even_engine
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures import delivery, fuel_pressure, fuel_trim, runner_check

FOUR = even_engine((1, 3, 4, 2))
SIX = even_engine((1, 4, 2, 5, 3, 6), layout=Layout.VEE, banks=((1, 2, 3), (4, 5, 6)))


def read(module, engine=FOUR, **data):
    return module.measure(Observation(test=module.TEST, data=data), 0, engine)


@pytest.mark.parametrize(
    ("data", "seen"),
    [
        ({"kpa": 350, "low_kpa": 330, "high_kpa": 370}, {"fuel_pressure": "normal"}),
        ({"kpa": 300, "low_kpa": 330, "high_kpa": 370}, {"fuel_pressure": "low"}),
        ({"kpa": 390, "low_kpa": 330, "high_kpa": 370}, {"fuel_pressure": "high"}),
        (
            {"kpa": 350, "low_kpa": 330, "high_kpa": 370, "kpa_after": 200, "minutes": 10},
            {"fuel_pressure": "normal", "fuel_pressure:held": "drops"},
        ),
        (
            {"kpa": 350, "low_kpa": 330, "high_kpa": 370, "volume_ml": 300, "least_ml": 500},
            {"fuel_pressure": "normal", "fuel_pressure:volume": "low"},
        ),
    ],
)
def test_pressure_is_judged_by_the_makers_figures(data, seen):
    reported = read(fuel_pressure, **data)
    assert {s.kind: s.outcome for s in reported.categorical} == seen
    sound = set(seen.values()) <= {"normal", "holds"}
    assert (reported.findings[0].state is State.NORMAL) is sound


@pytest.mark.parametrize("data", [{}, {"kpa": 350}, {"kpa": "high", "low_kpa": 1, "high_kpa": 2},
                                  {"kpa": 350, "low_kpa": 400, "high_kpa": 300}])  # fmt: skip
def test_a_pressure_without_the_makers_figures_says_nothing(data):
    reported = read(fuel_pressure, **data)
    assert not reported.usable
    assert not reported.categorical


@pytest.mark.parametrize(
    ("short", "long", "outcome"), [(4.0, 5.0, "normal"), (8.0, 9.0, "lean"), (-6.0, -8.0, "rich"), (25.0, None, "lean")]
)
def test_trims_add_up_and_speak_of_their_bank(short, long, outcome):
    reported = read(fuel_trim, SIX, bank=2, short_percent=short, long_percent=long)
    assert reported.categorical[0].outcome == outcome
    assert reported.categorical[0].cylinders == (4, 5, 6)


def test_a_bank_the_engine_does_not_have_is_refused():
    assert not read(fuel_trim, SIX, bank=3, short_percent=1, long_percent=1).usable


def test_deliveries_are_compared_and_one_not_tried_weighs_nothing():
    reported = read(delivery, drops_kpa={"1": 24.0, "3": 24.6, "4": 18.0})
    states = {f.cylinder: f.state for f in reported.findings}
    assert states == {1: State.NORMAL, 3: State.NORMAL, 4: State.LOW}
    sigmas = dict(zip(FOUR.firing_order, reported.lines[0].sigmas, strict=True))
    assert sigmas[2] > 1 > sigmas[1]


@pytest.mark.parametrize(
    ("drops", "state"), [({"4": 0.4}, State.ABSENT), ({"4": 30.0}, State.HIGH), ({"4": 25.0}, State.NORMAL)]
)
def test_an_injector_that_gives_nothing_or_too_much_stands_out(drops, state):
    reported = read(delivery, drops_kpa={"1": 24.0, "2": 24.4, "3": 23.8} | drops)
    assert next(f for f in reported.findings if f.cylinder == 4).state is state


@pytest.mark.parametrize("drops", [None, {}, {"1": 20.0}, {"1": 0.1, "2": 0.2, "3": 0.1, "4": 0.1}])
def test_a_delivery_that_compares_nothing_is_refused(drops):
    assert not read(delivery, drops_kpa=drops).usable


def test_smoke_at_a_runner_turns_a_lean_cylinder_into_an_air_leak():
    lean = [Observation(test="misfire_counts", data={"counts": {"1": 0, "2": 90, "3": 1, "4": 0}, "revolutions": 400})]
    leak = Observation(test="runner_check", data={"cylinder": 2, "place": "runner", "by": "smoke", "seen": "leak"})

    def chance(observations):
        found = diagnose(Case(name="x", engine=FOUR, observations=tuple(observations))).posterior
        pairs = zip(found.hypotheses, found.probabilities, strict=True)
        return sum(float(p) for h, p in pairs if h.fault == "unmetered_air_at_runner" and 2 in h.cylinders)

    assert chance([*lean, leak]) > 5 * chance(lean)


@pytest.mark.parametrize("data", [{"cylinder": 9}, {"cylinder": 2}, {"cylinder": 2, "place": "roof", "by": "smoke",
                                                                     "seen": "leak"}])  # fmt: skip
def test_a_check_without_place_way_or_cylinder_says_nothing(data):
    assert not read(runner_check, **data).usable

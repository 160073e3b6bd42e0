"""Engines that do not start, found by the plan: the way is kept, the same seed goes it again, and it can miss."""

from dataclasses import replace

import pytest

from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.simulate.health import DOES_NOT_START
from fairwitness.study.no_start import report, targets_met, way_of


@pytest.fixture(scope="module")
def ways():
    return [way_of(seed) for seed in (500, 501, 502, 503)]


def test_the_same_seed_goes_the_same_way(ways):
    assert way_of(501) == ways[1]


def test_nothing_is_taken_twice_and_nothing_that_needs_a_running_engine(ways):
    for way in ways:
        assert way.fault in DOES_NOT_START
        assert len(set(way.tests)) == len(way.tests) > 0
        assert way.minutes > 0
        for test in way.tests:
            assert OFFERS[test].turning is not Turning.RUNNING or OFFERS[test].works_cranking


def test_the_first_step_needs_no_tool(ways):
    for way in ways:
        assert OFFERS[way.tests[0]].needs == ()


def test_the_report_tells_every_way_and_its_end(ways):
    text = report(ways)
    for way in ways:
        assert way.headline in text
        assert " > ".join(way.tests) in text


def test_a_wrong_call_or_too_many_misses_fail_the_targets(ways):
    right = [replace(w, named=(w.fault,), status="established") for w in ways]
    assert targets_met(right)
    assert not targets_met([*right, replace(right[0], named=("fuel_supply_none",))])
    assert not targets_met([replace(w, named=(), status="inconclusive") for w in ways])

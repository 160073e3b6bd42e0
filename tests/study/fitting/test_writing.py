"""A pool becomes a file that is read again; what is left out is never met."""

import pytest

from fairwitness.core.errors import SimulationError
from fairwitness.core.reason.inference.hypotheses import Placed
from fairwitness.core.reason.knowledge.densities import TOLD, read
from fairwitness.simulate.worlds.choices import HELD_OUT, world_of
from fairwitness.study.fitting import writing
from fairwitness.study.fitting.dependence import Choice
from fairwitness.study.fitting.pool import densities_without, gathered, write_left_out
from fairwitness.study.fitting.writing import fitted, shipped_by_hand
from tests.study.fitting.synthetic import vehicle

PLENUM = world_of({"intake": "plenum"})


@pytest.fixture
def pool():
    fault = Placed("injector_open_circuit", (2,))
    return [vehicle(fault), vehicle(fault), vehicle(fault, world=PLENUM)]


def test_what_is_written_is_read(pool):
    densities = read(fitted(pool, command="fairwitness fit"))
    assert ("injector_open_circuit", "CON") in densities.cells
    assert densities.provenance[0] == "Made by: fairwitness fit"


def test_how_far_faults_went_is_told_and_not_used(pool):
    text = fitted(pool)
    assert "CON beside |" in text.partition(f"[{TOLD}]")[2]
    assert not read(text).forms


def test_worlds_that_are_left_out_are_not_met(pool):
    text = fitted(pool, without=(("intake", "plenum"),))
    assert "2 vehicles" in text
    assert "Left out: intake plenum" in text


def test_lines_by_hand_outlive_another_fit(pool):
    by_hand = "cells injector_open_circuit CON | 0 1 | seen on a stand"
    text = fitted(pool, by_hand=by_hand)
    assert shipped_by_hand(text) == by_hand
    assert read(text).cells[("injector_open_circuit", "CON")] == (("0", 1.0),)


def test_each_combination_has_a_file(pool, tmp_path):
    write_left_out(pool, tmp_path, command="fairwitness fit --left-out")
    for name in HELD_OUT:
        assert densities_without(tmp_path, name).provenance
    assert densities_without(tmp_path, "air") is densities_without(tmp_path, "air")


def test_a_fit_that_nobody_made_is_asked_for(tmp_path):
    with pytest.raises(SimulationError):
        densities_without(tmp_path, "air")


def test_a_pool_goes_on_where_it_stopped(tmp_path):
    told = []
    path = tmp_path / "readings.jsonl"
    first = gathered(path, range(70_002, 70_003), workers=1, tell=told.append)
    again = gathered(path, range(70_002, 70_003), workers=1, tell=told.append)
    assert told == ["1 of 1 vehicles read"]
    assert [k.seed for k in first] == [k.seed for k in again] == [70_002]


def test_powers_are_chosen_by_vehicles_whose_readings_the_densities_never_met(pool, monkeypatch):
    met, scored = [], []

    def powers_of(densities, vehicles):
        scored.extend(vehicles)
        return Choice(0.7, 0.6, -1.0)

    readings_of = writing.readings_of
    monkeypatch.setattr(writing, "best_powers", powers_of)
    monkeypatch.setattr(writing, "readings_of", lambda kept: met.append(list(kept)) or readings_of(kept))
    assert read(fitted(pool)).temper == 0.7
    assert scored == [pool[1]]
    assert met == [pool, [pool[0], pool[2]]]

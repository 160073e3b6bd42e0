"""Vehicles whose fault is known, and what their readings are labelled as."""

import pytest

from fairwitness.core.reason.inference.hypotheses import Placed
from fairwitness.core.reason.inference.likelihood import BESIDE
from fairwitness.core.reason.knowledge.outcomes import SOUND
from fairwitness.core.reason.knowledge.signatures import COLUMNS
from fairwitness.study.fitting.labels import outcomes_seen, readings_of
from fairwitness.study.fitting.readings import as_json, from_json, known_vehicle
from tests.study.fitting.synthetic import vehicle


@pytest.fixture(scope="module")
def known():
    return known_vehicle(70_002)


def test_the_same_seed_reads_the_same(known):
    again = from_json(as_json(known))
    assert as_json(again) == as_json(known)
    assert (again.fault, again.world) == (known.fault, known.world)


def test_every_line_knows_its_cylinders(known):
    assert known.lines
    assert {line.line for line in known.lines} <= set(COLUMNS)
    assert all(len(line.alternatives) == 1 for line in known.lines)


def test_ill_ones_their_neighbours_and_their_companions_stand_apart():
    eight = vehicle(Placed("injector_open_circuit", (4,)), engine="salter-4.4")
    rows = {round(r.share): r.row for r in readings_of([eight])}
    place = eight.numbered[4]
    assert rows[place] == "injector_open_circuit"
    assert rows[(place - 1) % 8] == rows[(place + 1) % 8] == BESIDE
    assert (place + 4) % 8 not in rows  # a revolution later
    assert rows[(place + 2) % 8] == SOUND


def test_coils_do_not_hear_each_other():
    four = vehicle(Placed("coil_secondary_shorted", (3,)), engine="drover-2.0", column="CC")
    rows = [r.row for r in readings_of([four])]
    assert rows.count("coil_secondary_shorted") == 1
    assert BESIDE not in rows


def test_where_half_of_them_are_ill_shares_tell_nothing():
    assert not list(readings_of([vehicle(Placed("injector_feed_lost", (1, 2)), engine="drover-2.0")]))


def test_an_outcome_belongs_to_the_closest_row_of_its_table():
    ill = vehicle(Placed("ring_or_piston_leak", (2,)), outcomes=(("leak_down", "crankcase", (2,)),
                                                                 ("leak_down", "tight", (3,))))  # fmt: skip
    seen = [(row, outcome) for _, row, outcome in outcomes_seen([ill])]
    assert seen == [("ring_or_piston_leak", "crankcase"), (SOUND, "tight")]

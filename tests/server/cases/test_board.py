from dataclasses import replace

import pytest
from django.utils import timezone

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.server.captures.services import keep_capture, withdraw_capture
from fairwitness.server.cases.board import board, columns
from fairwitness.server.cases.services import add_observation
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))


def test_columns_share_the_axis_in_firing_order():
    drawn = columns(FOUR)
    assert [c["cylinder"] for c in drawn] == [1, 3, 4, 2]
    assert [c["start"] for c in drawn] == pytest.approx([0, 0.25, 0.5, 0.75])
    assert sum(c["width"] for c in drawn) == pytest.approx(1.0)


def test_odd_fire_columns_have_their_true_width():
    drawn = columns(even_engine((1, 2, 3), firing_intervals_deg=(180.0, 180.0, 360.0)))
    assert [c["width"] for c in drawn] == pytest.approx([270 / 720, 180 / 720, 270 / 720])
    assert sum(c["width"] for c in drawn) == pytest.approx(1.0)


def test_a_measured_row_carries_number_deviation_and_state(case, technician):
    keep_capture(case, cranking(FOUR, {3: 0.05}), by=technician, at=timezone.now())
    (row,) = board(case)["rows"]
    cells = {c["cylinder"]: c for c in row["cells"]}
    assert [c["cylinder"] for c in row["cells"]] == [1, 3, 4, 2]
    assert (cells[3]["state"], render(cells[3]["word"])) == ("absent", "absent")
    assert cells[3]["deviation"] < -0.8
    assert len(row["strip"]["middle"]) == len(row["strip"]["low"]) > 100
    assert "relative_compression" not in {w["test"] for w in board(case)["waiting"]}


def test_withdrawn_and_unusable_rows_stay_and_come_last(case, technician):
    now = timezone.now()
    bad = keep_capture(case, cranking(FOUR, {3: 0.05}, fuel_disabled=False), by=technician, at=now)
    withdraw_capture(bad, reason="fuel was on", by=technician, at=now)
    keep_capture(case, cranking(FOUR, {3: 0.05}), by=technician, at=now)
    rows = board(case)["rows"]
    assert [(r["usable"], r["withdrawn"]) for r in rows] == [(True, False), (False, True)]
    assert rows[1]["withdrawn_reason"] == "fuel was on"


def test_a_speed_table_is_a_row_of_its_own(case, technician):
    data = {"cylinder_rpm": {"1": 214, "2": 212, "3": 248, "4": 213}, "seconds": 10}
    add_observation(case, test="cranking_speed", data=data, by=technician, at=timezone.now())
    (row,) = board(case)["rows"]
    assert render(row["title"]) == "Cranking speed"
    assert [render(c["shown"]) for c in row["cells"]] == ["214", "248", "213", "212"]


def test_tests_not_taken_wait_with_the_next_one_first(case):
    waiting = board(case)["waiting"]
    assert waiting[0]["test"] == case.waits_for
    assert len(waiting) > 5


def test_a_row_that_does_not_fit_the_others_says_so(case, technician):
    now = timezone.now()
    for n in range(3):
        keep_capture(case, replace(cranking(FOUR, {3: 0.05}, seed=n), name=f"agree-{n}"), by=technician, at=now)
    keep_capture(case, replace(cranking(FOUR, {2: 0.05}, seed=9), name="odd"), by=technician, at=now)
    case.refresh_from_db()
    said = [render(row["doubted"]) for row in board(case)["rows"] if row["doubted"]]
    assert len(said) == 1
    assert "Take it again" in said[0]

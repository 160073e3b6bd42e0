"""A case as a film: in the order it happened, and never with what was not there yet."""

from datetime import timedelta

import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.phase import PartState, PhaseKind
from fairwitness.server.cases import life, replay
from fairwitness.server.cases.services import add_observations, withdraw_observation
from tests.server.cases.test_services import SPEEDS


@pytest.fixture
def lived(case, technician):
    """Two readings of one test, one of them withdrawn, then a change-over."""

    def later(minutes):
        return case.opened_at + timedelta(minutes=minutes)

    drops = [{"cylinder": c, "rpm_before": 800, "rpm_after": 800 if c == 3 else 690} for c in (1, 2, 3, 4)]
    balance = {"load": "idle", "idle_control": "fixed", "drops": drops}
    add_observations(case, test="power_balance", readings=[balance, balance], by=technician, at=later(1))
    (wrong,) = add_observations(case, test="cranking_speed", readings=[SPEEDS], by=technician, at=later(2))
    withdraw_observation(wrong, reason="another van", by=technician, at=later(3))
    swap = life.Work(kind=PhaseKind.CHANGED_OVER, part="coil", cylinders=(3, 1))
    life.begin_phase(case, swap, by=technician, at=later(4))
    case.refresh_from_db()
    return case


def test_the_film_tells_what_happened_in_its_order(lived):
    steps = replay.steps_of(lived)
    assert [s.kind for s in steps] == ["opened", "reading", "reading", "withdrawn", "work"]
    assert [render(s.said) for s in steps] == [
        "Case opened",
        "Power balance, 2 readings",
        "Cranking speed",
        "Withdrawn: Cranking speed",
        "Coils 3 and 1 changed over",
    ]


def test_a_picture_holds_what_was_there_by_then_and_nothing_else(lived):
    steps = replay.steps_of(lived)
    said = [replay.said_at(lived, s.at) for s in steps]
    assert said[0]["verdict"]["status"] == "inconclusive"
    assert said[1]["verdict"]["cylinders"] == [3]
    assert said[2]["causes"]["mechanical"] > 0.5 > said[3]["causes"]["mechanical"], "withdrawn, it speaks no more"
    assert said[1]["causes"] == said[3]["causes"]
    assert [len(s["changed_over"]) for s in said] == [0, 0, 0, 0, 1]


def test_the_last_picture_is_the_board(lived, as_user, technician):
    client = as_user(technician)
    film = client.get(f"/api/cases/{lived.pk}/replay/").json()
    last = client.get(f"/api/cases/{lived.pk}/replay/{len(film['steps']) - 1}/").json()
    board = client.get(f"/api/cases/{lived.pk}/").json()
    assert last["verdict"]["headline"] == board["verdict"]["headline"]
    assert last["causes"] == board["causes"]
    assert last["next_tests"][0]["title"] == board["next_tests"][0]["title"]
    assert client.get(f"/api/cases/{lived.pk}/replay/{len(film['steps'])}/").status_code == 404


def test_nothing_is_asked_for_once_the_repair_is_proven(lived, technician):
    repair = life.Work(kind=PhaseKind.AFTER_REPAIR, part="coil", cylinders=(3,), fitted=PartState.NEW)
    done = lived.opened_at + timedelta(minutes=5)
    life.begin_phase(lived, repair, by=technician, at=done)
    drops = [{"cylinder": c, "rpm_before": 800, "rpm_after": 690} for c in (1, 2, 3, 4)]
    even = {"load": "idle", "idle_control": "fixed", "drops": drops}
    add_observations(lived, test="power_balance", readings=[even], by=technician, at=done + timedelta(minutes=1))
    assert replay.said_at(lived, done)["next_tests"]
    proven = replay.said_at(lived, done + timedelta(minutes=1))
    assert proven["repairs"][-1]["status"] == "proven"
    assert proven["next_tests"] == []

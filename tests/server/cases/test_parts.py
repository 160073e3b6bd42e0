"""Parts measured beside their peers before fitting: like them, bad out of the box, broken, and what can be claimed."""

import pytest
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.phase import PartState
from fairwitness.server.cases import life, parts
from fairwitness.server.cases.answers import whole_board
from fairwitness.server.cases.models import StoredPart

NOW = timezone.now()


def given(**about):
    return parts.PartGiven(**{"part": "coil", "cylinder": 3, "fitted": PartState.NEW, **about})


@pytest.mark.parametrize(
    ("about", "condition", "claim"),
    [
        ({"value": 0.62, "peers": (0.6, 0.61, 0.63)}, "fits", False),
        ({"value": 0.0001, "peers": (0.6, 0.61, 0.63)}, "stands_off", True),
        ({}, "unmeasured", False),
        ({"broken": True}, "broken_fitting", True),
        ({"broken": True, "value": 0.62, "peers": (0.6, 0.61)}, "broken_fitting", True),
    ],
)
def test_what_becomes_of_a_part_is_worked_out_from_its_reading(case, technician, about, condition, claim):
    parts.record_part(case, given(**about), by=technician, at=NOW)
    (told,) = whole_board(case, technician)["visit"]["parts"]
    assert (told["condition"], told["claim"]) == (condition, claim)
    assert case.journal.last().verb == "part looked at"


def test_a_reading_is_shown_beside_its_peers(case, technician):
    parts.record_part(case, given(value=0.9, peers=(0.6, 0.61, 0.63), supplier="Depot stores"), by=technician, at=NOW)
    (told,) = whole_board(case, technician)["visit"]["parts"]
    assert render(told["reading"]) == "0.9 ohm beside 0.61 ohm of its peers"
    assert told["supplier"] == "Depot stores"


@pytest.mark.parametrize(
    "about",
    [{"value": 0.6, "peers": (0.6,)}, {"value": -1.0, "peers": (0.6, 0.6)}, {"part": "wheel"}, {"cylinder": 9}],
)
def test_what_cannot_be_is_refused_and_nothing_is_kept(case, technician, about):
    with pytest.raises(ObservationError):
        parts.record_part(case, given(**about), by=technician, at=NOW)
    assert not StoredPart.objects.exists()


def test_a_closed_case_takes_no_part(case, technician):
    life.close_case(case, by=technician, at=NOW)
    with pytest.raises(ObservationError, match="closed"):
        parts.record_part(case, given(), by=technician, at=NOW)


def test_a_part_comes_in_over_http(as_user, case, technician):
    body = {"part": "injector", "cylinder": 2, "fitted": "used", "value": 30.0, "peers": [14.1, 14.3, 14.2]}
    answer = as_user(technician).post(f"/api/cases/{case.pk}/parts/", body, content_type="application/json")
    assert answer.status_code == 201
    (told,) = answer.json()["visit"]["parts"]
    assert told["condition_words"] == "bad out of the box: not like its peers"

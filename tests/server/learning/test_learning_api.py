"""What was learned over HTTP: lines, export, codes."""

import csv
import io

import pytest

from tests.server.learning.test_learning import teach

JSON = "application/json"


@pytest.fixture
def taught(technician):
    teach(technician)


def test_lines_are_read_exported_and_switched(as_user, lead, taught):
    told = as_user(lead).get("/api/learned/").json()
    assert (told["outcomes"], told["may"]) == (3, True)
    first = next(row for row in told["lines"] if row["key"] == "prior:coil_output_dead")
    assert first["words"] == "coil without output"
    assert "outcomes: 3" in first["from_what"]
    table = list(csv.DictReader(io.StringIO(as_user(lead).get("/api/learned/export.csv").content.decode())))
    assert len(table) == len(told["lines"])
    switched = as_user(lead).post("/api/learned/switch/", {"key": first["key"], "on": False}, JSON).json()
    assert [row["on"] for row in switched["lines"] if row["key"] == first["key"]] == [False]
    assert as_user(lead).post("/api/learned/reset/", {"again": False}, JSON).json()["outcomes"] == 0
    assert as_user(lead).post("/api/learned/reset/", {"again": True}, JSON).json()["outcomes"] == 3


def test_own_figures_are_the_leads(as_user, lead, technician, taught):
    figures = as_user(lead).get("/api/own-figures/").json()
    assert figures["overall"]["count"] == 3
    assert figures["people"] is None
    assert as_user(technician).get("/api/own-figures/").status_code == 403


def test_a_code_is_looked_up_added_and_dropped(as_user, technician):
    told = as_user(technician).get("/api/codes/?code=p0204").json()["asked"]
    assert (told["cylinder"], told["kind"], told["published"]) == (4, "circuit", True)
    assert "open injector" in told["likelier"]
    new = {"code": "P1699", "words": "cut off by the maker's anti-theft", "fault": "cut_by_ecu", "factor": 3}
    own = as_user(technician).post("/api/codes/", new, JSON).json()["own"]
    assert [(row["code"], row["fault_words"]) for row in own] == [("P1699", "cylinder cut by the control unit")]
    assert as_user(technician).delete(f"/api/codes/{own[0]['id']}/").json()["own"] == []

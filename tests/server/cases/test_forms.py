"""Forms over the wire: every one of every test, filled in and read by the test it belongs to."""

import pytest
from django.utils import timezone

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import spoken
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.procedures.registry import OBSERVATION_TESTS
from fairwitness.core.procedures.specs import FORMS
from fairwitness.server.cases.forms import filled_of, forms_of
from fairwitness.server.cases.services import fill_form

FOUR = even_engine((1, 3, 4, 2), injector_path=("fuse 12", "unit pin"))
NUMBERS = {"rpm": 210, "before": 760, "after": 700, "percent": 12, "dry": 1200, "wet": 1250, "port": 110, "air": 14,
           "seconds": 60, "kpa": 350, "low_kpa": 330, "high_kpa": 370, "reading": 60, "to": 1, "drop": 24, "count": 30,
           "revolutions": 400}  # fmt: skip


def filled(form):
    values = {
        row["key"]: {
            "3" if form["least"] < 3 and c == "1" else c: row["options"][0]["value"]
            if row["options"]
            else NUMBERS.get(row["key"], 1)
            for c in ("1", "2", "3", "4")
        }
        for row in form["rows"]
        if not row["tick"]
    }
    entries = {e["key"]: "words" if e["text"] else NUMBERS.get(e["key"], 1) for e in form["entries"]}
    looks = {c["key"]: c["options"][1]["value"] for c in form["choices"] if c["options"][0]["value"] == ""}
    if form["between"]:
        looks |= {"place": form["places"][0], "place_to": form["places"][-1]}
    return {"values": values, "entries": entries, "choices": looks}


@pytest.mark.parametrize("form", spoken(forms_of(FOUR)), ids=lambda f: f["test"])
def test_every_form_filled_in_makes_readings_its_test_understands(form):
    readings = FORMS[form["test"]].read(filled_of(filled(form)), FOUR.firing_order)
    assert readings
    if form["test"] in OBSERVATION_TESTS:
        test = OBSERVATION_TESTS[form["test"]]
        measured = [test.measure(Observation(test=form["test"], data=d), i, FOUR) for i, d in enumerate(readings)]
        assert any(m.usable for m in measured)


@pytest.mark.parametrize("form", spoken(forms_of(FOUR)), ids=lambda f: f["test"])
def test_an_empty_form_is_refused_with_what_is_missing(form):
    empty = {"values": {}, "entries": {}, "choices": {}}
    asks = form["least"] > 0 or any(not e["optional"] for e in form["entries"])
    if asks:
        with pytest.raises(ObservationError) as refusal:
            FORMS[form["test"]].read(filled_of(empty), FOUR.firing_order)
        assert refusal.value.where


@pytest.mark.parametrize(
    "data",
    [
        {"values": {"percent": {"three": 40}}, "entries": {}, "choices": {}},
        {"values": {"percent": {"3": [40]}}, "entries": {}, "choices": {}},
        {"values": {}, "entries": {"who": {"x": 1}}, "choices": {}},
    ],
)
def test_what_is_no_reading_is_refused_at_the_door(data):
    with pytest.raises(ObservationError):
        filled_of(data)


@pytest.mark.parametrize("choices", [{"unit": "furlong"}, {"unit": ""}])
def test_a_choice_that_is_not_offered_is_refused(choices, case, technician):
    given = filled_of({"values": {"dry": {"1": 1200}}, "entries": {}, "choices": choices})
    with pytest.raises(ObservationError, match="not offered"):
        fill_form(case, test="compression_gauge", filled=given, by=technician, at=timezone.now())


def test_a_filled_form_comes_over_the_wire_and_onto_the_board(case, technician, as_user):
    body = {"values": {"dry": {str(c): 1200 if c != 3 else 500 for c in (1, 2, 3, 4)}}, "choices": {"unit": "kPa"}}
    client = as_user(technician)
    answer = client.post(f"/api/cases/{case.pk}/forms/compression_gauge/", body, content_type="application/json")
    assert answer.status_code == 201
    (row,) = answer.json()["rows"]
    assert {c["cylinder"]: c["state"] for c in row["cells"]}[3] == "low"
    offered = client.get(f"/api/cases/{case.pk}/forms/").json()
    assert {f["test"] for f in offered} == set(FORMS)


def test_units_and_decimal_mark_are_those_of_whoever_reads(case, technician, as_user):
    body = {"values": {"dry": {str(c): 12.1 if c != 3 else 5 for c in (1, 2, 3, 4)}}, "choices": {"unit": "bar"}}
    client = as_user(technician)
    client.post(f"/api/cases/{case.pk}/forms/compression_gauge/", body, content_type="application/json")

    def read(language="en"):
        board = client.get(f"/api/cases/{case.pk}/", headers={"accept-language": language}).json()
        return " ".join(f["statement"] for f in board["findings"])

    assert "5.0 bar" in read()
    assert "5,0 bar" in read("de-DE,de;q=0.9")
    chosen = client.post("/api/session/units/", {"pressure": "psi"}, content_type="application/json")
    assert chosen.json()["units"]["pressure"] == "psi"
    assert "73 psi" in read()
    wrong = client.post("/api/session/units/", {"pressure": "atm"}, content_type="application/json")
    assert wrong.status_code == 400


def test_words_for_values_are_all_there(technician, as_user):
    told = as_user(technician).get("/api/words/").json()
    assert told["roles"]["coil_current"] == "Coil current"
    assert {s["key"] for s in told["settings"]} == {"order", "scan_data", "by_hand", "proof", "repair"}
    assert told["units"][0]["options"] == {"bar": "bar", "kPa": "kPa", "psi": "psi"}

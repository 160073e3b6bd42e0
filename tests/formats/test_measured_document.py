"""A measurement as JSON: it comes back whole, earlier formats are lifted, what is damaged or too new says so."""

import json

import numpy as np
import pytest

from fairwitness.core.errors import PackageError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Observation
from fairwitness.core.procedures import resistance
from fairwitness.core.procedures.relative_compression.measure import measure
from fairwitness.formats.measured_document import FORMAT, lifted, measured_document, read_measured
from tests.conftest import cranking


def through_json(document):
    return json.loads(json.dumps(document))


@pytest.fixture
def document(four):
    return through_json(measured_document(measure(cranking(four, {3: 0.1}), four)))


@pytest.mark.parametrize("rig", [{}, {"fuel_disabled": False}, {"sync_cylinder": None}])
def test_a_measurement_survives_json(four, rig):
    measured = measure(cranking(four, {3: 0.1}, **rig), four)
    again = read_measured(through_json(measured_document(measured)))
    assert again.findings == measured.findings
    assert again.reasons == measured.reasons
    assert (again.usable, again.facts, again.cycle_starts_s) == (
        measured.usable,
        measured.facts,
        measured.cycle_starts_s,
    )
    assert again.figures == measured.figures
    if measured.evidence is None:
        assert again.evidence is None
    else:
        np.testing.assert_array_equal(again.evidence.alternatives, measured.evidence.alternatives)
        np.testing.assert_array_equal(again.evidence.sigmas, measured.evidence.sigmas)


def test_a_reading_by_hand_survives_too(four):
    seen = Observation(test="resistance", data={"item": "coil_primary", "cylinder": 2, "open": True})
    measured = resistance.measure(seen, 0, four)
    assert read_measured(through_json(measured_document(measured))) == measured


def test_the_averaged_cycle_is_kept_to_three_digits(four, document):
    cycle = measure(cranking(four, {3: 0.1}), four).averaged_cycle
    again = read_measured(document).averaged_cycle
    assert again.unit == cycle.unit
    np.testing.assert_allclose(again.middle, cycle.middle, atol=5e-4)


def test_the_present_format_is_left_as_it_is(document):
    assert document["format"] == FORMAT
    assert lifted(document) is document


def earlier(document):
    """As format 0 wrote it: English sentences where messages are now."""
    said = {"source", "assignment"}
    return {
        **{key: value for key, value in document.items() if key != "format"},
        "reasons": [{**r, "statement": "Too few samples."} for r in document["reasons"]],
        "findings": [
            {**f, "statement": f"Cylinder {f['cylinder']} as told then.", "word": "low"} for f in document["findings"]
        ],
        "facts": {k: "starter current" if k in said else v for k, v in document["facts"].items()},
    }


def test_an_earlier_one_keeps_its_sentences_word_by_word_and_its_numbers(document):
    old = earlier(document)
    again = read_measured(old)
    assert [render(f.statement) for f in again.findings] == [f["statement"] for f in old["findings"]]
    assert {render(f.word) for f in again.findings} == {"low"}
    assert render(again.facts["source"]) == "starter current"
    assert [f.value for f in again.findings] == [f["value"] for f in document["findings"]]
    assert lifted(old)["format"] == FORMAT


def test_a_group_of_an_earlier_resistance_becomes_item_and_temperature(document):
    old = {**earlier(document), "test": "resistance"}
    old["facts"] = {"group": "coil_primary, hot"}
    facts = lifted(old)["facts"]
    assert (facts["item"], facts["temperature"]) == ("coil_primary", "hot")


def test_what_a_later_version_wrote_is_not_guessed_at(document):
    with pytest.raises(PackageError, match="later version"):
        read_measured({**document, "format": FORMAT + 1})


@pytest.mark.parametrize("missing", ["findings", "facts", "lines", "test", "strip", "figures"])
@pytest.mark.parametrize("number", [0, FORMAT])
def test_what_is_damaged_says_so_and_how_to_go_on(document, missing, number):
    whole = document if number == FORMAT else earlier(document)
    with pytest.raises(PackageError, match="damaged") as told:
        read_measured({key: value for key, value in whole.items() if key != missing})
    assert "remeasure" in told.value.remedy


def test_a_state_that_does_not_exist_is_damage(document):
    document["findings"][0]["state"] = "splendid"
    with pytest.raises(PackageError, match="splendid"):
        read_measured(document)

import json

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.case import Case
from fairwitness.formats.diagnosis_document import diagnosis_document
from tests.conftest import cranking


@pytest.fixture
def document(four):
    case = Case(name="x", engine=four, captures=(cranking(four, {3: 0.05}),))
    return json.loads(json.dumps(diagnosis_document(diagnose(case))))


def test_it_holds_the_parts_of_the_format(document):
    assert document["fair_witness_diagnosis"] == 1
    assert {"captures", "findings", "cylinders", "hypotheses", "verdict", "next_tests"} <= set(document)
    assert document["findings"][1] | {"value": 0, "spread": 0, "statement": ""} == {
        "id": "f2", "test": "relative_compression", "resource": "cranking", "observation": None, "cylinder": 3,
        "quantity": "relative_compression", "value": 0, "unit": "1", "spread": 0,
        "events": document["findings"][1]["events"], "state": "absent", "statement": "",
    }  # fmt: skip


def test_hypotheses_sum_to_one_and_are_ranked(document):
    chances = [h["probability"] for h in document["hypotheses"]]
    assert sum(chances) == pytest.approx(1.0, abs=1e-6)
    assert chances[:-1] == sorted(chances[:-1], reverse=True)
    assert any(f["fault"] == "no_fault" for h in document["hypotheses"] for f in h["faults"]) or chances[-1] > 0


def test_every_sentence_points_to_findings_that_exist(document):
    known = {f["id"] for f in document["findings"]}
    named = {i for s in document["verdict"]["seen"] + document["verdict"]["follows"] for i in s["findings"]}
    assert named
    assert named <= known


def test_the_ways_one_fault_shows_itself_are_one_hypothesis(document):
    claims = [json.dumps(h["faults"]) for h in document["hypotheses"]]
    assert len(set(claims)) == len(claims)


def test_plan_and_conditions_are_told(document):
    assert document["plan"]["stop"]
    assert all({"words", "met"} == set(c) for c in document["verdict"]["conditions"])
    first = document["next_tests"][0]
    assert first["meanings"]
    assert all(0 <= m["chance"] <= 1 and m["then"] for m in first["meanings"])
    assert document["verdict"]["owner"]

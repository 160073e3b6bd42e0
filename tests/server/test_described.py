"""The schema tells how every operation refuses; the file that ships is the one the program makes."""

from pathlib import Path

import pytest
import yaml

from fairwitness.server.described import PROBLEM, REFUSALS, VERBS
from fairwitness.server.problems import problem

SCHEMA = yaml.safe_load((Path(__file__).resolve().parents[2] / "docs" / "openapi.yaml").read_text())
OPERATIONS = [(path, verb, said[verb]) for path, said in SCHEMA["paths"].items() for verb in VERBS if verb in said]


@pytest.mark.parametrize(("path", "verb", "operation"), OPERATIONS, ids=[f"{v} {p}" for p, v, _ in OPERATIONS])
def test_every_operation_tells_how_it_refuses(path, verb, operation):
    assert set(REFUSALS) <= set(operation["responses"])
    own = set(operation["responses"]) - set(REFUSALS)
    assert own
    assert own <= {"200", "201", "202", "204"}


def test_a_problem_has_the_shape_that_is_told():
    said = problem("code", "What.", where="there", remedy="Mend.")
    assert set(said) == set(PROBLEM["properties"]) == set(PROBLEM["required"])
    assert SCHEMA["components"]["schemas"]["Problem"] == PROBLEM


def test_what_is_referred_to_is_there():
    for status in REFUSALS:
        assert f"Refused{status}" in SCHEMA["components"]["responses"]

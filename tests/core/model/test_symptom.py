"""What a complaint says of the engine at its coarsest."""

import pytest

from fairwitness.core.model.symptom import Symptom, symptom_of


@pytest.mark.parametrize(
    ("complaint", "symptom"),
    [
        ("Cranks and does not start.", Symptom.NO_START),
        ("won't start since Monday", Symptom.NO_START),
        ("No-start after rain", Symptom.NO_START),
        ("did not start this morning", Symptom.NO_START),
        ("Starter clicks, does not crank", Symptom.NO_CRANK),
        ("no crank at all", Symptom.NO_CRANK),
        ("Rough at idle after a cold start", Symptom.RUNS_BADLY),
        ("Shakes when started hot", Symptom.RUNS_BADLY),
        ("", Symptom.RUNS_BADLY),
    ],
)
def test_it_is_read_where_nobody_said_it(complaint, symptom):
    assert symptom_of(complaint) is symptom


def test_an_engine_that_does_not_start_does_not_run():
    assert [s for s in Symptom if s.runs] == [Symptom.RUNS, Symptom.RUNS_BADLY]

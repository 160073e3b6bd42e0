"""A study that was broken off goes on where it stopped."""

import pytest

from fairwitness.core.errors import SimulationError
from fairwitness.study.ledger import Ledger
from fairwitness.study.policies import as_json, from_json
from tests.study.test_trust import run, vehicle


def ledger(path):
    return Ledger(path, as_json, from_json)


def test_what_was_kept_is_known_again(tmp_path):
    path = tmp_path / "runs" / "one.jsonl"
    ledger(path).keep(vehicle(7, run()))
    assert ledger(path).known == {7: vehicle(7, run())}


def test_a_line_cut_off_in_the_middle_is_done_again(tmp_path):
    path = tmp_path / "one.jsonl"
    ledger(path).keep(vehicle(7, run()))
    ledger(path).keep(vehicle(8, run()))
    path.write_text(path.read_text()[:-40])
    assert set(ledger(path).known) == {7}


@pytest.mark.parametrize("text", ["", "{}", "not json\n", '{"fair_witness_study": "0.0.0"}\n'])
def test_another_file_is_not_written_into(tmp_path, text):
    path = tmp_path / "one.jsonl"
    path.write_text(text)
    with pytest.raises(SimulationError):
        ledger(path)
    assert path.read_text() == text

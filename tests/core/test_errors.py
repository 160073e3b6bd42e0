from fairwitness.core.errors import TableError


def test_a_refusal_reads_as_one_sentence_with_place_and_way_on():
    error = TableError("Line 3 is not text.", where="crank.csv", remedy="Export it again.")
    assert error.sentence == "crank.csv: Line 3 is not text. Export it again."
    assert str(error) == error.sentence
    assert error.code == "table_unreadable"


def test_place_and_way_on_may_be_missing():
    assert TableError("The file is empty.").sentence == "The file is empty."

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.errors import TableError
from fairwitness.formats.tables import Layout, read_columns

AB = Layout(columns=("a", "b"))


def read(text, layout=AB, **options):
    return read_columns(text.encode() if isinstance(text, str) else text, layout, where="t.csv", **options)


def test_empty_cells_are_missing_not_zero():
    columns = read("a,b\n1,\n,2\n")
    assert columns["a"][0] == 1
    assert np.isnan(columns["a"][1])
    assert np.isnan(columns["b"][0])


def test_decimal_commas_are_read():
    layout = Layout(columns=("a", "b"), delimiter=";", decimal=",")
    assert read("a;b\n1,5;-2,25\n", layout)["b"].tolist() == [-2.25]


def test_time_keeps_double_precision():
    assert read("a,b\n1234567.000001,1\n", exact=["a"])["a"][0] == 1234567.000001


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("a,b\n1,2\n3,x\n", r"Line 3, column b: 'x' is not a number"),
        ("a,b\n1,2\n3,4,5\n", "Line 3 has 3 cells, 2 were expected"),
        ("a,b\n1,2\n3\n", "Line 3 has 1 cells"),
        ("a,b\n", "header but no rows"),
        (b"a,b\n1,2\n\xff\xfe,4\n", "Line 3 is not text"),
        (b"a,b\n1,\x002\n", "not a text table"),
        ("a,b\n1,2\n=cmd(),4\n", "is not a number"),
    ],
)
def test_faults_are_named_with_their_place(text, says):
    with pytest.raises(TableError, match=says):
        read(text)


def test_a_table_over_the_limit_is_refused(monkeypatch):
    monkeypatch.setattr("fairwitness.formats.tables.TABLE_BYTES_MAX", 10)
    with pytest.raises(TableError, match="limit"):
        read("a,b\n1,2\n3,4\n")


def test_a_table_of_very_many_short_cells_is_refused(monkeypatch):
    monkeypatch.setattr("fairwitness.formats.tables.CELLS_MAX", 5)
    with pytest.raises(TableError, match="million values"):
        read("a,b\n1,2\n3,4\n5,6\n")


@settings(max_examples=150, deadline=None)
@given(st.binary(max_size=300))
def test_any_bytes_are_read_or_refused(data):
    try:
        columns = read(b"a,b\n" + data)
    except TableError as error:
        assert error.sentence
    else:
        assert set(columns) == {"a", "b"}
        assert columns["a"].size == columns["b"].size


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.tuples(st.floats(width=32, allow_nan=False, allow_infinity=False), st.floats(-1e6, 1e6)), min_size=1)
)
def test_numbers_survive(rows):
    text = "a,b\n" + "".join(f"{a!r},{b!r}\n" for a, b in rows)
    columns = read(text, exact=["b"])
    np.testing.assert_array_equal(columns["a"], np.array([a for a, _ in rows], np.float32))
    np.testing.assert_array_equal(columns["b"], np.array([b for _, b in rows]))

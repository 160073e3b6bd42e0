"""JSON from outside: what can be parsed here can also be stored, sent and read again."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import JsonError
from fairwitness.formats.json_text import INTEGER_MAX, NESTING_MAX, parse_json

WRITABLE = st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\x00"))
VALUES = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-INTEGER_MAX, INTEGER_MAX)
    | st.floats(allow_nan=False, allow_infinity=False)
    | WRITABLE,
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(WRITABLE, inner, max_size=4),
    max_leaves=20,
)


@given(VALUES)
def test_whatever_can_be_kept_is_read_as_it_was_written(value):
    assert parse_json(json.dumps(value)) == value
    assert parse_json(json.dumps(value, ensure_ascii=False).encode()) == value


@pytest.mark.parametrize(
    ("raw", "what"),
    [
        (b"\xff{}", "It is not UTF-8 text."),
        (b'{"a": \n }', "It is not JSON at line 2."),
        ("[" * 100_000, "It is nested too deeply."),
        ('{"a":' * (NESTING_MAX + 1) + "1" + "}" * (NESTING_MAX + 1), "It is nested too deeply."),
        ('{"a": NaN}', "NaN is not a number."),
        ("[-Infinity]", "-Infinity is not a number."),
        ("1e999", "A number is too large."),
        ("[9223372036854775808]", "A number is too large."),
        ('"\\ud800"', "There is a character that cannot be kept as text."),
        ('{"\\udc00": 1}', "There is a character that cannot be kept as text."),
        ('["a\\u0000b"]', "There is a character that cannot be kept as text."),
    ],
)
def test_what_could_not_be_kept_is_refused_in_words(raw, what):
    with pytest.raises(JsonError) as refused:
        parse_json(raw)
    assert refused.value.what == what


def test_a_refusal_says_where():
    with pytest.raises(JsonError, match=r"^plan\.columns\.name: "):
        parse_json('{"columns": [{"name": "\\ud83d"}]}', where="plan")


def test_a_pair_of_surrogates_is_one_character():
    assert parse_json('"\\ud83d\\udd27"') == "\U0001f527"


def test_a_number_of_many_digits_is_refused_before_it_is_computed():
    with pytest.raises(JsonError):
        parse_json("9" * 100_000)

"""What codes mean: published families, the maker's own, and what is no code."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.messages.rendering import render
from fairwitness.core.reason.knowledge.codes import FAMILIES, CodeKind, meaning_of
from fairwitness.core.reason.knowledge.faults import FAULTS


@pytest.mark.parametrize(
    ("code", "kind", "cylinder", "published"),
    [
        ("p0303", CodeKind.MISFIRE, 3, True),
        ("P0310", CodeKind.MISFIRE, 10, True),
        ("P030A", CodeKind.OTHER, 0, True),
        ("P0300-00", CodeKind.MISFIRE, 0, True),
        ("P0204", CodeKind.CIRCUIT, 4, True),
        ("P0362", CodeKind.CIRCUIT, 12, True),
        ("P0264", CodeKind.BALANCE, 2, True),
        ("P0296", CodeKind.BALANCE, 12, True),
        ("P0016", CodeKind.TIMING, 0, True),
        ("P3401", CodeKind.CUT_OFF, 1, True),
        ("P3496", CodeKind.CUT_OFF, 12, True),
        ("P1336", CodeKind.MAKER, 0, False),
        ("P3190", CodeKind.MAKER, 0, False),
        ("U0100", CodeKind.OTHER, 0, True),
        ("C1234", CodeKind.MAKER, 0, False),
    ],
)
def test_families(code, kind, cylinder, published):
    meaning = meaning_of(code)
    assert (meaning.kind, meaning.cylinder, meaning.published) == (kind, cylinder, published)


@pytest.mark.parametrize("text", ["", "0303", "P03", "X0303", "P4303", "P0303 misfire", "PO303"])
def test_what_is_no_code(text):
    assert meaning_of(text) is None


@given(st.text(max_size=9))
def test_any_text_is_a_code_with_words_or_none(text):
    meaning = meaning_of(text)
    assert meaning is None or render(meaning.words)


def test_every_family_nudges_faults_that_exist_and_no_two_overlap():
    for family in FAMILIES:
        assert set(family.nudges) - {""} <= set(FAULTS)
    taken = sorted((f.first, f.last) for f in FAMILIES if not f.step)
    assert all(last < first for (_, last), (first, _) in pairwise(taken))


def test_words_name_the_cylinder():
    assert render(meaning_of("P0307").words) == "misfire detected, cylinder 7"

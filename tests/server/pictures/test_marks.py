"""Marks on pictures: within the picture, of cylinders the engine has, and back as they were drawn."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import ObservationError
from fairwitness.server.pictures.marks import MARKS_MAX, Mark, MarkKind, mark_block, read_marks

ARROW = {"kind": "arrow", "x": 0.1, "y": 0.2, "to_x": 0.5, "to_y": 0.6}
share = st.floats(0, 1).map(lambda v: round(v, 5))
marks = st.one_of(
    st.builds(
        Mark,
        kind=st.just(MarkKind.WORDS),
        x=share,
        y=share,
        words=st.text("abc ", min_size=1).map(str.strip).filter(bool),
    ),
    st.builds(Mark, kind=st.just(MarkKind.CYLINDER), x=share, y=share, cylinder=st.sampled_from([1, 2, 3, 4])),
    st.builds(
        Mark,
        kind=st.sampled_from([MarkKind.ARROW, MarkKind.RING]),
        x=st.just(0.0),
        y=share,
        to_x=st.just(0.5),
        to_y=share,
    ),
)


@given(st.lists(marks, max_size=8))
def test_marks_come_back_as_they_were_drawn(drawn):
    short = [m for m in drawn if len(m.words) <= 80]
    assert read_marks([mark_block(m) for m in short], (1, 3, 4, 2)) == tuple(short)


@pytest.mark.parametrize(
    "mark",
    [
        {**ARROW, "x": 1.2},
        {**ARROW, "y": float("nan")},
        {**ARROW, "to_x": None},
        {**ARROW, "to_x": 0.1, "to_y": 0.2},
        {**ARROW, "kind": "script"},
        {"kind": "words", "x": 0.1, "y": 0.1, "words": " "},
        {"kind": "cylinder", "x": 0.1, "y": 0.1, "cylinder": 9},
        {"kind": "cylinder", "x": 0.1, "y": 0.1, "cylinder": True},
        "arrow",
    ],
)
def test_a_mark_that_cannot_be_is_refused(mark):
    with pytest.raises(ObservationError):
        read_marks([mark], (1, 3, 4, 2))


@pytest.mark.parametrize("items", [None, {}, [ARROW] * (MARKS_MAX + 1)])
def test_no_list_or_too_many_are_refused(items):
    with pytest.raises(ObservationError):
        read_marks(items, (1,))

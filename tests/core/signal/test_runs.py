"""Groups of neighbours: told by head, and against a plain loop."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.signal.runs import runs


@pytest.mark.parametrize(
    ("ranked", "gap", "groups"),
    [
        ([], 1, []),
        ([7], 1, [(7, 7)]),
        ([1, 2, 3, 9, 10, 30], 1, [(1, 3), (9, 10), (30, 30)]),
        ([1, 2, 3, 9, 10, 30], 6, [(1, 10), (30, 30)]),
        ([1.0, 1.5, 4.0], 1.0, [(1.0, 1.5), (4.0, 4.0)]),
    ],
)
def test_groups_break_where_neighbours_are_further_apart_than_the_gap(ranked, gap, groups):
    firsts, lasts = runs(np.array(ranked), gap=gap)
    assert list(zip(firsts.tolist(), lasts.tolist(), strict=True)) == groups


def grouped(ranked, gap):
    groups = []
    for value in ranked:
        if groups and value - groups[-1][1] <= gap:
            groups[-1][1] = value
        else:
            groups.append([value, value])
    return [tuple(g) for g in groups]


@given(st.lists(st.integers(0, 200), unique=True).map(sorted), st.integers(1, 20))
def test_a_loop_finds_the_same(ranked, gap):
    firsts, lasts = runs(np.array(ranked, dtype=np.intp), gap=gap)
    assert list(zip(firsts.tolist(), lasts.tolist(), strict=True)) == grouped(ranked, gap)

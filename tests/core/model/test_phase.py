"""States of a vehicle: which one a piece of evidence stands for, whose part is where, and packages."""

from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.phase import (
    PARTS,
    PartState,
    Phase,
    PhaseKind,
    misplaced,
    phase_block,
    read_phases,
    state_of,
)
from fairwitness.core.model.phase_words import FITTED_WORDS, PART_WORDS, phase_words

SWAP = Phase(number=1, kind=PhaseKind.CHANGED_OVER, part="coil", cylinders=(2, 4))
BACK = Phase(number=2, kind=PhaseKind.PUT_BACK)
REPAIR = Phase(number=3, kind=PhaseKind.AFTER_REPAIR, part="coil", cylinders=(2,), fitted=PartState.NEW)


def test_put_back_is_as_it_was_before_the_change_over():
    phases = [SWAP, BACK, REPAIR]
    assert [state_of(n, phases) for n in (0, 1, 2, 3, 99)] == [0, 1, 0, 3, 0]
    later = Phase(number=4, kind=PhaseKind.CHANGED_OVER, part="plug", cylinders=(1, 3))
    after = Phase(number=5, kind=PhaseKind.PUT_BACK)
    assert state_of(5, [*phases, later, after]) == 3


def test_whose_part_is_where_is_followed_through_two_change_overs():
    again = Phase(number=2, kind=PhaseKind.CHANGED_OVER, part="coil", cylinders=(4, 1))
    assert misplaced([SWAP]) == {"coil": {2: 4, 4: 2}}
    assert misplaced([SWAP, again]) == {"coil": {1: 2, 2: 4, 4: 1}}
    assert misplaced([SWAP, BACK]) == {}


def test_a_part_that_was_renewed_belongs_where_it_was_fitted():
    assert misplaced([SWAP, REPAIR]) == {"coil": {4: 2}}


phases = st.builds(
    Phase,
    number=st.integers(1, 50),
    kind=st.sampled_from(PhaseKind),
    part=st.sampled_from(PARTS),
    cylinders=st.lists(st.integers(1, 12), max_size=3).map(tuple),
    fitted=st.none() | st.sampled_from(PartState),
    words=st.text(max_size=40),
)


@given(st.lists(phases, max_size=6, unique_by=lambda p: p.number))
def test_phases_come_back_from_a_package_as_they_went(made):
    assert read_phases([phase_block(p) for p in made]) == tuple(sorted(made, key=lambda p: p.number))


@given(st.recursive(st.none() | st.integers() | st.text(), lambda c: st.lists(c) | st.dictionaries(st.text(), c)))
def test_whatever_stands_there_is_read_or_left_out(block):
    assert isinstance(read_phases(block), tuple)


@given(phases)
def test_every_phase_has_words(phase):
    assert render(phase_words(phase))


def test_every_part_and_what_was_fitted_has_words():
    assert PART_WORDS.keys() == set(PARTS)
    assert FITTED_WORDS.keys() == set(PartState)

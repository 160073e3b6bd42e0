"""The owner's decision as it is written down: whatever stands there is read, and forbids what was not agreed."""

from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.decision import (
    AGREEMENT_WORDS,
    DECISION,
    EVERYTHING,
    WAY_WORDS,
    Agreement,
    Way,
    last_decision,
    read_decision,
)

KEYS = ("who", "way", "option", "agreed", "up_to_minutes", "amount", "note")
junk = st.none() | st.booleans() | st.integers() | st.text(max_size=9) | st.lists(st.text(max_size=9), max_size=3)


@given(st.dictionaries(st.sampled_from(KEYS), junk))
def test_whatever_stands_there_is_read(data):
    told = read_decision(data)
    assert told.agreed <= EVERYTHING
    assert told.up_to_minutes is None or told.up_to_minutes > 0


@given(st.sets(st.sampled_from(Agreement)))
def test_what_was_not_agreed_is_forbidden_and_nothing_else(agreed):
    told = read_decision({"agreed": [a.value for a in agreed]})
    assert told.forbids() == (frozenset() if Agreement.OPEN_FUEL in agreed else {Act.OPENS_FUEL_LINE})


def test_the_last_decision_holds_and_none_is_none():
    yes, no = ({"who": "M. Ferrow", "agreed": given} for given in (["repair"], []))
    taken = [
        Observation(test=DECISION, data=yes),
        Observation(test="note", data={}),
        Observation(test=DECISION, data=no),
    ]
    assert last_decision(taken).agreed == frozenset()
    assert last_decision(taken[:2]).agreed == {Agreement.REPAIR}
    assert last_decision(taken[1:2]) is None


def test_everything_that_can_be_said_has_words():
    assert (set(AGREEMENT_WORDS), set(WAY_WORDS)) == (set(Agreement), set(Way))

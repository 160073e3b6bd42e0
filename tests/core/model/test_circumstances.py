"""Conditions: read from anything, compared with those of a complaint."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.circumstances import LOADS, UNKNOWN, Circumstances, circumstances_block, read_circumstances

said = st.builds(
    Circumstances,
    temperature=st.sampled_from([None, "cold", "hot"]),
    minutes=st.one_of(st.none(), st.floats(0, 1440)),
    load=st.sampled_from([None, *LOADS]),
    wet=st.sampled_from([None, True, False]),
    after_standing=st.sampled_from([None, True, False]),
)


@given(said)
def test_what_is_written_is_read_again(of):
    assert read_circumstances(circumstances_block(of)) == of
    assert bool(of) == bool(circumstances_block(of))


ANYTHING = st.none() | st.booleans() | st.integers() | st.floats() | st.text() | st.lists(st.integers())


@given(st.dictionaries(st.sampled_from(["temperature", "minutes_running", "load", "wet"]), ANYTHING))
def test_what_cannot_be_is_taken_as_not_said(data):
    assert isinstance(read_circumstances(data), Circumstances)


@pytest.mark.parametrize("minutes", [float("nan"), -1, 1e9, True, "5"])
def test_minutes_that_cannot_be_are_not_said(minutes):
    assert read_circumstances({"minutes_running": minutes}) == UNKNOWN


@given(said, said)
def test_nothing_is_missing_where_all_was_met(asked, taken):
    missing = asked.missing_in(taken)
    assert asked.missing_in(asked) == UNKNOWN
    assert missing.missing_in(taken) == missing
    assert len(missing.words) <= len(asked.words)


def test_a_reading_may_come_a_little_earlier_than_the_complaint():
    asked = Circumstances(minutes=20.0)
    assert asked.missing_in(Circumstances(minutes=15.0)) == UNKNOWN
    assert asked.missing_in(Circumstances(minutes=5.0)) == asked
    assert asked.contradicted_by(Circumstances(minutes=5.0))
    assert not asked.contradicted_by(Circumstances(temperature="hot"))


def test_only_what_both_name_contradicts():
    hot_and_wet = Circumstances(temperature="hot", wet=True)
    assert hot_and_wet.contradicted_by(Circumstances(temperature="cold"))
    assert hot_and_wet.contradicted_by(Circumstances(temperature="hot", wet=False))
    assert not hot_and_wet.contradicted_by(Circumstances(temperature="hot"))
    assert not hot_and_wet.contradicted_by(UNKNOWN)
    assert hot_and_wet.missing_in(Circumstances(temperature="hot")) == Circumstances(wet=True)


def test_they_are_said_in_the_order_of_the_trade():
    of = Circumstances(temperature="hot", minutes=20, load="idle", wet=True, after_standing=True)
    assert [render(w) for w in of.words] == ["hot", "20 min after the start", "at idle", "wet", "after standing"]

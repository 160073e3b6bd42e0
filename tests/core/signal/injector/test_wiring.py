"""Closing in on a break along a wire."""

from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.signal.injector.wiring import find_break, in_words

PATH = ("fuse 12", "bulkhead plug", "rail splice", "injector plug", "connector under the dash", "control unit pin")


@given(broken=st.integers(1, len(PATH) - 1), asked=st.sets(st.integers(0, len(PATH) - 1), min_size=1))
def test_the_break_lies_between_the_last_place_reached_and_the_first_not_reached(broken, asked):
    found = find_break(PATH, {PATH[i]: i < broken for i in asked})
    if not any(i >= broken for i in asked):
        assert found is None
        return
    assert found.before == PATH[min(i for i in asked if i >= broken)]
    assert found.after == (PATH[max(i for i in asked if i < broken)] if any(i < broken for i in asked) else "")


@given(broken=st.integers(1, len(PATH) - 1))
def test_measuring_where_it_says_closes_in_within_three_steps(broken):
    reached = {PATH[0]: True, PATH[-1]: False}
    for _ in range(4):
        found = find_break(PATH, reached)
        if not found.next_place:
            break
        reached[found.next_place] = PATH.index(found.next_place) < broken
    assert (found.after, found.before) == (PATH[broken - 1], PATH[broken])


def test_readings_that_contradict_each_other_name_no_place():
    assert find_break(PATH, {PATH[1]: False, PATH[3]: True}) is None


def test_the_statement_says_from_where_outward_and_where_to_measure_next():
    engine = even_engine((1, 3, 4, 2), injector_path=PATH)
    at = [(PATH[0], 12.4), (PATH[4], 3.1)]
    seen = [Observation(test="misfire_counts", data={"counts": {"1": 0, "2": 0, "3": 180, "4": 0}, "revolutions": 400})]
    seen += [
        Observation(
            test="voltage",
            data={"item": "injector_control", "cylinder": 3, "volts": v, "place": p, "engine_state": "key_on"},
        )
        for p, v in at
    ]
    seen.append(Observation(test="resistance", data={"item": "injector", "cylinder": 3, "open": True}))
    reported = diagnose(Case(name="x", engine=engine, observations=tuple(seen)))
    text = " ".join(render(s.text) for s in reported.statement.follows)
    assert "from fuse 12 outward, up to connector under the dash" in text
    assert "Measure next at" in text


def test_a_break_on_the_feed_side_is_said_so():
    assert "feed side of fuse 12" in render(in_words(find_break(PATH, {PATH[0]: False}), 3))

"""Closing in on a break along a circuit, by voltage and by resistance, from both sides."""

from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.wiring import Circuit, CircuitOf, Place, Side
from fairwitness.core.reason.wiring_break import Along, find_break, in_words, nodes_of

NAMES = ("fuse 12", "bulkhead plug", "rail splice", "injector plug", "connector under the dash", "control unit pin")
PATH = tuple(Place(name=name) for name in NAMES)
PINNED = (
    Place(name="fuse box", fuse="12"),
    Place(name="bulkhead plug", connector="X5", pin="9", colour="red"),
    Place(name="injector plug", connector="X31", pin="1", unplugs=True, is_part=True),
    Place(name="dash plug", connector="X8", pin="14", colour="white-red", minutes=5),
    Place(name="unit plug", connector="X1", pin="44", minutes=15),
)
WHOLE = len(nodes_of(PINNED))


def volts(place, closed, side=None):
    return Along(last=place, closed=closed, side=side)


def truth(broken, first, last):
    """Whether stretches first to last of a circuit are whole when one is not."""
    return not first <= broken <= last


@given(broken=st.integers(1, len(PATH) - 1), asked=st.sets(st.integers(0, len(PATH) - 1), min_size=1))
def test_the_break_lies_between_the_last_place_reached_and_the_first_not_reached(broken, asked):
    found = find_break(PATH, [volts(NAMES[i], i < broken) for i in asked])
    if not any(i >= broken for i in asked):
        assert found is None
        return
    assert found.before.place.name == NAMES[min(i for i in asked if i >= broken)]
    reached = [i for i in asked if i < broken]
    assert (found.after.place.name if found.after else None) == (NAMES[max(reached)] if reached else None)


@given(broken=st.integers(1, len(PATH) - 1))
def test_measuring_where_it_says_closes_in_within_three_steps(broken):
    told = [volts(NAMES[0], True), volts(NAMES[-1], False)]
    for _ in range(4):
        found = find_break(PATH, told)
        if found.next_place is None:
            break
        told.append(volts(found.next_place.name, NAMES.index(found.next_place.name) < broken))
    assert (found.after.place.name, found.before.place.name) == (NAMES[broken - 1], NAMES[broken])


@given(
    broken=st.integers(0, WHOLE - 1),
    spans=st.lists(st.tuples(st.integers(0, 4), st.integers(0, 4)), max_size=6),
    seen=st.sets(st.integers(0, 4), max_size=4),
)
def test_voltage_and_resistance_together_never_exclude_the_true_break(broken, spans, seen):
    nodes = nodes_of(PINNED)
    told = []
    for i in seen:
        at = next(n for n, node in enumerate(nodes) if node.place == PINNED[i])
        told.append(volts(PINNED[i].name, truth(broken, 0, at), Side.FEED))
    for a, b in spans:
        if a < b:
            first = max(n for n, node in enumerate(nodes) if node.place == PINNED[a])
            last = min(n for n, node in enumerate(nodes) if node.place == PINNED[b])
            told.append(
                Along(first=PINNED[a].name, last=PINNED[b].name, closed=truth(broken, first + 1, last), side=Side.FEED)
            )
    found = find_break(PINNED, told)
    if found is not None:
        first = nodes.index(found.after) + 1 if found.after else 0
        assert first <= broken <= nodes.index(found.before)
    else:
        assert all(one.closed for one in told)


def test_an_open_connector_on_the_way_is_no_open_injector():
    told = [
        Along(first="injector plug", last="unit plug", closed=False),
        Along(first="fuse box", last="injector plug", closed=True),
        Along(first="dash plug", last="unit plug", closed=True),
    ]
    found = find_break(PINNED, told)
    assert (found.after.place.name, found.before.place.name, found.is_part) == ("injector plug", "dash plug", False)


def test_between_its_own_pins_it_is_the_part_itself():
    told = [volts("injector plug", True, Side.FEED), volts("injector plug", False, Side.CONTROL)]
    found = find_break(PINNED, told)
    assert found.is_part
    assert "the part itself" in render(in_words(found, 3))


def test_what_need_not_be_unplugged_is_measured_next():
    found = find_break(PINNED, [volts("fuse box", True), volts("unit plug", False)])
    assert found.next_place.name == "bulkhead plug"
    assert "Back-probe bulkhead plug (connector X5, pin 9, red)" in render(in_words(found, 3))


def test_readings_that_contradict_each_other_name_no_place():
    assert find_break(PATH, [volts(NAMES[1], False), volts(NAMES[3], True)]) is None


def test_a_break_on_the_feed_side_is_said_so():
    assert "feed side of fuse 12" in render(in_words(find_break(PATH, [volts(NAMES[0], False)]), 3))


def test_the_statement_says_from_where_outward_and_where_to_measure_next():
    engine = even_engine((1, 3, 4, 2), injector_path=NAMES)
    seen = [Observation(test="misfire_counts", data={"counts": {"1": 0, "2": 0, "3": 180, "4": 0}, "revolutions": 400})]
    seen += [
        Observation(
            test="voltage",
            data={"item": "injector_control", "cylinder": 3, "volts": v, "place": p, "engine_state": "key_on"},
        )
        for p, v in ((NAMES[0], 12.4), (NAMES[4], 3.1))
    ]
    seen.append(Observation(test="resistance", data={"item": "injector", "cylinder": 3, "open": True}))
    reported = diagnose(Case(name="x", engine=engine, observations=tuple(seen)))
    text = " ".join(render(s.text) for s in reported.statement.follows)
    assert "from fuse 12 outward, up to connector under the dash" in text
    assert "Measure next at" in text


def test_pin_to_pin_bounds_the_break_and_clears_the_injector():
    engine = even_engine((1, 3, 4, 2), wiring=(Circuit(part=CircuitOf.INJECTOR, places=PINNED),))
    counts = {"counts": {"1": 0, "2": 0, "3": 180, "4": 0}, "revolutions": 400}
    ends = [("injector plug", "unit plug", {"open": True}), ("dash plug", "unit plug", {"ohms": 0.3})]
    seen = [Observation(test="misfire_counts", data=counts)]
    seen += [
        Observation(test="pin_to_pin", data={"cylinder": 3, "place": a, "place_to": b, **value}) for a, b, value in ends
    ]
    seen.append(Observation(test="resistance", data={"item": "injector", "cylinder": 3, "ohms": 14.0}))
    reported = diagnose(Case(name="x", engine=engine, observations=tuple(seen)))
    text = " ".join(render(s.text) for s in reported.statement.follows)
    assert "between injector plug (connector X31, pin 1) and dash plug (connector X8, pin 14, white-red)" in text
    chances = {h.fault: 0.0 for h in reported.posterior.hypotheses}
    for h, p in zip(reported.posterior.hypotheses, reported.posterior.probabilities, strict=True):
        chances[h.fault] += p
    assert chances["injector_control_open"] > 20 * chances["injector_open_circuit"]

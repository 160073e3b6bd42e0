import pytest

from fairwitness.core.errors import EngineError
from fairwitness.server.cases.crank_circle import check_engine, parse_order

ENGINE = {"cylinders": 4, "fuel": "petrol", "ignition": "coil_on_plug", "injection": "port"}


@pytest.mark.parametrize("text", ["1-3-4-2", "1 3 4 2", "1,3,4,2", "1342", " 1; 3; 4; 2 ", "1>3>4>2"])
def test_orders_are_read_as_people_type_them(text):
    assert parse_order(text) == [1, 3, 4, 2]


def test_two_digit_cylinders_need_separators():
    assert parse_order("1 12 5") == [1, 12, 5]


def test_letters_are_refused():
    with pytest.raises(EngineError, match="cylinder numbers only"):
        parse_order("1 three")


def test_places_stand_on_two_turns():
    checked = check_engine(ENGINE | {"firing_order": "1 3 4 2"})
    assert checked["valid"]
    assert [(p["crank_deg"], p["second_turn"]) for p in checked["places"]] == [
        (0, False), (180, False), (0, True), (180, True),
    ]  # fmt: skip
    assert checked["pairs"] == [[1, 4], [2, 3]]


@pytest.mark.parametrize(
    ("typed", "says", "wrong"),
    [
        ("1 3 4 3", "more than once", ["", "twice", "", "twice"]),
        ("1 3 9 2", "leaves out", ["", "", "not in this engine", ""]),
    ],
)
def test_a_wrong_order_is_drawn_with_what_is_wrong(typed, says, wrong):
    checked = check_engine(ENGINE | {"firing_order": typed})
    assert not checked["valid"]
    assert says in checked["problem"]
    assert [p["wrong"] for p in checked["places"]] == wrong


@pytest.mark.parametrize("block", [{}, {"firing_order": None}, {"cylinders": "x", "firing_order": "1"}])
def test_anything_typed_gets_an_answer(block):
    assert check_engine(block)["valid"] is False


def test_feeds_and_places_are_read_as_people_type_them():
    block = ENGINE | {"firing_order": "1 3 4 2", "injector_feeds": "1 2 / 3 4", "injector_path": "fuse > splice, plug"}
    engine = check_engine(block)["engine"]
    assert engine["injector_feeds"] == [[1, 2], [3, 4]]
    assert engine["injector_path"] == ["fuse", "splice", "plug"]
    twice = check_engine(block | {"injector_feeds": "1 2 / 2 3"})
    assert not twice["valid"]
    assert "twice" in twice["problem"]


@pytest.mark.parametrize("key", ["injector_feeds", "coil_pairs", "banks"])
def test_groups_are_typed_with_strokes_between_them(key):
    engine = check_engine(ENGINE | {"firing_order": "1 3 4 2", key: "1 4 / 2 3"})["engine"]
    assert engine[key] == [[1, 4], [2, 3]]

"""Forms: which cylinders are filled in, what is refused, and what the observations hold."""

import pytest

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.message import verbatim
from fairwitness.core.messages.rendering import render
from fairwitness.core.procedures.form import Choice, Entry, Filled, Form, Option, Row, each, options, same_words

ORDER = (1, 3, 4, 2)
ITEM = Choice(key="item", words=verbatim("Of the"), options=options("form_test.item", coil="Coil", lead="Lead"))


def form(**changes):
    usual = {
        "title": verbatim("t"),
        "hint": verbatim("h"),
        "kept": verbatim("k"),
        "readings": lambda f: each(f, lambda c: {"cylinder": c, **f.choices}),
    }
    return Form(**{**usual, **changes})


WHO = Entry(key="who", words=verbatim("who"), text=True)
NUMBERS = (Row(key="ohms", words=verbatim("ohm")), Row(key="open", words=verbatim("open"), tick=True))


@pytest.mark.parametrize(
    ("values", "cylinders"),
    [
        ({"ohms": {2: 14.0, 1: 15.0}}, (1, 2)),
        ({"ohms": {1: 0.0}}, (1,)),
        ({"open": {4: True, 3: False}}, (4,)),
        ({"ohms": {9: 14.0}}, ()),
        ({}, ()),
    ],
)
def test_cylinders_count_that_are_filled_or_ticked(values, cylinders):
    assert form(rows=NUMBERS).filled_at(values, ORDER) == cylinders


def test_what_is_optional_need_not_be_there_and_does_not_count_alone():
    rows = (Row(key="dry", words=verbatim("dry")), Row(key="wet", words=verbatim("wet"), optional=True))
    assert form(rows=rows).filled_at({"dry": {1: 12.0}, "wet": {2: 12.0}}, ORDER) == (1,)


def test_the_first_option_is_chosen_where_nothing_was():
    made = form(rows=NUMBERS, choices=(ITEM,), least=1)
    assert made.read(Filled(values={"ohms": {1: 2.0}}), ORDER) == [{"cylinder": 1, "item": "coil"}]
    assert made.read(Filled(values={"ohms": {1: 2.0}}, choices={"item": "lead"}), ORDER)[0]["item"] == "lead"


def test_what_is_no_choice_of_the_form_goes_along():
    made = form(rows=NUMBERS, choices=(ITEM,), least=1)
    (one,) = made.read(Filled(values={"ohms": {1: 2.0}}, choices={"place": "fuse 12"}), ORDER)
    assert one == {"cylinder": 1, "item": "coil", "place": "fuse 12"}


@pytest.mark.parametrize(
    ("made", "filled", "where"),
    [
        (form(rows=NUMBERS), Filled(values={"ohms": {1: 2.0}}), "form"),
        (form(rows=NUMBERS, least=2), Filled(values={"ohms": {1: 2.0}}), "form"),
        (form(rows=NUMBERS, choices=(ITEM,), least=1), Filled(choices={"item": "radio"}), "item"),
        (
            form(rows=(Row(key="lamp", words=verbatim("l"), options=same_words("form_test", "dim", "dark")),), least=1),
            Filled(values={"lamp": {1: "purple"}}),
            "lamp",
        ),
        (form(entries=(WHO,), least=0), Filled(), "who"),
        (
            form(entries=(Entry(key="who", words=verbatim("w"), text=True),), least=0),
            Filled(entries={"who": ""}),
            "who",
        ),
    ],
)
def test_what_is_missing_or_not_offered_is_refused_by_name(made, filled, where):
    with pytest.raises(ObservationError) as refusal:
        made.read(filled, ORDER)
    assert refusal.value.where == where


def test_a_row_is_written_as_files_write_it():
    filled = Filled(values={"dry": {3: 12.0, 1: 11.0}}, cylinders=(1, 3, 4))
    assert filled.by_cylinder("dry") == {"1": 11.0, "3": 12.0}
    assert filled.by_cylinder("wet") == {}


def test_words_of_options_are_their_values_read_aloud():
    (one,) = same_words("form_test.heard", "oil_filler")
    assert one == Option("oil_filler", one.words)
    assert render(one.words) == "oil filler"

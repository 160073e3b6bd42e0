"""Templates: declared once, filled wholly, plain data at the end."""

import json

import numpy as np
import pytest

from fairwitness.core.messages.catalogue import phrase, scope, template, templates
from fairwitness.core.messages.message import NOTHING, as_data, joined, verbatim
from fairwitness.core.messages.rendering import render
from fairwitness.core.messages.words import outcome_word

SAID = template("catalogue_test.said", "{who} says {count:.1f}")


def test_a_template_is_called_with_what_its_places_ask_for():
    assert render(SAID(who="nobody", count=2)) == "nobody says 2.0"
    with pytest.raises(TypeError, match=r"catalogue_test\.said"):
        SAID(who="nobody")
    with pytest.raises(TypeError):
        SAID(who="nobody", count=2, more=3)


def test_the_same_words_may_be_declared_again_and_others_may_not():
    assert template("catalogue_test.said", "{who} says {count:.1f}") == SAID
    with pytest.raises(ValueError, match=r"catalogue_test\.said"):
        template("catalogue_test.said", "{who} is silent")


def test_a_scope_writes_the_prefix_once():
    say = scope("catalogue_test")
    assert say("word", "dark") == phrase("catalogue_test.word", "dark")
    assert "catalogue_test.word" in templates()


@pytest.mark.parametrize("value", [np.float64(1.5), np.float32(1.5), np.int64(3), np.bool_(True)])
def test_numbers_of_arrays_become_plain_ones(value):
    made = SAID(who=(value,), count=value)
    assert json.loads(json.dumps(as_data(made)))["parameters"]["count"] == value.item()


def test_saying_nothing_is_false_and_leaves_no_gap():
    assert not NOTHING
    assert SAID(who="x", count=1)
    assert joined(NOTHING, NOTHING) == NOTHING
    assert render(joined(verbatim("a"), NOTHING, verbatim("b"), by=" ")) == "a b"
    assert render(verbatim("a") + verbatim("b")) == "ab"
    assert not verbatim("")


def test_an_outcome_is_read_as_words():
    assert render(outcome_word("very_late")) == "very late"

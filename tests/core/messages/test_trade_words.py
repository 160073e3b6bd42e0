"""Words of the trade explained where they stand: each stands somewhere, none twice."""

import re

import pytest

from fairwitness.core import diagnose
from fairwitness.core.messages.catalogue import templates
from fairwitness.core.messages.rendering import render
from fairwitness.core.messages.trade_words import BETWEEN, TRADE_WORDS

FORMS = [(word, form) for word in TRADE_WORDS for form in render(word.said).split(BETWEEN)]


@pytest.mark.parametrize("word", TRADE_WORDS, ids=lambda word: word.id)
def test_some_sentence_of_the_product_says_it(word):
    forms = "|".join(re.escape(form) for form in render(word.said).split(BETWEEN))
    spoken = [t.english for t in templates().values() if not t.id.startswith("trade_word.")]
    assert diagnose.__doc__  # what is said is declared by what it imports
    assert any(re.search(rf"(?<![\w-])(?:{forms})(?![\w-])", text, re.IGNORECASE) for text in spoken)


def test_no_form_belongs_to_two_words():
    forms = [form.lower() for _, form in FORMS]
    assert len(forms) == len(set(forms))
    assert all(form == form.strip() and form for form in forms)


@pytest.mark.parametrize("word", TRADE_WORDS, ids=lambda word: word.id)
def test_a_meaning_is_short_and_does_not_explain_a_word_by_itself(word):
    meaning = render(word.meaning)
    assert len(meaning) <= 140
    assert meaning.endswith(".")
    assert not any(meaning.lower().startswith(form.lower()) for _, form in FORMS if _ is word)

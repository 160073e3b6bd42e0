"""Messages put into words: other languages, units and decimal marks, and nothing that gets past the catalogue."""

import re
import string

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fairwitness.core.diagnose import diagnose
from fairwitness.core.messages.catalogue import phrase, template, templates
from fairwitness.core.messages.message import (
    NOTHING,
    Message,
    as_data,
    from_data,
    is_message,
    joined,
    storable,
    verbatim,
)
from fairwitness.core.messages.rendering import QUANTITIES, Display, render, spoken
from fairwitness.core.model.capture import CaptureTest, SetUp, UnreadableCapture
from fairwitness.core.model.case import Case, Observation, TroubleCode
from fairwitness.core.model.engine import even_engine
from fairwitness.core.procedures.specs import FORMS, OFFERS, SPECS
from fairwitness.formats.diagnosis_document import diagnosis_data, diagnosis_document
from tests.conftest import cranking

FOUR = even_engine((1, 3, 4, 2))
MARK = "¤"
GERMAN = Display(units={"pressure": "psi", "vacuum": "inHg", "temperature": "F"}, decimal=",")


def _marked(_id: str, english: str) -> str:
    """A pseudo-language: every letter of ours becomes a mark, places stay."""
    parts = []
    for text, name, spec, _ in string.Formatter().parse(english):
        parts.append("".join(MARK if c.isalpha() else c for c in text))
        if name is not None:
            parts.append("{" + name + (":" + spec if spec else "") + "}")
    return "".join(parts).replace("{{", "{").replace("}}", "}")


PSEUDO = Display(language=_marked)
NOT_OURS = {"capture", "kpa", "bar", "rpm", "tea", "leaves"}
"""Units, and names that somebody gave."""


def spoken_case():
    """A case that makes the reasoning say a lot: sound, ill, unusable and unread things beside each other."""
    readings = (
        Observation(test="leak_down", data={"cylinder": 3, "percent": 60, "heard_at": ["oil_filler"]}),
        Observation(test="compression_gauge", data={"unit": "bar", "dry": {"1": 12, "2": 12, "3": 5, "4": 12.2}}),
        Observation(test="vacuum", data={"inhg": 15.0, "engine_state": "running"}),
        Observation(test="vacuum", data={"inhg": 15.0, "engine_state": "running", "check_valve": True}),
        Observation(test="fuel_pressure", data={"kpa": 290, "low_kpa": 330, "high_kpa": 370}),
        Observation(test="fuel_trim", data={"bank": 1, "short_percent": 12, "long_percent": 9}),
        Observation(test="swap", data={"part": "coil", "from": 3, "to": 1, "moved": False}),
        Observation(test="visual", data={"item": "plug", "cylinder": 3, "seen": "wet"}),
        Observation(test="resistance", data={"item": "injector", "cylinder": 3, "open": True}),
        Observation(test="voltage", data={"item": "coil_feed", "cylinder": 3, "volts": 12.2}),
        Observation(test="load_lamp", data={"circuit": "injector", "cylinder": 3, "lamp": "bright"}),
        Observation(test="exhaust_temperature", data={"ports": {"1": 99, "2": 98, "3": 30, "4": 97}, "air": 15,
                                                      "seconds": 60}),
        Observation(test="tea_leaves", data={}),
    )  # fmt: skip
    captures = (
        cranking(FOUR, {3: 0.3}),
        UnreadableCapture(name="capture", set_up=SetUp(test=CaptureTest.RELATIVE_COMPRESSION), reason=""),
    )
    return Case(name="x", engine=FOUR, captures=captures, observations=readings, codes=(TroubleCode("P0303"),))


def words_of(data):
    if isinstance(data, dict):
        for key, value in data.items():
            if key in SAID:
                yield from _texts(value)
            yield from words_of(value)
    elif isinstance(data, list):
        for value in data:
            yield from words_of(value)


def _texts(value):
    yield from (v for v in (value if isinstance(value, list) else [value]) if isinstance(v, str))


SAID = {"statement", "headline", "word", "words", "why", "title", "tools", "reason", "cautions", "stop", "done",
        "held_back", "owner", "not_seen", "text", "then", "reasons"}  # fmt: skip


def test_no_sentence_of_the_core_gets_past_the_catalogue():
    said = list(words_of(diagnosis_document(diagnose(spoken_case()), PSEUDO)))
    assert len(said) > 80
    ours = [t for t in said if any(len(w) > 2 and w.lower() not in NOT_OURS for w in re.findall(r"[a-zA-Z]+", t))]
    assert ours == []


def test_no_form_and_no_record_gets_past_the_catalogue():
    said = [spec.title for spec in SPECS.values()]
    said += [part for o in OFFERS.values() for part in (o.title, o.tools, o.splits, *o.cautions)]
    for form in FORMS.values():
        said += [form.title, form.hint, form.kept, form.caution]
        said += [r.words for r in (*form.rows, *form.choices, *form.entries)]
        said += [o.words for r in (*form.rows, *form.choices) for o in r.options]
    text = "".join(render(message, PSEUDO) for message in said)
    assert not any(c.isalpha() for c in text)


def test_a_kept_diagnosis_says_the_same_after_it_was_read_again():
    kept = storable(diagnosis_data(diagnose(spoken_case())))
    assert spoken(kept, GERMAN) == diagnosis_document(diagnose(spoken_case()), GERMAN)


def test_no_template_fixes_a_unit_that_a_person_may_choose():
    fixed = [id for id, t in templates().items() if re.search(r"\}\s*(bar|kPa|psi|°C|°F|inHg)\b", t.english)]
    assert fixed == []


def test_somebody_reads_psi_and_commas_where_another_reads_bar_and_points():
    said, plain = (" ".join(words_of(diagnosis_document(diagnose(spoken_case()), d))) for d in (GERMAN, Display()))
    assert "73 psi" in said  # 5 bar
    assert "5.0 bar" in plain
    assert "15,0 inHg" in said
    assert "86 °F" in said  # 30 °C
    assert "psi" not in plain


@pytest.mark.parametrize("id", sorted(templates()))
def test_every_template_can_be_filled_with_what_its_places_ask_for(id):
    values = {}
    for _, name, spec, _ in string.Formatter().parse(templates()[id].english):
        if name:
            listed = spec in ("and", "or", "cylinders")
            values[name] = (2, 1) if listed else 1.5 if spec and spec not in ("capital", "lower") else "x"
    text = render(Message(id, tuple(values.items())))
    assert text.strip()
    assert "{" not in text


@pytest.mark.parametrize(
    ("message", "text"),
    [
        (template("test.cylinders", "{which:cylinders} {word:capital}")(which=(4, 1), word="dark"),
         "cylinders 1 and 4 Dark"),
        (template("test.one", "{which:cylinders}")(which=(3,)), "cylinder 3"),
        (template("test.list", "{parts:or}")(parts=("a", "b", "c")), "a, b or c"),
        (template("test.pressure", "{p:pressure}, {p:pressure.number}, {p:pressure.symbol}")(p=1.21e6),
         "12.1 bar, 12.1, bar"),
        (joined(phrase("test.a", "A."), NOTHING, phrase("test.b", "B."), by=" "), "A. B."),
        (verbatim("typed {by} hand"), "typed {by} hand"),
    ],
)  # fmt: skip
def test_places_are_filled(message, text):
    assert render(message) == text
    assert render(from_data(as_data(message))) == text


def test_an_id_says_one_thing_only():
    with pytest.raises(ValueError, match=r"test\.cylinders"):
        template("test.cylinders", "something else")


leaves = st.integers(-9, 9) | st.floats(-1e6, 1e6) | st.text(max_size=5)
messages = st.recursive(
    st.builds(Message, st.just("test.any"), st.just(())),
    lambda inner: st.builds(
        lambda pairs: Message("test.any", tuple(pairs.items())),
        st.dictionaries(
            st.sampled_from("abc"), leaves | inner | st.lists(leaves | inner, max_size=3).map(tuple), max_size=3
        ),
    ),
    max_leaves=4,
)


@settings(suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])
@given(messages)
def test_a_message_survives_being_kept(message):
    assert from_data(as_data(message)) == message
    assert is_message(as_data(message))


def test_units_that_are_offered_know_their_size():
    assert Display(units={"pressure": "psi"}).amount(6894.757293168361 * 14.7, "pressure") == ("15", "psi")
    assert Display(units={"temperature": "F"}).amount(373.15, "temperature") == ("212", "°F")
    assert {next(iter(units)) for units in QUANTITIES.values()} == {"bar", "kPa", "C"}

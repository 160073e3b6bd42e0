"""Forms as data for the screen, and what comes back from it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.wiring import CircuitOf
from fairwitness.core.procedures import safety
from fairwitness.core.procedures.form import STAGE_WORDS, Filled, Form, Option, Value
from fairwitness.core.procedures.specs import FORMS, SPECS


def forms_of(engine: Engine) -> list[dict[str, Any]]:
    """Every form, with the usual readings of an engine's parts.

    Parameters
    ----------
    engine : Engine

    Returns
    -------
    list of dict
        Messages are not yet put into words.
    """
    return [_form(test, form, engine) for test, form in FORMS.items()]


def _form(test: str, form: Form, engine: Engine) -> dict[str, Any]:
    return {
        "test": test,
        "title": form.title,
        "stage": form.stage.value if test in SPECS else "",
        "stage_words": STAGE_WORDS[form.stage] if test in SPECS else NOTHING,
        "hint": form.hint,
        "cautions": list(dict.fromkeys((*_cautions(test, form, engine), form.caution))) if test in SPECS else [],
        "why_not": (safety.why_not(SPECS[test], engine, {}) if test in SPECS else None) or NOTHING,
        "kept": form.kept,
        "rows": [
            {
                "key": row.key,
                "words": row.words,
                "options": _options(row.options),
                "optional": row.optional,
                "alone": row.alone,
                "tick": row.tick,
            }
            for row in form.rows
        ],
        "choices": [
            {"key": c.key, "words": c.words, "options": [_choice(test, c.key, o, engine) for o in c.options]}
            for c in form.choices
        ],
        "entries": [
            {"key": e.key, "words": e.words, "optional": e.optional, "signed": e.signed, "text": e.text}
            for e in form.entries
        ],
        "least": engine.cylinders if form.least is None else form.least,
        "usual": _usual(test, form, engine),
        "along": list(form.along),
        "places": [p.name for p in engine.circuit(CircuitOf.INJECTOR)] if form.along or form.between else [],
        "between": form.between,
        "calculates": list(form.calculates),
    }


def _cautions(test: str, form: Form, engine: Engine) -> tuple[Message, ...]:
    """Of every way to take a test where nothing chosen tells them apart, else of all ways alike."""
    spec = SPECS[test]
    told_apart = {key for offer in spec.offers for key in (*offer.asks, *offer.asks.values())}
    by_choice = any(c.key in told_apart for c in form.choices)
    return safety.cautions_always(spec, engine) if by_choice else safety.cautions_of(spec, engine)


def _choice(test: str, key: str, option: Option, engine: Engine) -> dict[str, Any]:
    """An option of a choice, with the reason where it must not be taken on this engine."""
    reason = safety.why_not(SPECS[test], engine, {key: option.value}) if test in SPECS else None
    about = {key: option.value}
    if test in SPECS and option.value and any(o.asks.get("item") == key for o in SPECS[test].offers):
        about = {"item": key}  # each thing looked at is a choice of its own
    tells = test in SPECS and option.value and any(set(about) <= set(o.asks) for o in SPECS[test].offers)
    said = list(safety.cautions_where(SPECS[test], engine, about)) if tells else []
    return {"value": option.value, "words": option.words, "why_not": reason or NOTHING, "cautions": said}


def _options(options: tuple[Option, ...]) -> list[dict[str, Any]]:
    return [{"value": o.value, "words": o.words} for o in options]


def _usual(test: str, form: Form, engine: Engine) -> dict[str, Message]:
    """Usual readings by the value of the choice they hang on; under an empty key where they hang on none."""
    if form.usual_by is None or test not in SPECS:
        return {}
    return {key.removeprefix(test).removeprefix(":"): words for key, words in SPECS[test].usual(engine).items()}


def filled_of(data: Mapping[str, Any]) -> Filled:
    """A filled form as it came over the wire.

    Parameters
    ----------
    data : mapping
        ``values`` by row and cylinder, ``entries``, ``choices``.

    Returns
    -------
    Filled

    Raises
    ------
    ObservationError
        A cylinder that is no number, or a value that is neither number, word nor tick.
    """
    values = {row: _by_cylinder(row, cells) for row, cells in data["values"].items()}
    return Filled(values=values, entries=_known(data["entries"]), choices=dict(data["choices"]))


def _by_cylinder(row: str, cells: Mapping[str, Any]) -> dict[int, Value]:
    strange = [c for c in cells if not c.isdecimal()]
    if strange:
        raise ObservationError(f"{strange[0]!r} is no cylinder.", where=row)
    return {int(c): value for c, value in _known(cells).items()}


def _known(cells: Mapping[str, Any]) -> dict[str, Value]:
    """What was filled in; what was left empty is not there."""
    given = {key: value for key, value in cells.items() if value is not None and value != ""}
    strange = [key for key, value in given.items() if not isinstance(value, int | float | str | bool)]
    if strange:
        raise ObservationError("Only numbers, words and ticks can be written down.", where=strange[0])
    return given

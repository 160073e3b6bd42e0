"""Languages of the sheet: English, and word lists that map ids of the catalogue to another language's words.

A word list is a JSON object of ids and templates in the folder ``languages`` of the shop's data; ``fairwitness words``
prints the English one. What a list does not have is said in English.
"""

from __future__ import annotations

import json
import re
import string
from collections.abc import Callable, Mapping
from functools import lru_cache
from pathlib import Path

from django.conf import settings

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.catalogue import templates
from fairwitness.core.messages.rendering import Display

ENGLISH = "en"
FOLDER = "languages"
CODE = re.compile(r"[a-z]{2,3}(-[A-Za-z]{2,4})?")
DECIMAL_COMMA = frozenset({"de", "fr", "es", "it", "pt", "nl", "pl", "cs", "sv", "da", "nb", "fi", "ru", "uk", "tr"})
Words = Callable[[str, str], str]


def offered() -> list[str]:
    """Codes of the languages there are, English first."""
    own = {path.stem for path in _own_folder().glob("*.json")} if _own_folder().is_dir() else set()
    return [ENGLISH, *sorted(code for code in own if CODE.fullmatch(code) and code != ENGLISH)]


def english() -> dict[str, str]:
    """Every sentence of the catalogue by its id, for whoever puts them into another language."""
    return {id: template.english for id, template in sorted(templates().items())}


def display_in(language: str, units: Mapping[str, str]) -> Display:
    """How a page in a language is read.

    Parameters
    ----------
    language : str
        Empty for English.
    units : mapping of quantity to unit

    Returns
    -------
    Display

    Raises
    ------
    ObservationError
        There is no such language, or its word list cannot be read.
    """
    if language in ("", ENGLISH):
        return Display(units=units)
    if language not in offered():
        raise ObservationError(f"There are no words in {language!r}.", where="language")
    text = (_own_folder() / f"{language}.json").read_text("utf-8")
    decimal = "," if language.partition("-")[0] in DECIMAL_COMMA else "."
    return Display(units=units, decimal=decimal, language=_saying(language, text))


@lru_cache(maxsize=4)
def _saying(language: str, text: str) -> Words:
    """The words of a list; a template that needs what is not there, or says nothing, is left in English."""
    try:
        listed = json.loads(text)
    except ValueError as error:
        raise ObservationError(f"The words in {language!r} cannot be read: {error}.", where="language") from error
    known = templates()
    words = {
        id: said
        for id, said in listed.items()
        if id in known and isinstance(said, str) and said and _places(said) <= known[id].places
    }
    return lambda id, english: words.get(id, english)


def _places(said: str) -> frozenset[str]:
    try:
        return frozenset(name for _, name, _, _ in string.Formatter().parse(said) if name)
    except ValueError:
        return frozenset({said})


def _own_folder() -> Path:
    return Path(settings.DATA) / FOLDER

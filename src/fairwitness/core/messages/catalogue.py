"""The catalogue of templates: declared once beside the code that uses them, checked as they are declared and used."""

from __future__ import annotations

import string
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from fairwitness.core.messages.message import VERBATIM, Message, Parameter

_TEMPLATES: dict[str, Template] = {}


@dataclass(frozen=True, slots=True)
class Template:
    """One sentence or phrase with places for values; calling it makes the message.

    Parameters
    ----------
    id : str
        Unique in the catalogue, by the place it belongs to: ``leak_down.heard_at``.
    english : str
        With places as ``{name}`` or ``{name:format}``; see ``rendering`` for the formats.
    """

    id: str
    english: str
    places: frozenset[str]

    def __call__(self, **values: Parameter | np.generic) -> Message:
        """Fill the places.

        Raises
        ------
        TypeError
            A place without a value, or a value without a place.
        """
        if values.keys() != self.places:
            raise TypeError(f"{self.id} takes {sorted(self.places)}, given {sorted(values)}")
        return Message(self.id, tuple((name, _native(value)) for name, value in values.items()))


def template(id: str, english: str) -> Template:
    """Declare a template of the catalogue.

    Parameters
    ----------
    id, english : str
        As of ``Template``.

    Returns
    -------
    Template

    Raises
    ------
    ValueError
        The id is taken by other words.
    """
    places = frozenset(name for _, name, _, _ in string.Formatter().parse(english) if name)
    made = Template(id, english, places)
    if _TEMPLATES.setdefault(id, made) != made:
        raise ValueError(f"two templates are called {id!r}")
    return made


def phrase(id: str, english: str) -> Message:
    """Declare words without places, and say them."""
    return template(id, english)()


def scope(prefix: str) -> Callable[[str, str], Message]:
    """Declare words without places under one prefix.

    Parameters
    ----------
    prefix : str

    Returns
    -------
    callable (name, english) -> Message
    """
    return lambda name, english: phrase(f"{prefix}.{name}", english)


def templates() -> Mapping[str, Template]:
    """Every template declared so far, by id. It is whole once ``core.diagnose`` was imported."""
    return MappingProxyType(_TEMPLATES)


def _native(value: Parameter | np.generic) -> Parameter:
    """Numbers of numpy as Python's own, so that a message is plain data."""
    if isinstance(value, np.generic):
        plain: Parameter = value.item()
        return plain
    return tuple(_native(part) for part in value) if isinstance(value, tuple) else value


template(VERBATIM, "{text}")

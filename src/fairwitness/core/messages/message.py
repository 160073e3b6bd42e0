"""A message: the id of a template and its parameters, kept with evidence instead of a sentence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Union

JOINED, VERBATIM = "", "verbatim"
"""Ids of messages without a template of their own: parts said one after the other, and text that somebody typed."""

Parameter = Union[float, int, str, "Message", tuple["Parameter", ...]]
"""Numbers in SI unless the template says otherwise; other messages; names that nobody translates; lists of these."""


@dataclass(frozen=True, slots=True)
class Message:
    """What is said.

    Parameters
    ----------
    id : str
        Of a template of the catalogue.
    parameters : tuple of (str, Parameter)
        What the template's places are filled with.
    """

    id: str
    parameters: tuple[tuple[str, Parameter], ...] = ()

    def __add__(self, other: Message) -> Message:
        """Both, one after the other."""
        return joined(self, other)

    def __bool__(self) -> bool:
        """False where nothing is said."""
        return bool(self.id or self.parameters)


NOTHING = Message(JOINED)


def joined(*parts: Message, by: str = "") -> Message:
    """Messages said one after the other.

    Parameters
    ----------
    *parts : Message
        Those that say nothing are left out.
    by : str
        What stands between two of them: a space, or nothing where the templates bring their own.

    Returns
    -------
    Message
    """
    said = tuple(part for part in parts if part)
    if len(said) < 2:
        return said[0] if said else NOTHING
    return Message(JOINED, (("by", by), ("parts", said)))


def verbatim(text: str) -> Message:
    """Words that are not ours: typed by somebody, or kept by a version that stored sentences."""
    return Message(VERBATIM, (("text", text),)) if text else NOTHING


def as_data(message: Message) -> dict[str, Any]:
    """A message as JSON-ready data; see ``from_data``."""
    return {"message": message.id, "parameters": {name: _plain(value) for name, value in message.parameters}}


def from_data(data: Mapping[str, Any]) -> Message:
    """Read what ``as_data`` wrote.

    Parameters
    ----------
    data : mapping

    Returns
    -------
    Message

    Raises
    ------
    KeyError
        The data are no message.
    """
    parameters = data["parameters"]
    return Message(data["message"], tuple((str(name), _parameter(value)) for name, value in parameters.items()))


def storable(data: Any) -> Any:
    """Plain data in which every message became JSON; ``rendering.spoken`` puts them into words again."""
    if isinstance(data, Message):
        return as_data(data)
    if isinstance(data, Mapping):
        return {key: storable(value) for key, value in data.items()}
    return [storable(value) for value in data] if isinstance(data, list | tuple) else data


def is_message(data: object) -> bool:
    """Whether a piece of JSON is a message."""
    return isinstance(data, dict) and len(data) == 2 and data.keys() == {"message", "parameters"}


def _plain(value: Parameter) -> Any:
    if isinstance(value, Message):
        return as_data(value)
    return [_plain(part) for part in value] if isinstance(value, tuple) else value


def _parameter(value: Any) -> Parameter:
    if isinstance(value, Mapping):
        return from_data(value)
    if isinstance(value, Sequence) and not isinstance(value, str):
        return tuple(_parameter(part) for part in value)
    plain: float | int | str = value
    return plain

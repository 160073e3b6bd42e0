"""Messages put into words: a language's template, a person's units, a decimal mark.

Formats of a template's places: Python's own for numbers (``.1f``, ``+.0f``); ``and`` and ``or`` for lists;
``cylinders`` for "cylinder 3" or "cylinders 1 and 4"; ``capital`` and ``lower`` for the first letter; ``chance``
for per cent that are never 0 nor 100; a quantity of
``SHOWN`` for values in SI whose unit a person may choose, alone as ``pressure.number`` and ``pressure.symbol``.
"""

from __future__ import annotations

import string
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any

from fairwitness.core.messages.catalogue import template, templates
from fairwitness.core.messages.message import JOINED, Message, Parameter, from_data, is_message

ONE_CYLINDER = template("cylinders.one", "cylinder {which}")
SEVERAL_CYLINDERS = template("cylinders.several", "cylinders {which:and}")
OVER_99, UNDER_1 = template("chance.over_99", "over 99 %"), template("chance.under_1", "under 1 %")
CHANCE_LEAST, CHANCE_MOST = 0.5, 99.5
"""Per cent; what lies beyond is not told as a figure."""
LIST_AND, LIST_OR = template("list.and", "{first} and {last}"), template("list.or", "{first} or {last}")


@dataclass(frozen=True, slots=True)
class Unit:
    """A unit of display: what is shown is ``(value - zero) / size``, with so many decimals."""

    symbol: str
    size: float
    decimals: int
    zero: float = 0.0


QUANTITIES: Mapping[str, Mapping[str, Unit]] = MappingProxyType(
    {
        "pressure": {
            "bar": Unit("bar", 1e5, 1),
            "kPa": Unit("kPa", 1e3, 0),
            "psi": Unit("psi", 6894.757293168361, 0),  # [P: NIST SP 811, appendix B.8]
        },
        "vacuum": {
            "kPa": Unit("kPa", 1e3, 0),
            "inHg": Unit("inHg", 3386.389, 1),  # [P: NIST SP 811, appendix B.8] inch of mercury, conventional
        },
        "temperature": {
            "C": Unit("°C", 1.0, 0, zero=273.15),
            "F": Unit("°F", 5.0 / 9.0, 0, zero=273.15 - 32.0 * 5.0 / 9.0),
        },
    }
)
"""Quantities a person may read in a unit of his own; the first is the usual one."""
CHOSEN_WITH: Mapping[str, str] = MappingProxyType({"fuel_pressure": "pressure"})
"""Quantities that follow the choice of another, in finer steps."""
SHOWN: Mapping[str, Mapping[str, Unit]] = MappingProxyType(
    {
        **QUANTITIES,
        "fuel_pressure": {
            "kPa": Unit("kPa", 1e3, 0),
            "bar": Unit("bar", 1e5, 2),
            "psi": Unit("psi", 6894.757293168361, 1),  # [P: NIST SP 811, appendix B.8]
        },
    }
)
"""All quantities a template may name."""


def _as_it_is(_id: str, english: str) -> str:
    return english


@dataclass(frozen=True, slots=True, kw_only=True)
class Display:
    """How somebody wants to read.

    Parameters
    ----------
    units : mapping of quantity to unit
        What is left out is shown in the usual unit.
    decimal : str
        Decimal mark.
    language : callable (id, english) -> template
        The words of another language; English as it is.
    """

    units: Mapping[str, str] = field(default_factory=dict)
    decimal: str = "."
    language: Callable[[str, str], str] = _as_it_is

    def unit(self, quantity: str) -> Unit:
        """Unit in which a quantity is shown."""
        known = SHOWN[quantity]
        chosen = self.units.get(CHOSEN_WITH.get(quantity, quantity), "")
        return known.get(chosen, next(iter(known.values())))

    def number(self, value: float, spec: str) -> str:
        """A number as Python's format has it, with this display's decimal mark."""
        return format(value, spec).replace(".", self.decimal)

    def amount(self, value: float, quantity: str) -> tuple[str, str]:
        """A value in SI as number and symbol."""
        unit = self.unit(quantity)
        return self.number((value - unit.zero) / unit.size, f".{unit.decimals}f"), unit.symbol


PLAIN = Display()


def render(message: Message, display: Display = PLAIN) -> str:
    """Put a message into words.

    Parameters
    ----------
    message : Message
    display : Display

    Returns
    -------
    str

    Raises
    ------
    KeyError
        No template of the catalogue has this id.
    """
    values = dict(message.parameters)
    if message.id == JOINED:
        parts = values.get("parts", ())
        assert isinstance(parts, tuple)
        return str(values.get("by", "")).join(_text(part, display) for part in parts)
    words = display.language(message.id, templates()[message.id].english)
    if "{" not in words and "}" not in words:
        return words
    return _Filler(display).vformat(words, (), values)


PLAIN_TYPES = frozenset({str, int, float, bool, type(None)})
"""Most of a board, thousands of times: told by its type alone."""


def spoken(data: Any, display: Display = PLAIN) -> Any:
    """Plain data in which every message, as object or as JSON, is put into words; all else is left as it is."""
    if type(data) in PLAIN_TYPES:
        return data
    if isinstance(data, Message):
        return render(data, display)
    if is_message(data):
        return render(from_data(data), display)
    if isinstance(data, dict):
        return {key: spoken(value, display) for key, value in data.items()}
    return [spoken(value, display) for value in data] if isinstance(data, list | tuple) else data


class _Filler(string.Formatter):
    """Python's formatter over places that hold messages, lists and quantities."""

    def __init__(self, display: Display) -> None:
        self.display = display

    def format_field(self, value: Any, format_spec: str) -> str:
        quantity, _, part = format_spec.partition(".")
        if quantity in SHOWN:
            number, symbol = self.display.amount(value, quantity)
            return {"number": number, "symbol": symbol}.get(part, f"{number} {symbol}")
        if format_spec in ("and", "or"):
            return _listed(value, LIST_AND if format_spec == "and" else LIST_OR, self.display)
        if format_spec == "cylinders":
            return _cylinders(value, self.display)
        if format_spec == "chance":
            return _chance(value, self.display)
        if format_spec in ("capital", "lower"):
            text = _text(value, self.display)
            first = text[:1].upper() if format_spec == "capital" else text[:1].lower()
            return first + text[1:]
        if format_spec and isinstance(value, int | float):
            return self.display.number(value, format_spec)
        return _text(value, self.display)


def _chance(percent: Parameter, display: Display) -> str:
    """A chance in per cent: never certain, never impossible."""
    assert isinstance(percent, int | float)
    if percent >= CHANCE_MOST:
        return render(OVER_99(), display)
    return render(UNDER_1(), display) if percent < CHANCE_LEAST else display.number(percent, ".0f") + " %"


def _text(value: Parameter, display: Display) -> str:
    if isinstance(value, Message):
        return render(value, display)
    if isinstance(value, tuple):
        return ", ".join(_text(part, display) for part in value)
    return display.number(value, "g") if isinstance(value, float) else str(value)


def _listed(values: tuple[Parameter, ...], by: Callable[..., Message], display: Display) -> str:
    parts = [_text(value, display) for value in values]
    if len(parts) < 2:
        return "".join(parts)
    return render(by(first=", ".join(parts[:-1]), last=parts[-1]), display)


def _cylinders(values: Parameter, display: Display) -> str:
    cylinders = values if isinstance(values, tuple) else (values,)
    if len(cylinders) == 1:
        return render(ONE_CYLINDER(which=cylinders[0]), display)
    return render(SEVERAL_CYLINDERS(which=tuple(sorted(cylinders, key=_number))), display)


def _number(value: Parameter) -> float:
    return value if isinstance(value, int | float) else 0.0

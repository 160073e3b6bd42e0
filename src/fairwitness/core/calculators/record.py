"""What a calculator is: quantities in, quantities out, the formula between them, and where it comes from."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.message import NOTHING, Message


@dataclass(frozen=True, slots=True, kw_only=True)
class Quantity:
    """A number that goes in, or comes out.

    Parameters
    ----------
    key : str
    words : Message
    unit : str
        As the trade writes it; the formulas use these units.
    low, high : float
        What may be given; of results, what is no slip of the pen.
    case : str
        What of a case fills it: a name of ``case_values``; empty where nothing does.
    """

    key: str
    words: Message
    unit: str
    low: float = -math.inf
    high: float = math.inf
    case: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Calculator:
    """One sum of the trade.

    Parameters
    ----------
    id : str
    title, needed : Message
        What it finds; where it is needed.
    given, found : tuple of Quantity
    formula : str
        In symbols.
    source : str
        Published source, common practice, or from memory.
    example : mapping of key to float
        What is given in the worked example; what comes out is computed, and checked in the tests.
    compute : callable
        Takes the given quantities by key, returns the found ones by key.
    beware : Message
        Where it stops being true.
    """

    id: str
    title: Message
    needed: Message
    given: tuple[Quantity, ...]
    found: tuple[Quantity, ...]
    formula: str
    source: str
    example: Mapping[str, float]
    compute: Callable[..., Mapping[str, float]]
    beware: Message = NOTHING


def calculated(calculator: Calculator, given: Mapping[str, float]) -> Mapping[str, float]:
    """Do the sum.

    Parameters
    ----------
    calculator : Calculator
    given : mapping of key to float
        In the units of the calculator.

    Returns
    -------
    mapping of key to float

    Raises
    ------
    ObservationError
        Something is missing, is no number, or cannot be.
    """
    for quantity in calculator.given:
        value = given.get(quantity.key)
        if value is None or not math.isfinite(value):
            raise ObservationError("A number is missing.", where=quantity.key, remedy="Fill in every line.")
        if not quantity.low <= value <= quantity.high:
            raise ObservationError(
                f"{value:g} {quantity.unit} is out of range.",
                where=quantity.key,
                remedy=f"Give {quantity.low:g} to {quantity.high:g} {quantity.unit}.",
            )
    found = calculator.compute(**{quantity.key: given[quantity.key] for quantity in calculator.given})
    if not all(math.isfinite(value) for value in found.values()):
        raise ObservationError("These numbers lead nowhere.", where=calculator.id, remedy="Look at them once more.")
    return found

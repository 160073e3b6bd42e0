"""JSON from outside, read within bounds: nothing that could be parsed here and then not be written, sent or stored."""

from __future__ import annotations

import json
import math
import re
from typing import Any, NoReturn

from fairwitness.core.errors import JsonError

NESTING_MAX = 40
INTEGER_MAX = 2**63 - 1
"""What the database and every other reader of JSON can hold."""
UNWRITABLE = re.compile("[\x00\ud800-\udfff]")
"""The zero character and halves of a surrogate pair: no UTF-8 text holds the latter, no database likes the former."""
NOT_TEXT = "There is a character that cannot be kept as text."
TOO_DEEP = "It is nested too deeply."
TYPE_ANEW = "Type the words again."


def parse_json(raw: bytes | str, *, where: str = "") -> Any:
    """Read JSON.

    Parameters
    ----------
    raw : bytes or str
        UTF-8, with or without a byte order mark.
    where : str
        What it is, for the words of a refusal.

    Returns
    -------
    dict, list, str, int, float, bool or None

    Raises
    ------
    JsonError
        It is no UTF-8 or no JSON, nested too deeply, has numbers that are none (``NaN``) or out of range, or
        characters that cannot be stored.
    """

    def no_number(word: str) -> NoReturn:
        raise JsonError(f"{word} is not a number.", where=where)

    try:
        text = raw.decode("utf-8-sig") if isinstance(raw, bytes) else raw
        value = json.loads(text, parse_constant=no_number)
    except UnicodeDecodeError:
        raise JsonError("It is not UTF-8 text.", where=where) from None
    except RecursionError:
        raise JsonError(TOO_DEEP, where=where) from None
    except ValueError as error:
        line = getattr(error, "lineno", None)
        at = f" at line {line}" if line else ""
        raise JsonError(f"It is not JSON{at}.", where=where) from None
    _check(value, where)
    return value


def _check(value: object, where: str) -> None:
    """Walk without recursion: what is nested deeply must not end the walk either."""
    stack: list[tuple[object, str, int]] = [(value, where, 1)]
    while stack:
        item, at, depth = stack.pop()
        if depth > NESTING_MAX:
            raise JsonError(TOO_DEEP, where=where)
        if isinstance(item, dict):
            for key, inner in item.items():
                _check_text(key, at)
                stack.append((inner, f"{at}.{key}" if at else key, depth + 1))
        elif isinstance(item, list):
            stack.extend((inner, at, depth + 1) for inner in item)
        elif isinstance(item, str):
            _check_text(item, at)
        elif isinstance(item, int | float) and not isinstance(item, bool):
            _check_number(item, at)


def _check_text(text: str, where: str) -> None:
    if UNWRITABLE.search(text):
        raise JsonError(NOT_TEXT, where=UNWRITABLE.sub("?", where), remedy=TYPE_ANEW)


def _check_number(number: float, where: str) -> None:
    if not math.isfinite(number) if isinstance(number, float) else abs(number) > INTEGER_MAX:
        raise JsonError("A number is too large.", where=where)

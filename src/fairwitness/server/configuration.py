"""Settings of a workshop, from the environment: each with a safe default, nonsense refused at the start in words."""

from __future__ import annotations

import re
from collections.abc import Mapping

from django.core.exceptions import ImproperlyConfigured

HOST = re.compile(r"\[[0-9a-f:.]+\]|\.?[a-z0-9]([a-z0-9.-]*[a-z0-9])?|\*", re.IGNORECASE)
ORIGIN = re.compile(r"https?://[a-z0-9.\[\]:*-]+", re.IGNORECASE)


def number(given: Mapping[str, str], name: str, usual: float, *, least: float, most: float) -> float:
    """A number within bounds.

    Raises
    ------
    ImproperlyConfigured
    """
    text = given.get(name, "").strip()
    if not text:
        return usual
    try:
        value = float(text)
    except ValueError:
        raise ImproperlyConfigured(f"{name}={text!r} is no number.") from None
    if not least <= value <= most:
        raise ImproperlyConfigured(f"{name}={text} lies outside {least:g} to {most:g}.")
    return value


def switch(given: Mapping[str, str], name: str) -> bool:
    """Something on (1) or off (0, or not given).

    Raises
    ------
    ImproperlyConfigured
    """
    text = given.get(name, "").strip()
    if text not in ("", "0", "1"):
        raise ImproperlyConfigured(f"{name}={text!r}: say 1 for on, 0 for off.")
    return text == "1"


def hosts(given: Mapping[str, str], name: str, usual: str) -> list[str]:
    """Names the server answers to, with commas between them.

    Raises
    ------
    ImproperlyConfigured
        One is no name of a host: an address with a scheme, a port or a path.
    """
    return _listed(given, name, usual, HOST, "a host's name alone, such as shop.example")


def origins(given: Mapping[str, str], name: str) -> list[str]:
    """Addresses that pages are served from by a proxy in front, with commas between them.

    Raises
    ------
    ImproperlyConfigured
        One does not begin with its scheme, or has a path.
    """
    return _listed(given, name, "", ORIGIN, "a scheme and a host, such as https://shop.example")


def _listed(given: Mapping[str, str], name: str, usual: str, form: re.Pattern[str], wanted: str) -> list[str]:
    said = [word.strip() for word in given.get(name, usual).split(",") if word.strip()]
    for word in said:
        if not form.fullmatch(word):
            raise ImproperlyConfigured(f"{name}: {word!r} is not {wanted}.")
    if usual and not said:
        raise ImproperlyConfigured(f"{name} is empty: nobody could reach the server.")
    return said

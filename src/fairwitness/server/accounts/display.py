"""How a person reads: units of his own, and the decimal mark of his browser's language."""

from __future__ import annotations

from collections.abc import Mapping

from django.conf import settings
from django.http import HttpRequest
from django.utils.formats import get_format
from django.utils.translation.trans_real import get_supported_language_variant, parse_accept_lang_header
from rest_framework.request import Request

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import QUANTITIES, Display
from fairwitness.server.accounts.models import User


def display_of(request: Request | HttpRequest) -> Display:
    """Display of whoever sent a request.

    Parameters
    ----------
    request : Request or HttpRequest

    Returns
    -------
    Display
        The usual units for somebody who is not logged in.
    """
    plain = request._request if isinstance(request, Request) else request
    return display_for(request.user, plain.headers.get("Accept-Language", ""))


def display_for(user: object, accepted: str) -> Display:
    """Display of a person whose browser asks for some languages, also where no request is at hand.

    Parameters
    ----------
    user : User or anybody
    accepted : str
        An ``Accept-Language`` header.

    Returns
    -------
    Display
    """
    languages = [name for name, _ in parse_accept_lang_header(accepted)]
    known = next((lang for name in languages if (lang := _supported(name))), settings.LANGUAGE_CODE)
    units = user.units if isinstance(user, User) else {}
    return Display(units=units, decimal=str(get_format("DECIMAL_SEPARATOR", lang=known, use_l10n=True)))


def _supported(language: str) -> str:
    try:
        return get_supported_language_variant(language)
    except LookupError:
        return ""


def set_units(user: User, units: Mapping[str, str]) -> None:
    """Choose the units a person reads in; what is left out stays.

    Raises
    ------
    ObservationError
        A quantity or a unit that is not offered.
    """
    for quantity, unit in units.items():
        if unit not in QUANTITIES.get(quantity, {}):
            offered = ", ".join(QUANTITIES.get(quantity, {})) or "none"
            raise ObservationError(f"{unit!r} is not offered.", where=quantity, remedy=f"Choose of: {offered}.")
    user.units = {**user.units, **units}
    user.save(update_fields=["units"])

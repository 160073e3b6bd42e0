"""The shop as its sheets show it: name, address, logo, currency, language, and whether links are handed out."""

from __future__ import annotations

import io
from typing import Any

from PIL import Image, ImageOps

from fairwitness.core.errors import ObservationError, PackageError
from fairwitness.server.accounts.models import User, Workshop
from fairwitness.server.accounts.permissions import require
from fairwitness.server.pictures.checking import PictureKind, check
from fairwitness.server.sheets import languages

LOGO_SIDE = 600
"""Pixels: enough for 36 mm on paper."""
LOGO_BYTES_MAX = 4_000_000
RIGHT = "set_workshop"


def workshop() -> Workshop:
    """The shop, as far as it was described."""
    return Workshop.objects.first() or Workshop(pk=1, name="")


def describe(changes: dict[str, Any], *, by: User) -> Workshop:
    """Change what is said of the shop; what is left out stays.

    Raises
    ------
    PermissionDenied
    ObservationError
        No name, or a language that is not offered.
    """
    require(by, RIGHT)
    if "name" in changes and not changes["name"].strip():
        raise ObservationError("A shop has a name.", where="name")
    if changes.get("language") and changes["language"] not in languages.offered():
        raise ObservationError(f"There are no words in {changes['language']!r}.", where="language")
    shop = workshop()
    for key, value in changes.items():
        setattr(shop, key, value.strip() if isinstance(value, str) else value)
    shop.save()
    return shop


def set_logo(data: bytes | None, *, by: User) -> Workshop:
    """Keep a logo, small and stripped; None takes it off.

    Raises
    ------
    PermissionDenied
    PackageError
        It is no picture, or too large.
    """
    require(by, RIGHT)
    shop = workshop()
    shop.logo = None if data is None else _small(data)
    shop.save()
    return shop


def _small(data: bytes) -> bytes:
    if len(data) > LOGO_BYTES_MAX:
        raise PackageError(f"A logo is smaller than {LOGO_BYTES_MAX // 1_000_000} MB.", where="file")
    checked = check(data)
    if checked.kind is not PictureKind.PHOTO:
        raise PackageError("A logo is a picture.", where="file", remedy="Choose a PNG or JPEG file.")
    with Image.open(io.BytesIO(checked.data)) as image:
        upright = ImageOps.exif_transpose(image).convert("RGBA")
        upright.thumbnail((LOGO_SIDE, LOGO_SIDE))
        written = io.BytesIO()
        upright.save(written, "PNG")
        return written.getvalue()

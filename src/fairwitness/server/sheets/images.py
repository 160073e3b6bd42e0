"""Pictures as they stand on paper: upright, no larger than print needs, as data URIs with their marks on top."""

from __future__ import annotations

import base64
import io
from dataclasses import dataclass
from functools import lru_cache

from django.utils.safestring import SafeString
from PIL import Image as Pillow
from PIL import ImageOps

from fairwitness.server.pictures.models import Picture
from fairwitness.server.pictures.services import whole_file
from fairwitness.server.sheets.drawing import marks, titled

SIDE_MOST = 900
"""Pixels: 90 mm at 254 dots per inch."""
QUALITY = 82
MARKS = "·"
"""What is read aloud of marks on a picture without words."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Image:
    """A picture and what is drawn on it."""

    uri: str
    marks: SafeString | None
    alt: str


def image_of(picture: Picture) -> Image:
    """A kept picture for paper.

    Raises
    ------
    ObservationError
        Its bytes are not what was kept.
    """
    uri, width, height = _printed(picture.pk, picture.sha256)
    drawn = titled(marks(picture.marks, width, height), picture.words or MARKS) if picture.marks else None
    return Image(uri=uri, marks=drawn, alt=picture.words)


def signature_uri(picture: Picture) -> str:
    """A signature, its paper left white."""
    return _printed(picture.pk, picture.sha256)[0]


def png_uri(data: bytes) -> str:
    """A PNG as a data URI."""
    return "data:image/png;base64," + base64.b64encode(data).decode()


@lru_cache(maxsize=32)
def _printed(picture_id: int, _sha256: str) -> tuple[str, int, int]:
    """What is kept never changes, so neither does its print."""
    picture = Picture.objects.select_related("file").get(pk=picture_id)
    with Pillow.open(io.BytesIO(whole_file(picture))) as image:
        image.draft("RGB", (SIDE_MOST, SIDE_MOST))
        upright = ImageOps.exif_transpose(image)
        upright.thumbnail((SIDE_MOST, SIDE_MOST))
        flat = Pillow.new("RGB", upright.size, "white")
        flat.paste(upright.convert("RGBA"), mask=upright.convert("RGBA").getchannel("A"))
        written = io.BytesIO()
        flat.save(written, "JPEG", quality=QUALITY)
        return "data:image/jpeg;base64," + base64.b64encode(written.getvalue()).decode(), *flat.size

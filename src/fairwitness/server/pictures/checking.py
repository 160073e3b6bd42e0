"""A picture or a sound as it comes from a phone: what it really is, within bounds, and nothing in it but itself.

It is decoded and written anew, so that place, owner and whatever else was hidden in the file do not come along. A JPEG
keeps its own quantisation, a PNG loses nothing; how it was held is kept as the orientation alone.
"""

from __future__ import annotations

import io
import threading
import warnings
import wave
from dataclasses import dataclass
from enum import StrEnum

from PIL import Image, ImageOps, UnidentifiedImageError

from fairwitness.core.errors import PackageError

BYTES_MAX = 24 * 1024 * 1024
PIXELS_MAX = 50_000_000
"""More than any phone of a workshop takes; decoded it is 150 MB, one at a time."""
SIDE_MIN = 8
THUMB_SIDE = 320
SOUND_SECONDS_MAX = 60
SOUND_RATES = (4_000, 96_000)
QUALITY = 90
ORIENTATION = 0x0112
EXIF_KEPT = (ORIENTATION,)
_ONE_AT_A_TIME = threading.BoundedSemaphore(1)
Image.MAX_IMAGE_PIXELS = PIXELS_MAX
warnings.simplefilter("ignore", Image.DecompressionBombWarning)  # refused here by the head of the file, in words


class PictureKind(StrEnum):
    """What is kept."""

    PHOTO = "photo"
    SOUND = "sound"


MIMES = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
SOUND_MIME = "audio/wav"
SUFFIXES = {"image/jpeg": ".jpg", "image/png": ".png", "image/webp": ".webp", SOUND_MIME: ".wav"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Checked:
    """A file that may be kept.

    Parameters
    ----------
    kind : PictureKind
    mime : str
    data : bytes
        Without anything but the picture or the sound.
    thumb : bytes
        A small JPEG, upright; empty for a sound.
    width, height : int, px
        As one looks at it; 0 for a sound.
    seconds : float, s
        0 for a picture.
    """

    kind: PictureKind
    mime: str
    data: bytes
    thumb: bytes = b""
    width: int = 0
    height: int = 0
    seconds: float = 0.0


def check(data: bytes) -> Checked:
    """Take a picture or a sound apart and write it anew.

    Parameters
    ----------
    data : bytes
        A JPEG, PNG, WebP or WAV file, whatever its name says.

    Returns
    -------
    Checked

    Raises
    ------
    PackageError
        It is none of these, too large, moves, or is damaged.
    """
    if len(data) > BYTES_MAX:
        raise PackageError(
            f"The file is larger than {BYTES_MAX // 1_000_000} MB.", remedy="Take it with fewer pixels, or shorter."
        )
    if data[:4] == b"RIFF" and data[8:12] == b"WAVE":
        return _sound(data)
    with _ONE_AT_A_TIME:
        return _photo(data)


def _photo(data: bytes) -> Checked:
    try:
        with Image.open(io.BytesIO(data), formats=list(MIMES)) as image:
            _within_bounds(image)
            mime = MIMES[image.format or ""]
            written = _anew(image)
            upright = ImageOps.exif_transpose(image)
            width, height = upright.size
            upright.thumbnail((THUMB_SIDE, THUMB_SIDE))
            thumb = io.BytesIO()
            _on_white(upright).save(thumb, "JPEG", quality=80)
    except PackageError:
        raise
    except Image.DecompressionBombError:
        raise _too_many_pixels() from None
    except UnidentifiedImageError:
        raise PackageError(
            "This is no picture and no sound that is kept.", remedy="Send a JPEG, PNG, WebP or WAV file."
        ) from None
    except Exception as error:  # decoders of damaged files raise whatever they stumble over
        raise PackageError("The picture is damaged.", remedy="Take it again.") from error
    return Checked(kind=PictureKind.PHOTO, mime=mime, data=written, thumb=thumb.getvalue(), width=width, height=height)


def _within_bounds(image: Image.Image) -> None:
    """Refuse by what the head of the file says, before anything is decoded."""
    width, height = image.size
    if width * height > PIXELS_MAX:
        raise _too_many_pixels()
    if min(width, height) < SIDE_MIN:
        raise PackageError("The picture is too small to show anything.", remedy="Take it again.")
    if getattr(image, "n_frames", 1) > 1:
        raise PackageError("A picture that moves is not kept.", remedy="Send one still of it.")


def _too_many_pixels() -> PackageError:
    return PackageError(
        f"The picture has more than {PIXELS_MAX // 1_000_000} million pixels.", remedy="Take it with fewer pixels."
    )


def _anew(image: Image.Image) -> bytes:
    """The same picture in a file of its own kind that holds nothing else."""
    out = io.BytesIO()
    held = Image.Exif()
    for tag in EXIF_KEPT:
        if (value := image.getexif().get(tag)) is not None:
            held[tag] = value
    plain = {"exif": held} if len(held) else {}
    if image.format == "JPEG":
        image.save(out, "JPEG", quality="keep", icc_profile=None, comment=b"", **plain)
    elif image.format == "PNG":
        bare = image if image.mode in ("1", "L", "LA", "P", "RGB", "RGBA", "I;16") else image.convert("RGB")
        bare.info = {key: value for key, value in bare.info.items() if key == "transparency"}
        bare.save(out, "PNG", **plain)
    else:
        image.save(out, "WEBP", quality=QUALITY, icc_profile=b"", xmp=b"", **plain)
    return out.getvalue()


def _on_white(image: Image.Image) -> Image.Image:
    if image.mode in ("RGB", "L"):
        return image
    held = image.convert("RGBA")
    return Image.alpha_composite(Image.new("RGBA", held.size, "white"), held).convert("RGB")


def _sound(data: bytes) -> Checked:
    try:
        with wave.open(io.BytesIO(data), "rb") as sound:
            rate, channels, width = sound.getframerate(), sound.getnchannels(), sound.getsampwidth()
            low, high = SOUND_RATES
            if not (low <= rate <= high and channels in (1, 2) and width in (1, 2, 3)):
                raise PackageError(
                    "This kind of WAV is not kept.", remedy="Record it with 16 bits, one or two channels."
                )
            most = SOUND_SECONDS_MAX * rate
            frames = sound.readframes(most + 1)
    except (wave.Error, EOFError, OSError) as error:
        raise PackageError("The sound is damaged, or not PCM.", remedy="Record it as WAV with 16 bits.") from error
    count = len(frames) // (channels * width)
    if count > most:
        raise PackageError(f"The sound is longer than {SOUND_SECONDS_MAX} s.", remedy="Cut it to what is heard.")
    if count == 0:
        raise PackageError("The sound is empty.", remedy="Record it again.")
    out = io.BytesIO()
    with wave.open(out, "wb") as written:
        written.setnchannels(channels)
        written.setsampwidth(width)
        written.setframerate(rate)
        written.writeframes(frames)
    return Checked(kind=PictureKind.SOUND, mime=SOUND_MIME, data=out.getvalue(), seconds=count / rate)

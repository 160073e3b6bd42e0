"""Pictures and sounds as phones and hostile people send them."""

import io
import struct
import wave
import zlib

import numpy as np
from PIL import Image

PLACE = b"51 deg 30 min north"
GPS_INFO, ORIENTATION, MAKER = 0x8825, 0x0112, 0x010F


def pixels(width=64, height=48, seed=1):
    return Image.fromarray(np.random.default_rng(seed).integers(0, 255, (height, width, 3), dtype=np.uint8))


def photo(kind="JPEG", *, width=64, height=48, seed=1, orientation=None, place=False):
    """A picture, if wanted as it comes from a phone: held sideways, with its place and its maker."""
    exif = Image.Exif()
    if orientation:
        exif[ORIENTATION] = orientation
    if place:
        exif[MAKER] = "An invented phone"
        exif.get_ifd(GPS_INFO)[1] = "N"
        exif.get_ifd(GPS_INFO)[29] = PLACE.decode()
    out = io.BytesIO()
    pixels(width, height, seed).save(out, kind, exif=exif)
    return out.getvalue()


def moving(kind="WEBP"):
    out = io.BytesIO()
    pixels().save(out, kind, save_all=True, append_images=[pixels(seed=2)], duration=100)
    return out.getvalue()


def bomb(width=60_000, height=60_000):
    """A PNG of a few bytes that says it is huge."""

    def chunk(name, data):
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"\0" * 100)) + chunk(b"IEND", b"")
    )


def sound(seconds=1.0, rate=8000, *, channels=1, width=2):
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(channels)
        file.setsampwidth(width)
        file.setframerate(rate)
        file.writeframes(bytes(int(seconds * rate) * channels * width))
    return out.getvalue()

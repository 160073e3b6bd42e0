"""Pictures as they come: kept without anything but themselves, or refused in words, within bounded memory."""

import io
import tracemalloc
import wave

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from PIL.PngImagePlugin import PngInfo

from fairwitness.core.errors import PackageError
from fairwitness.server.pictures import checking
from fairwitness.server.pictures.checking import PictureKind, check
from tests.server.pictures.samples import GPS_INFO, MAKER, ORIENTATION, PLACE, bomb, moving, photo, pixels, sound


def opened(data):
    return Image.open(io.BytesIO(data))


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_place_and_owner_do_not_come_along_and_how_it_was_held_does(kind):
    sent = photo(kind, orientation=6, place=True)
    assert PLACE in sent
    kept = check(sent)
    exif = opened(kept.data).getexif()
    assert PLACE not in kept.data
    assert (exif.get(MAKER), dict(exif.get_ifd(GPS_INFO)), exif.get(ORIENTATION)) == (None, {}, 6)
    assert (kept.width, kept.height) == (48, 64)  # as one looks at it
    assert opened(kept.thumb).size[0] < opened(kept.thumb).size[1]


def test_a_png_keeps_every_pixel_and_nothing_that_was_written_into_it():
    out = io.BytesIO()
    info = PngInfo()
    info.add_text("Comment", "secret")
    pixels().save(out, "PNG", pnginfo=info)
    kept = check(out.getvalue())
    assert b"secret" not in kept.data
    assert np.array_equal(np.asarray(opened(kept.data)), np.asarray(pixels()))


def test_a_jpeg_keeps_its_own_quantisation():
    sent = photo("JPEG")
    assert opened(check(sent).data).quantization == opened(sent).quantization


def test_what_hangs_behind_a_picture_is_left_behind():
    kept = check(photo("JPEG") + b"PK\x03\x04<script>alert(1)</script>")
    assert b"script" not in kept.data


@pytest.mark.parametrize("mode", ["L", "LA", "P", "RGBA", "1", "I;16"])
def test_every_kind_of_png_gives_a_thumbnail(mode):
    out = io.BytesIO()
    (Image.new("I;16", (40, 30), 300) if mode == "I;16" else pixels(40, 30).convert(mode)).save(out, "PNG")
    assert opened(check(out.getvalue()).thumb).format == "JPEG"


@pytest.mark.parametrize(
    ("sent", "words"),
    [
        (bomb(), "million pixels"),
        (bomb(10_000, 10_000), "million pixels"),
        (moving(), "moves"),
        (photo("PNG")[:200], "damaged"),
        (photo("JPEG")[:60], "no picture|damaged"),
        (photo("GIF"), "no picture"),
        (photo("TIFF"), "no picture"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "no picture"),
        (b"%PDF-1.4", "no picture"),
        (b"", "no picture"),
        (photo("PNG", width=4, height=4), "too small"),
        (b"\0" * (checking.BYTES_MAX + 1), "larger than"),
    ],
)
def test_what_is_no_picture_is_refused_in_words(sent, words):
    with pytest.raises(PackageError, match=words):
        check(sent)


def test_a_bomb_costs_no_memory():
    tracemalloc.start()
    with pytest.raises(PackageError):
        check(bomb())
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 20e6


@settings(max_examples=60)
@given(
    st.binary(max_size=300),
    st.sampled_from([b"", b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff", b"RIFF\0\0\0\0WEBP", b"RIFF\0\0\0\0WAVE"]),
)
def test_whatever_is_sent_is_kept_or_refused_in_words(rest, head):
    try:
        kept = check(head + rest)
    except PackageError as refusal:
        assert refusal.what
    else:
        assert kept.data


@settings(max_examples=40)
@given(st.integers(0, 2**31), st.integers(0, 255), st.sampled_from(["JPEG", "PNG", "WEBP"]))
def test_a_picture_with_a_changed_byte_is_kept_or_refused_in_words(at, value, kind):
    sent = bytearray(photo(kind))
    sent[at % len(sent)] = value
    try:
        check(bytes(sent))
    except PackageError as refusal:
        assert refusal.what


def test_a_sound_keeps_its_samples_and_nothing_else():
    kept = check(sound(0.5, 8000) + b"LIST\x04\0\0\0INFO")
    assert (kept.kind, kept.seconds, kept.mime) == (PictureKind.SOUND, 0.5, "audio/wav")
    with wave.open(io.BytesIO(kept.data)) as file:
        assert (file.getnframes(), file.getframerate()) == (4000, 8000)
    assert b"INFO" not in kept.data


@pytest.mark.parametrize(
    ("sent", "words"),
    [
        (sound(61), "longer than"),
        (sound(0), "empty"),
        (sound(1, 1000), "not kept"),
        (sound(channels=6), "not kept"),
        (sound()[:30], "damaged"),
        (sound().replace(b"\x01\0\x01\0", b"\x03\0\x01\0", 1), "damaged"),
    ],
)
def test_a_sound_that_is_too_long_or_strange_is_refused_in_words(sent, words):
    with pytest.raises(PackageError, match=words):
        check(sent)

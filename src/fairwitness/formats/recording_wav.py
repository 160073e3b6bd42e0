"""WAV, through scipy: sound cards and data recorders write it; whole numbers are shares of the full scale.

What is written here is floating point, in single precision, or in double where a column of uneven time must fit. What
the columns are stands in an ``INFO`` comment, as other programs leave it alone there.
"""

from __future__ import annotations

import io
import json
import struct
import warnings
from typing import Any

import numpy as np

from fairwitness.core.errors import TableError
from fairwitness.core.model.capture import Capture, SampleArray
from fairwitness.formats.recording import Recording, Source, about_of, columns_of, floats, reported
from fairwitness.formats.tables import COLUMNS_MAX

COMMENT = b"ICMT"
RATE_MOST = 2**32 - 1


def read(source: Source) -> Recording:
    """Channels of a WAV file, its rate, and what was written beside them."""
    from scipy.io import wavfile

    data = source if isinstance(source, bytes) else source.read_bytes()
    with warnings.catch_warnings():
        warnings.simplefilter("error", wavfile.WavFileWarning)  # a file that ends early is no shorter recording
        warnings.filterwarnings("ignore", message="Chunk")
        rate, samples = wavfile.read(io.BytesIO(data))
    wide = samples.reshape(samples.shape[0], -1)
    if wide.shape[1] > COLUMNS_MAX:
        raise TableError("The file holds too many channels.", remedy="Export fewer.")
    about = reported(_comment(data))
    names = [c["name"] for c in about.get("channels", [])]
    if len(names) != wide.shape[1]:
        about, names = {}, [f"channel {i + 1}" for i in range(wide.shape[1])]
    columns: dict[str, SampleArray] = {n: _shares(wide[:, i]) for i, n in enumerate(names)}
    return Recording(columns=columns, units=dict.fromkeys(columns), about=about, rate_hz=float(rate) or None)


def _shares(samples: np.ndarray[Any, Any]) -> SampleArray:
    """Floating point as it is; whole numbers as shares of the full scale, those of one byte counted from its middle."""
    if samples.dtype.kind == "f":
        return floats(samples)
    if samples.dtype == np.uint8:
        return floats((samples.astype(np.float64) - 128.0) / 128.0)
    return floats(samples.astype(np.float64) / -float(np.iinfo(samples.dtype).min))


def _comment(data: bytes) -> str | None:
    """The comment of an INFO list; None where there is none."""
    at = data.find(COMMENT)
    if at < 0 or at + 8 > len(data):
        return None
    (size,) = struct.unpack_from("<I", data, at + 4)
    return data[at + 8 : at + 8 + size].rstrip(b"\x00").decode("utf-8", errors="replace")


def write(capture: Capture) -> bytes:
    """A capture as a WAV file."""
    from scipy.io import wavfile

    held = columns_of(capture)
    exact = capture.time.stamps_s is not None
    samples = np.stack([np.asarray(v, dtype=np.float64 if exact else np.float32) for v in held.values()], axis=1)
    rate = int(min(max(round(capture.time.rate_hz), 1), RATE_MOST))
    out = io.BytesIO()
    wavfile.write(out, rate, samples)
    text = json.dumps(about_of(capture)).encode() + b"\x00"
    text += b"\x00" * (len(text) % 2)
    chunk = b"INFO" + COMMENT + struct.pack("<I", len(text)) + text
    whole = out.getvalue() + b"LIST" + struct.pack("<I", len(chunk)) + chunk
    return whole[:4] + struct.pack("<I", len(whole) - 8) + whole[8:]

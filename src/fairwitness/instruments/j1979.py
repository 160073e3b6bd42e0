"""SAE J1979 services as bytes: live data, codes, misfire monitors. Pure functions both ends share.

Encodings [P: SAE J1979 / ISO 15031-5, annexes on PIDs, DTC format and monitor data]. Two services are stand-ins in the
manner of ISO 14229, documented in docs/instruments.md: cutting a cylinder and the table of cranking speeds.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from fairwitness.core.errors import InstrumentError

LIVE, STORED, CLEAR, MONITORS, PENDING = 0x01, 0x03, 0x04, 0x06, 0x07
READ_TABLE, CUT = 0x22, 0x2F
ANSWER = 0x40
"""Added to the service in a positive answer."""
REFUSED = 0x7F
NOT_SUPPORTED, WRONG_LENGTH, NOT_NOW, OUT_OF_RANGE = 0x11, 0x13, 0x22, 0x31
REASONS = {
    NOT_SUPPORTED: "the control unit does not know this service",
    WRONG_LENGTH: "the request has the wrong length",
    NOT_NOW: "not in this state of the engine",
    OUT_OF_RANGE: "the control unit does not know this item",
}
MISFIRE_FIRST_MONITOR = 0xA2
"""Monitor of cylinder 1; the following ones are of the following cylinders."""
MISFIRE_NOW = 0x0C
"""Test id: misfire counts of the current or last driving cycle."""
MISFIRE_MEAN = 0x0B
"""Test id: exponentially weighted mean over the last ten driving cycles."""
COUNTS_SCALING = 0x24
"""Unit and scaling id: counts, one per bit."""
CUT_FIRST_ITEM = 0xC000
"""Stand-in: item of cylinder 0; add the cylinder."""
CUT_NOW, GIVE_BACK = 0x03, 0x00
SPEED_TABLE_ITEM = 0xC100
SPEED_PER_BIT = 0.25
SPEED_PLACEHOLDER = 0xFFFF
SYSTEMS = "PCBU"
CODE = re.compile(r"^[PCBU][0-3][0-9A-F]{3}\Z")


@dataclass(frozen=True, slots=True)
class Pid:
    """One live value: how many bytes, how they are read and written."""

    number: int
    name: str
    unit: str
    size: int
    read: Callable[[int], float]
    write: Callable[[float], int]


def _linear(scale: float, offset: float = 0.0) -> tuple[Callable[[int], float], Callable[[float], int]]:
    return (lambda raw: raw * scale + offset), (lambda value: round((value - offset) / scale))


PIDS: Mapping[int, Pid] = {
    p.number: p
    for p in (
        Pid(0x05, "coolant temperature", "degC", 1, *_linear(1.0, -40.0)),
        Pid(0x06, "short term trim bank 1", "%", 1, *_linear(100 / 128, -100.0)),
        Pid(0x07, "long term trim bank 1", "%", 1, *_linear(100 / 128, -100.0)),
        Pid(0x08, "short term trim bank 2", "%", 1, *_linear(100 / 128, -100.0)),
        Pid(0x09, "long term trim bank 2", "%", 1, *_linear(100 / 128, -100.0)),
        Pid(0x0B, "manifold pressure", "kPa", 1, *_linear(1.0)),
        Pid(0x0C, "engine speed", "rpm", 2, *_linear(0.25)),
        Pid(0x42, "control unit voltage", "V", 2, *_linear(0.001)),
    )
}


def encode_code(code: str) -> bytes:
    """Two bytes of a trouble code such as P0303.

    Raises
    ------
    InstrumentError
        Not a trouble code.
    """
    if not CODE.match(code):
        raise InstrumentError(f"{code!r} is no trouble code.")
    return (SYSTEMS.index(code[0]) << 14 | int(code[1:], 16)).to_bytes(2, "big")


def decode_code(raw: bytes) -> str:
    """A trouble code of its two bytes."""
    value = int.from_bytes(raw[:2], "big")
    return f"{SYSTEMS[value >> 14]}{value >> 12 & 3}{value & 0xFFF:03X}"


def encode_codes(service: int, codes: Sequence[str]) -> bytes:
    """Answer to a request for codes: how many, then two bytes each."""
    return bytes((service + ANSWER, len(codes))) + b"".join(encode_code(c) for c in codes)


def decode_codes(answer: bytes) -> tuple[str, ...]:
    """Codes of such an answer.

    Raises
    ------
    InstrumentError
        Shorter than it says.
    """
    if len(answer) < 2 or len(answer) < 2 + 2 * answer[1]:
        raise InstrumentError("The control unit's list of codes is cut off.", remedy="Read again.")
    return tuple(decode_code(answer[2 + 2 * i : 4 + 2 * i]) for i in range(answer[1]))


def encode_value(pid: Pid, value: float) -> bytes:
    """A live value as bytes, held within what they can say."""
    raw = int(min(max(pid.write(value), 0), 256**pid.size - 1))
    return raw.to_bytes(pid.size, "big")


def decode_value(pid: Pid, raw: bytes) -> float:
    """A live value of its bytes.

    Raises
    ------
    InstrumentError
        Too few.
    """
    if len(raw) < pid.size:
        raise InstrumentError(f"The answer for {pid.name} is cut off.", remedy="Read again.")
    return pid.read(int.from_bytes(raw[: pid.size], "big"))


def supported(first: int) -> bytes:
    """Bit mask of the values known among the 32 after ``first``: value first+1 is the highest bit."""
    mask = 0
    for number in (*PIDS, 0x20, 0x40):
        if first < number <= first + 32:
            mask |= 1 << (32 - (number - first))
    return mask.to_bytes(4, "big")


def decode_supported(first: int, raw: bytes) -> tuple[int, ...]:
    """Numbers of the values a mask names."""
    mask = int.from_bytes(raw[:4], "big")
    return tuple(first + i for i in range(1, 33) if mask & 1 << (32 - i))


def encode_misfires(cylinder: int, counts: int, mean: int) -> bytes:
    """Monitor data of one cylinder: two tests of monitor, test, scaling, value, lower and upper limit."""
    monitor = MISFIRE_FIRST_MONITOR + cylinder - 1
    body = b""
    for test, value in ((MISFIRE_MEAN, mean), (MISFIRE_NOW, counts)):
        body += bytes((monitor, test, COUNTS_SCALING)) + min(value, 0xFFFF).to_bytes(2, "big") + b"\x00\x00\xff\xff"
    return bytes((MONITORS + ANSWER,)) + body


def decode_misfires(answer: bytes) -> dict[int, int]:
    """Counts of the current driving cycle per cylinder.

    Parameters
    ----------
    answer : bytes
        One or more tests of nine bytes after the service.

    Returns
    -------
    dict of cylinder to count
    """
    counts = {}
    for at in range(1, len(answer) - 8, 9):
        monitor, test, scaling = answer[at : at + 3]
        if test == MISFIRE_NOW and scaling == COUNTS_SCALING and monitor >= MISFIRE_FIRST_MONITOR:
            counts[monitor - MISFIRE_FIRST_MONITOR + 1] = int.from_bytes(answer[at + 3 : at + 5], "big")
    return counts


def encode_speeds(table: Mapping[int, float], cylinders: int) -> bytes:
    """Stand-in: cranking speed of each cylinder, a placeholder where there is none."""
    body = b""
    for cylinder in range(1, cylinders + 1):
        rpm = table.get(cylinder)
        raw = SPEED_PLACEHOLDER if rpm is None else min(round(rpm / SPEED_PER_BIT), SPEED_PLACEHOLDER - 1)
        body += raw.to_bytes(2, "big")
    return bytes((READ_TABLE + ANSWER,)) + SPEED_TABLE_ITEM.to_bytes(2, "big") + bytes((cylinders,)) + body


def decode_speeds(answer: bytes) -> dict[int, float]:
    """Speeds of such an answer, placeholders left out."""
    table = {}
    for i in range(answer[3] if len(answer) > 3 else 0):
        raw = int.from_bytes(answer[4 + 2 * i : 6 + 2 * i], "big")
        if raw != SPEED_PLACEHOLDER and len(answer) >= 6 + 2 * i:
            table[i + 1] = raw * SPEED_PER_BIT
    return table


def refuse(service: int, reason: int) -> bytes:
    """A negative answer."""
    return bytes((REFUSED, service, reason))

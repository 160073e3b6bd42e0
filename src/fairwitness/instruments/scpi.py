"""Just enough of SCPI and IEEE 488.2 for a scope: headers, arguments, the error queue, definite-length blocks."""

from __future__ import annotations

import re
from collections import deque
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import InstrumentError

HEADER = re.compile(r"^(?P<words>\*?[A-Za-z:]+[A-Za-z0-9:]*)(?P<asks>\?)?(?:\s+(?P<rest>.*))?$", re.S)
ERRORS_KEPT = 20
OPERATION_COMPLETE, QUERY_ERROR, DEVICE_ERROR, EXECUTION_ERROR, COMMAND_ERROR, POWER_ON = 1, 4, 8, 16, 32, 128
"""Bits of the standard event status register [P: IEEE 488.2]."""
ERROR_AVAILABLE, EVENT_SUMMARY = 4, 32
"""Bits of the status byte [P: IEEE 488.2, SCPI-99]."""


@dataclass(frozen=True, slots=True)
class Message:
    """One program message unit.

    ``words`` are the mnemonics in capitals and short form, with the numeric suffix of the first apart.
    """

    words: tuple[str, ...]
    suffix: int
    asks: bool
    arguments: tuple[str, ...]


def parse(text: str) -> Message:
    """Read one program message unit.

    Parameters
    ----------
    text : str

    Returns
    -------
    Message

    Raises
    ------
    InstrumentError
        Not a program message.
    """
    match = HEADER.match(text.strip())
    if match is None:
        raise InstrumentError(f"{text.strip()[:40]!r} is no command.")
    suffix = 0
    words = []
    for word in match["words"].lstrip(":").split(":"):
        bare = word.rstrip("0123456789")
        if len(bare) < len(word):
            suffix = int(word[len(bare) :])
        words.append(short_form(bare))
    return Message(tuple(words), suffix, bool(match["asks"]), _arguments(match["rest"] or ""))


def short_form(word: str) -> str:
    """The short form of a mnemonic: four letters, three where the fourth is a vowel [P: SCPI-99 vol. 1, 6.2.1]."""
    capitals = word.upper()
    if capitals.startswith("*") or len(capitals) <= 4:
        return capitals
    return capitals[:3] if capitals[3] in "AEIOU" else capitals[:4]


def _arguments(rest: str) -> tuple[str, ...]:
    """Split at commas outside quotes; quotes come off."""
    parts = re.findall(r'"((?:[^"]|"")*)"|([^,"\s][^,"]*)', rest)
    return tuple(quoted.replace('""', '"') if quoted or not bare else bare.strip() for quoted, bare in parts)


def block(samples: NDArray[np.int16]) -> bytes:
    """A definite-length arbitrary block of little-endian 16-bit samples [P: IEEE 488.2, 8.7.9]."""
    data = samples.astype("<i2").tobytes()
    digits = str(len(data))
    return f"#{len(digits)}{digits}".encode() + data


def block_length(head: bytes) -> tuple[int, int]:
    """Length of a block's header and of its data.

    Parameters
    ----------
    head : bytes
        The first bytes of an answer.

    Returns
    -------
    (header, data) : two int

    Raises
    ------
    InstrumentError
        No definite-length block.
    """
    if len(head) < 2 or head[:1] != b"#" or not head[1:2].isdigit() or head[1:2] == b"0":
        raise InstrumentError("The scope sent no block of samples.", remedy="Reconnect it.")
    digits = int(head[1:2])
    if len(head) < 2 + digits or not head[2 : 2 + digits].isdigit():
        raise InstrumentError("The scope sent a broken block of samples.", remedy="Reconnect it.")
    return 2 + digits, int(head[2 : 2 + digits])


@dataclass(slots=True)
class Status:
    """Status registers and the error queue of one instrument."""

    event: int = POWER_ON
    event_mask: int = 0
    service_mask: int = 0
    errors: deque[tuple[int, str]] = field(default_factory=lambda: deque(maxlen=ERRORS_KEPT))

    def fail(self, number: int, text: str) -> None:
        """Note an error: SCPI numbers, -100s command, -200s execution, -300s device [P: SCPI-99 vol. 2, 21.8]."""
        self.errors.append((number, text))
        self.event |= COMMAND_ERROR if number > -200 else EXECUTION_ERROR if number > -300 else DEVICE_ERROR

    def next_error(self) -> str:
        """Take the oldest error."""
        number, text = self.errors.popleft() if self.errors else (0, "No error")
        return f'{number},"{text}"'

    def read_event(self) -> int:
        """The event register; reading clears it."""
        event, self.event = self.event, 0
        return event

    @property
    def byte(self) -> int:
        """The status byte."""
        return (ERROR_AVAILABLE if self.errors else 0) | (EVENT_SUMMARY if self.event & self.event_mask else 0)

    def clear(self) -> None:
        """As ``*CLS``."""
        self.event = 0
        self.errors.clear()

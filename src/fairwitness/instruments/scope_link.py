"""The application's end of a scope: any instrument that speaks this SCPI, through a general VISA library."""

from __future__ import annotations

import threading
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import InstrumentError
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.instruments.scpi import block_length

TIME_OUT_MS = 2_000
HEAD_BYTES = 2
STAND_IN = "STAND-IN"
GONE = "Check its power and cable, then connect again. What was recorded until then is kept."


@dataclass(frozen=True, slots=True, kw_only=True)
class Lead:
    """One channel as the technician sets it up."""

    channel: int
    clip: Clip
    unit: str
    reach: float
    probe: float = 1.0
    zero: float = 0.0
    noise: float = 0.0


class ScopeLink:
    """A connected scope.

    Parameters
    ----------
    address : str
        VISA resource name.

    Raises
    ------
    InstrumentError
        Nobody answers there.
    """

    def __init__(self, address: str, *, time_out_ms: int = TIME_OUT_MS) -> None:
        import pyvisa

        # A wire that somebody closed meanwhile has no handle to wait on: the library stumbles over that by its type.
        self._errors: tuple[type[Exception], ...] = (pyvisa.errors.Error, OSError, EOFError, TypeError)
        self.address = address
        self._scales: dict[int, float] = {}
        self._lock = threading.RLock()
        with self._reported():
            manager = pyvisa.ResourceManager("@py")
            wire: Any = manager.open_resource(address)
            self._wire = wire
            self._wire.read_termination = self._wire.write_termination = "\n"
            self._wire.timeout = time_out_ms
        self.identity = self.ask("*IDN?")

    @contextmanager
    def _reported(self) -> Iterator[None]:
        """One exchange at a time: whoever polls and whoever stops share the wire."""
        try:
            with self._lock:
                yield
        except self._errors as error:
            raise InstrumentError("The scope does not answer.", where=self.address, remedy=GONE) from error

    def ask(self, question: str) -> str:
        """One query.

        Raises
        ------
        InstrumentError
            No answer, or not text.
        """
        with self._reported():
            try:
                return str(self._wire.query(question)).strip()
            except UnicodeDecodeError as error:
                raise InstrumentError("The scope answered garbage.", where=self.address, remedy=GONE) from error

    def tell(self, *commands: str) -> None:
        """Commands, checked against the instrument's error queue.

        Raises
        ------
        InstrumentError
            No answer, or the instrument refused one.
        """
        with self._reported():
            self._wire.write(";".join(f":{c}" if not c.startswith("*") else c for c in commands))
        refused = self.ask("SYST:ERR?")
        if not refused.startswith("0,"):
            raise InstrumentError(f"The scope refuses: {refused.partition(',')[2].strip(chr(34))}.", where=self.address)

    def set_up(self, leads: Sequence[Lead], *, rate_hz: float, seconds: float) -> None:
        """Forget earlier settings and set the channels.

        Raises
        ------
        InstrumentError
        """
        self.tell("*RST", "*CLS")
        for lead in leads:
            n, clip = lead.channel, lead.clip
            self.tell(
                f"CHAN{n}:STAT ON",
                f'CHAN{n}:LAB "{clip.label}"',
                f'CHAN{n}:UNIT "{lead.unit}"',
                f"CHAN{n}:RANG {lead.reach:g}",
                f"CHAN{n}:PROB {lead.probe:g}",
                f"CHAN{n}:OFFS {lead.zero:g}",
            )
            if STAND_IN in self.identity:
                self._clip_on(lead)
        self.tell(f"TIM:RATE {rate_hz:g}", f"TIM:LENG {seconds:g}")
        self._scales = {lead.channel: float(self.ask(f"WAV:SCAL? {lead.channel}")) for lead in leads}

    def _clip_on(self, lead: Lead) -> None:
        """A hand clips a real lead on; the stand-in has to be told."""
        n, clip = lead.channel, lead.clip
        feeds = " ".join(map(str, clip.feeds))
        flags = " ".join(f for f, on in (("unit", clip.at_unit), ("unplugged", clip.unplugged)) if on)
        where = f'"{clip.role.value}","{clip.cylinder or 0}","{feeds}","{flags}"'
        self.tell(f"CHAN{n}:NOIS {lead.noise:g}", f"CHAN{n}:CLIP {where}")

    def start(self) -> None:
        """Begin to record."""
        self.tell("ACQ:STAR")

    def stop(self) -> None:
        """End the recording; what is there stays."""
        self.tell("ACQ:STOP")

    @property
    def recording(self) -> bool:
        """Whether more samples will come."""
        return self.ask("ACQ:STAT?") == "RUN"

    @property
    def points(self) -> int:
        """Samples per channel so far.

        Raises
        ------
        InstrumentError
            No answer, or not a number.
        """
        said = self.ask("ACQ:POIN?")
        if not said.isdigit():
            raise InstrumentError("The scope answered garbage.", where=self.address, remedy=GONE)
        return int(said)

    def fetch(self, channel: int, first: int, count: int) -> NDArray[np.float32]:
        """Samples of one channel.

        Parameters
        ----------
        channel, first, count : int

        Returns
        -------
        (k,) float32, in the channel's unit
            k may be less than asked.

        Raises
        ------
        InstrumentError
            No answer, or no block of samples.
        """
        with self._reported():
            self._wire.write(f"WAV:DATA? {channel},{first},{count}")
            head = bytes(self._wire.read_bytes(HEAD_BYTES))
            digits = int(head[1:2]) if head[1:2].isdigit() else 0
            head += bytes(self._wire.read_bytes(digits)) if digits else b""
            _, length = block_length(head)
            data = bytes(self._wire.read_bytes(length + 1, chunk_size=1 << 20))[:length]
        codes = np.frombuffer(data[: length // 2 * 2], "<i2")
        return np.asarray(codes * np.float32(self._scales.get(channel, 1.0)) + np.float32(0), dtype=np.float32)

    def close(self) -> None:
        """Let go of the instrument."""
        try:
            self._wire.close()
        except self._errors:
            return

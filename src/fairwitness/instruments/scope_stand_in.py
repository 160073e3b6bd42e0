"""A scope without hardware: SCPI over a TCP socket, its inputs clipped on the simulated bay."""

from __future__ import annotations

import socket
import socketserver
import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.errors import FairWitnessError, InstrumentError
from fairwitness.core.model.capture import Role
from fairwitness.core.model.engine import FloatArray
from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.instruments.scpi import OPERATION_COMPLETE, Message, Status, block, parse

CHANNELS = 8
CODES = 4096
"""A 12-bit converter."""
INPUT_V_MAX = 100.0
"""Beyond this an input is overloaded: attenuate."""
LINE_BYTES_MAX = 4096
BLOCK_SAMPLES_MAX = 4_000_000
IDENTITY = "FAIR WITNESS,SCOPE STAND-IN,0,1.0"
VOLT_ROLES = (Role.INJECTOR_VOLTAGE, Role.COIL_CONTROL, Role.BATTERY_VOLTAGE, Role.CRANK_SENSOR, Role.CAM_SENSOR)


class SignalSource(Protocol):
    """What the inputs are clipped on."""

    pace: float

    def signals(self, clips: Mapping[int, Clip], *, rate_hz: float, seconds: float) -> dict[int, FloatArray]:
        """Signals of channels from now on."""


@dataclass(slots=True)
class Input:
    """Settings of one channel."""

    on: bool = False
    label: str = ""
    unit: str = "V"
    reach: float = 20.0
    """Full scale each way, in the unit."""
    zero: float = 0.0
    """Zero error of the clamp, in the unit."""
    probe: float = 1.0
    """Attenuation of the lead."""
    noise: float = 0.0
    clip: Clip | None = None

    @property
    def step(self) -> float:
        """Unit per code."""
        return 2 * self.reach / CODES


@dataclass(slots=True)
class Acquisition:
    """What is being recorded: whole channels, of which time shows more and more."""

    codes: dict[int, NDArray[np.int16]]
    rate_hz: float
    began: float
    pace: float
    clock: Callable[[], float]
    stopped_at: int | None = None

    @property
    def total(self) -> int:
        """Samples per channel once it is over."""
        return next((c.size for c in self.codes.values()), 0)

    @property
    def points(self) -> int:
        """Samples per channel so far."""
        so_far = int((self.clock() - self.began) * self.pace * self.rate_hz)
        return min(so_far, self.total) if self.stopped_at is None else self.stopped_at

    @property
    def running(self) -> bool:
        """Whether more will come."""
        return self.stopped_at is None and self.points < self.total


@dataclass(slots=True)
class Scope:
    """The instrument behind the socket. One lock: two clients see one instrument."""

    source: SignalSource
    clock: Callable[[], float] = time.monotonic
    rng: np.random.Generator = field(default_factory=lambda: np.random.default_rng(0))
    inputs: dict[int, Input] = field(default_factory=lambda: {n: Input() for n in range(1, CHANNELS + 1)})
    rate_hz: float = 5_000.0
    seconds: float = 5.0
    trigger: int | None = None
    trigger_level: float = 0.0
    status: Status = field(default_factory=Status)
    acquisition: Acquisition | None = None
    lock: threading.RLock = field(default_factory=threading.RLock)

    def answer(self, line: str) -> bytes | None:
        """Carry out one line of program messages.

        Parameters
        ----------
        line : str
            Units with semicolons between them.

        Returns
        -------
        bytes or None
            The answers with semicolons between them, without a terminator.
        """
        answers = []
        with self.lock:
            for unit in _units(line):
                try:
                    said = self._one(parse(unit))
                except InstrumentError as error:
                    self.status.fail(-113, error.what[:120])
                    continue
                except FairWitnessError as error:
                    self.status.fail(-221, error.what[:120])
                    continue
                except (ValueError, IndexError, KeyError):
                    self.status.fail(-224, f"Illegal parameter value: {unit.strip()[:60]}")
                    continue
                if said is not None:
                    answers.append(said if isinstance(said, bytes) else said.encode())
        return b";".join(answers) if answers else None

    def _one(self, message: Message) -> str | bytes | None:
        if message.words[0].startswith("*"):
            return self._common(message)
        head = message.words[0]
        if head == "CHAN":
            return self._channel(message)
        if message.words == ("SYST", "ERR"):
            return self.status.next_error()
        if head in ("TIM", "TRIG"):
            return self._frame(message)
        if head in ("ACQ", "WAV"):
            return self._samples(message)
        raise InstrumentError(f"Undefined header {':'.join(message.words)}")

    def _common(self, message: Message) -> str | None:
        status = self.status
        queries: dict[str, Callable[[], str]] = {
            "*IDN": lambda: IDENTITY,
            "*ESR": lambda: str(status.read_event()),
            "*ESE": lambda: str(status.event_mask),
            "*SRE": lambda: str(status.service_mask),
            "*STB": lambda: str(status.byte),
            "*OPC": lambda: "1",
            "*TST": lambda: "0",
        }
        word = message.words[0]
        if message.asks and word in queries:
            return queries[word]()
        if word == "*RST":
            self.inputs = {n: Input() for n in self.inputs}
            self.rate_hz, self.seconds, self.trigger, self.acquisition = 5_000.0, 5.0, None, None
        elif word == "*CLS":
            status.clear()
        elif word == "*ESE":
            status.event_mask = int(message.arguments[0]) & 0xFF
        elif word == "*SRE":
            status.service_mask = int(message.arguments[0]) & 0xFF
        elif word == "*OPC":
            status.event |= OPERATION_COMPLETE
        elif word != "*WAI":
            raise InstrumentError(f"Undefined header {word}")
        return None

    def _channel(self, message: Message) -> str | None:
        channel, what = self.inputs[message.suffix], message.words[1]
        if message.asks:
            return _shown(channel, what)
        given = message.arguments[0] if message.arguments else ""
        if what in TEXTS:
            setattr(channel, TEXTS[what], given[:60])
        elif what == "STAT":
            channel.on = given.upper() in ("ON", "1")
        elif what == "CLIP":
            channel.clip = _clip(message.arguments)
        elif what in NUMBERS:
            setattr(channel, NUMBERS[what], _number(given, above_zero=what in ("RANG", "PROB")))
        else:
            raise InstrumentError(f"Undefined header CHAN:{what}")
        return None

    def _frame(self, message: Message) -> str | None:
        if message.words == ("TRIG", "SOUR"):
            if message.asks:
                return f"CHAN{self.trigger}" if self.trigger else "IMM"
            named = message.arguments[0].upper()
            self.trigger = int(named.removeprefix("CHAN")) if named.startswith("CHAN") else None
            return None
        names = {("TIM", "RATE"): "rate_hz", ("TIM", "LENG"): "seconds", ("TRIG", "LEV"): "trigger_level"}
        if message.words not in names:
            raise InstrumentError(f"Undefined header {':'.join(message.words)}")
        name = names[message.words]
        if message.asks:
            return f"{getattr(self, name):.9g}"
        setattr(self, name, _number(message.arguments[0], above_zero=name != "trigger_level"))
        return None

    def _samples(self, message: Message) -> str | bytes | None:
        kind, what = message.words
        if (kind, what) == ("ACQ", "STAR"):
            self._start()
            return None
        if (kind, what) == ("ACQ", "STOP"):
            if self.acquisition is not None:
                self.acquisition.stopped_at = self.acquisition.points
            return None
        held = self.acquisition
        if (kind, what) == ("ACQ", "STAT"):
            return "IDLE" if held is None else "RUN" if held.running else "DONE"
        if (kind, what) == ("ACQ", "POIN"):
            return "0" if held is None else str(held.points)
        if (kind, what) == ("WAV", "SCAL"):
            return f"{self.inputs[int(message.arguments[0])].step:.9g}"
        if (kind, what) == ("WAV", "DATA") and held is not None:
            channel, first, count = (int(a) for a in message.arguments)
            last = min(first + min(count, BLOCK_SAMPLES_MAX), held.points)
            return block(held.codes[channel][max(first, 0) : max(last, 0)])
        raise InstrumentError(f"Nothing to give for {kind}:{what}")

    def _start(self) -> None:
        if self.acquisition is not None and self.acquisition.running:
            self.status.fail(-213, "Init ignored: an acquisition is under way")
            return
        on = {n: i for n, i in self.inputs.items() if i.on}
        clips = {n: i.clip for n, i in on.items() if i.clip is not None}
        signals = self.source.signals(clips, rate_hz=self.rate_hz, seconds=self.seconds)
        count = int(self.seconds * self.rate_hz)
        codes = {n: self._codes(i, signals.get(n, np.zeros(count))) for n, i in on.items()}
        if self.trigger in codes:
            level = self.trigger_level / self.inputs[self.trigger or 0].step
            trace = codes[self.trigger or 0]
            rises = np.flatnonzero((trace[1:] >= level) & (trace[:-1] < level))
            codes = {n: c[int(rises[0]) if rises.size else 0 :] for n, c in codes.items()}
        self.acquisition = Acquisition(
            codes=codes, rate_hz=self.rate_hz, began=self.clock(), pace=self.source.pace, clock=self.clock
        )
        self.status.event |= OPERATION_COMPLETE

    def _codes(self, channel: Input, trace: FloatArray) -> NDArray[np.int16]:
        role = channel.clip.role if channel.clip else None
        if role in VOLT_ROLES and trace.size and float(np.abs(trace).max()) / channel.probe > INPUT_V_MAX:
            self.status.fail(-300, f"Input overloaded: {channel.label or 'a channel'}; attenuate the lead")
        seen = trace + channel.zero
        if channel.noise:
            seen = seen + self.rng.normal(0.0, channel.noise, trace.size)
        return np.asarray(np.clip(np.rint(seen / channel.step), -CODES // 2, CODES // 2 - 1), dtype=np.int16)


TEXTS = {"LAB": "label", "UNIT": "unit"}
NUMBERS = {"RANG": "reach", "OFFS": "zero", "PROB": "probe", "NOIS": "noise"}


def _shown(channel: Input, what: str) -> str:
    """A channel's setting as the instrument tells it."""
    if what == "STAT":
        return "1" if channel.on else "0"
    if what in TEXTS:
        return f'"{getattr(channel, TEXTS[what])}"'
    if what in NUMBERS:
        return f"{getattr(channel, NUMBERS[what]):.9g}"
    raise InstrumentError(f"Undefined header CHAN:{what}")


def _number(text: str, *, above_zero: bool) -> float:
    value = float(text)
    if not np.isfinite(value) or (above_zero and value <= 0):
        raise ValueError(text)
    return value


def _units(line: str) -> list[str]:
    """Message units of a line; semicolons in quotes stay."""
    units, quoted, begin = [], False, 0
    for at, letter in enumerate(line):
        quoted ^= letter == '"'
        if letter == ";" and not quoted:
            units.append(line[begin:at])
            begin = at + 1
    units.append(line[begin:])
    return [unit for unit in units if unit.strip()]


def _clip(arguments: tuple[str, ...]) -> Clip | None:
    """Where a lead is clipped: role, cylinder or 0, cylinders of the feed with spaces, flags."""
    if not arguments or not arguments[0]:
        return None
    role = Role(arguments[0])
    cylinder = int(arguments[1]) if len(arguments) > 1 and arguments[1] not in ("", "0") else None
    feeds = tuple(int(c) for c in arguments[2].split()) if len(arguments) > 2 else ()
    flags = arguments[3].split() if len(arguments) > 3 else []
    return Clip(role=role, cylinder=cylinder, feeds=feeds, at_unit="unit" in flags, unplugged="unplugged" in flags)


class ScopeStandIn:
    """Serves a scope on a TCP port of this machine until it is closed or killed."""

    def __init__(self, scope: Scope, *, port: int = 0) -> None:
        self.scope = scope
        self._clients: set[socket.socket] = set()
        stand_in = self

        class Handler(socketserver.StreamRequestHandler):
            def handle(self) -> None:
                stand_in._clients.add(self.request)
                try:
                    while line := self.rfile.readline(LINE_BYTES_MAX):
                        said = stand_in.scope.answer(line.decode("ascii", errors="replace"))
                        if said is not None:
                            self.wfile.write(said + b"\n")
                except OSError:
                    pass  # a client that went away is not our trouble
                finally:
                    stand_in._clients.discard(self.request)

        class Server(socketserver.ThreadingTCPServer):
            allow_reuse_address, daemon_threads = True, True

        self._server = Server(("127.0.0.1", port), Handler)
        self.port = int(self._server.server_address[1])
        self._thread = threading.Thread(target=self._server.serve_forever, args=(0.05,), daemon=True)
        self._thread.start()

    @property
    def address(self) -> str:
        """As a VISA resource."""
        return f"TCPIP::127.0.0.1::{self.port}::SOCKET"

    def close(self) -> None:
        """Pull the plug: clients are cut off in mid-word, the port is shut."""
        self._server.shutdown()
        self._server.server_close()
        for client in list(self._clients):
            try:
                client.shutdown(socket.SHUT_RDWR)
                client.close()
            except OSError:
                continue
        self._thread.join(timeout=2.0)

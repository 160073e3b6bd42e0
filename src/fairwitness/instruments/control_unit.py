"""The stand-in of the vehicle's control unit on a CAN bus: what it sees of the bay, told by SAE J1979."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from typing import Any

import can
import isotp

from fairwitness.core.errors import FairWitnessError
from fairwitness.instruments import j1979
from fairwitness.instruments.bay import Bay, EngineMotion
from fairwitness.simulate.health import Fault

REQUEST, FUNCTIONAL, RESPONSE = 0x7E0, 0x7DF, 0x7E8
MISFIRES_TO_STORE = 15
"""[M] counts after which the code of a cylinder is set."""
CIRCUIT_CODES = {
    "injector_open_circuit": "P02{:02d}",
    "injector_control_open": "P02{:02d}",
    "injector_shorted": "P02{:02d}",
    "injector_driver_failed": "P02{:02d}",
    "injector_feed_lost": "P02{:02d}",
    "coil_primary_open": "P035{:d}",
    "coil_feed_lost": "P035{:d}",
    "coil_control_open": "P035{:d}",
}
"""Codes that name a circuit rather than a misfire [P: SAE J2012]."""
LEAN_BANK = ("P0171", "P0174")
TRIM_TO_STORE = 20.0


class ControlUnit:
    """Answers on a CAN channel until it is closed.

    Parameters
    ----------
    bay : Bay
    channel : str
        Name of the CAN channel.
    interface : str
        ``virtual``, or ``socketcan`` for a real one.
    """

    def __init__(self, bay: Bay, *, channel: str, interface: str = "virtual") -> None:
        self.bay = bay
        self._bus = can.Bus(interface=interface, channel=channel)
        self._notifier = can.Notifier(self._bus, [])
        physical = isotp.Address(isotp.AddressingMode.Normal_11bits, txid=RESPONSE, rxid=REQUEST)
        functional = isotp.Address(isotp.AddressingMode.Normal_11bits, txid=RESPONSE, rxid=FUNCTIONAL)
        self._stacks = [
            isotp.NotifierBasedCanStack(self._bus, self._notifier, address=a) for a in (physical, functional)
        ]
        self._stop = threading.Event()
        for stack in self._stacks:
            stack.start()
        self._threads = [threading.Thread(target=self._serve, args=(s,), daemon=True) for s in self._stacks]
        for thread in self._threads:
            thread.start()

    def _serve(self, stack: Any) -> None:
        while not self._stop.is_set():
            request = stack.recv(block=True, timeout=0.05)
            if request:
                answer = self.answer(bytes(request))
                if answer:
                    self._stacks[0].send(answer)

    def close(self) -> None:
        """Fall silent."""
        self._stop.set()
        for thread in self._threads:
            thread.join(timeout=1.0)
        for stack in self._stacks:
            stack.stop()
        self._notifier.stop()
        self._bus.shutdown()

    def answer(self, request: bytes) -> bytes:
        """What the control unit says to a request.

        Parameters
        ----------
        request : bytes
            Service and what follows it.

        Returns
        -------
        bytes
        """
        service = request[0]
        try:
            if service == j1979.LIVE:
                return self._live(request)
            if service in (j1979.STORED, j1979.PENDING):
                return j1979.encode_codes(service, self.codes() if service == j1979.STORED else ())
            if service == j1979.CLEAR:
                self.bay.codes_cleared = True
                return bytes((service + j1979.ANSWER,))
            if service == j1979.MONITORS:
                return self._monitors(request)
            if service == j1979.READ_TABLE and request[1:3] == j1979.SPEED_TABLE_ITEM.to_bytes(2, "big"):
                return j1979.encode_speeds(self.bay.speed_table(), self.bay.vehicle.engine.cylinders)
            if service == j1979.CUT:
                return self._cut(request)
        except IndexError:
            return j1979.refuse(service, j1979.WRONG_LENGTH)
        return j1979.refuse(service, j1979.NOT_SUPPORTED)

    def _live(self, request: bytes) -> bytes:
        number = request[1]
        head = bytes((j1979.LIVE + j1979.ANSWER, number))
        if number in (0x00, 0x20, 0x40):
            return head + j1979.supported(number)
        pid = j1979.PIDS.get(number)
        if pid is None:
            return j1979.refuse(j1979.LIVE, j1979.OUT_OF_RANGE)
        shown = self.bay.shown()
        trims = (*shown.short_trim, 0.0, 0.0)
        values = {
            0x05: shown.coolant_c,
            0x06: 0.3 * trims[0],
            0x07: 0.7 * trims[0],
            0x08: 0.3 * trims[1],
            0x09: 0.7 * trims[1],
            0x0B: shown.manifold_kpa,
            0x0C: shown.rpm,
            0x42: shown.battery_v,
        }
        return head + j1979.encode_value(pid, values[number])

    def _monitors(self, request: bytes) -> bytes:
        cylinder = request[1] - j1979.MISFIRE_FIRST_MONITOR + 1
        if not 1 <= cylinder <= self.bay.vehicle.engine.cylinders:
            return j1979.refuse(j1979.MONITORS, j1979.OUT_OF_RANGE)
        count = self.bay.shown().counts.get(cylinder, 0)
        return j1979.encode_misfires(cylinder, count, count // 2)

    def _cut(self, request: bytes) -> bytes:
        item, order = int.from_bytes(request[1:3], "big"), request[3]
        cylinder = item - j1979.CUT_FIRST_ITEM
        if self.bay.motion is not EngineMotion.RUNNING:
            return j1979.refuse(j1979.CUT, j1979.NOT_NOW)
        try:
            self.bay.cut_cylinders((cylinder,) if order == j1979.CUT_NOW else ())
        except FairWitnessError:
            return j1979.refuse(j1979.CUT, j1979.OUT_OF_RANGE)
        return bytes((j1979.CUT + j1979.ANSWER,)) + request[1:4]

    def codes(self) -> tuple[str, ...]:
        """Codes stored now: what the circuits' monitors and the counters see, unless cleared and not come back."""
        shown = self.bay.shown()
        missing = [c for c, n in shown.counts.items() if n >= MISFIRES_TO_STORE]
        found = [f"P03{c:02d}" for c in missing]
        if len(missing) > 1:
            found.insert(0, "P0300")
        if not self.bay.codes_cleared or self.bay.motion is EngineMotion.RUNNING:
            found += _circuit_codes(self.bay.vehicle.faults)
        found += [code for code, trim in zip(LEAN_BANK, shown.short_trim, strict=False) if trim > TRIM_TO_STORE]
        return tuple(dict.fromkeys(found))


def _circuit_codes(faults: Sequence[Fault]) -> list[str]:
    return [CIRCUIT_CODES[f.fault].format(c) for f in faults if f.fault in CIRCUIT_CODES for c in f.cylinders if c < 10]

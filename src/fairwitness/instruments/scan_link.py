"""The application's end of the vehicle network: SAE J1979 over ISO 15765-2 on any CAN interface."""

from __future__ import annotations

import threading
import time
from collections.abc import Mapping

import can
import isotp

from fairwitness.core.errors import InstrumentError
from fairwitness.instruments import j1979
from fairwitness.instruments.control_unit import REQUEST, RESPONSE

TIME_OUT_S = 3.0
"""[M] a control unit answers within 50 ms; a computer that is busy with other things may hand it over much later."""
SILENT = "Check the plug and the key, then connect again."


class ScanLink:
    """A connected control unit.

    Parameters
    ----------
    channel : str
    interface : str
        ``virtual`` for the stand-in, ``socketcan`` for a real bus.

    Raises
    ------
    InstrumentError
        No such interface, or nobody answers.
    """

    def __init__(self, channel: str, *, interface: str = "virtual", time_out_s: float = TIME_OUT_S) -> None:
        self._time_out_s = time_out_s
        self._lock = threading.Lock()
        try:
            self._bus = can.Bus(interface=interface, channel=channel)
        except (can.CanError, OSError, ValueError) as error:
            raise InstrumentError("There is no such CAN interface.", where=channel, remedy="Check its name.") from error
        self._notifier = can.Notifier(self._bus, [])
        address = isotp.Address(isotp.AddressingMode.Normal_11bits, txid=REQUEST, rxid=RESPONSE)
        self._stack = isotp.NotifierBasedCanStack(self._bus, self._notifier, address=address)
        self._stack.start()
        try:
            self.known = self._known()
        except InstrumentError:
            self.close()
            raise

    def _known(self) -> tuple[int, ...]:
        numbers: list[int] = []
        for first in (0x00, 0x20, 0x40):
            if first and first not in numbers:
                break
            numbers += j1979.decode_supported(first, self.ask(bytes((j1979.LIVE, first)))[2:])
        return tuple(n for n in numbers if n in j1979.PIDS)

    def ask(self, request: bytes) -> bytes:
        """One request and its positive answer.

        Raises
        ------
        InstrumentError
            Silence, garbage, or a refusal.
        """
        with self._lock:
            while self._stack.recv(block=False):
                continue  # late answers to earlier questions
            self._stack.send(request)
            deadline = time.monotonic() + self._time_out_s
            while (left := deadline - time.monotonic()) > 0:
                answer = self._stack.recv(block=True, timeout=left)
                if answer is None:
                    break
                if answer[0] == j1979.REFUSED and len(answer) >= 3 and answer[1] == request[0]:
                    reason = j1979.REASONS.get(answer[2], f"reason {answer[2]:02X}")
                    raise InstrumentError(f"The control unit refuses: {reason}.")
                if _answers(request, bytes(answer)):
                    return bytes(answer)
        raise InstrumentError("The control unit does not answer.", remedy=SILENT)

    def live(self) -> dict[str, float]:
        """Every live value the control unit knows, by name."""
        values = {}
        for number in self.known:
            pid = j1979.PIDS[number]
            values[pid.name] = j1979.decode_value(pid, self.ask(bytes((j1979.LIVE, number)))[2:])
        return values

    def rpm(self) -> float:
        """Engine speed."""
        return j1979.decode_value(j1979.PIDS[0x0C], self.ask(bytes((j1979.LIVE, 0x0C)))[2:])

    def codes(self) -> dict[str, str]:
        """Trouble codes and whether stored or pending."""
        found = dict.fromkeys(j1979.decode_codes(self.ask(bytes((j1979.PENDING,)))), "pending")
        return found | dict.fromkeys(j1979.decode_codes(self.ask(bytes((j1979.STORED,)))), "stored")

    def clear_codes(self) -> None:
        """Clear them, also the ones the testing itself set."""
        self.ask(bytes((j1979.CLEAR,)))

    def misfires(self, cylinders: int) -> dict[int, int]:
        """Counts per cylinder of this driving cycle."""
        counts: dict[int, int] = {}
        for cylinder in range(1, cylinders + 1):
            monitor = j1979.MISFIRE_FIRST_MONITOR + cylinder - 1
            counts |= j1979.decode_misfires(self.ask(bytes((j1979.MONITORS, monitor))))
        return counts

    def cranking_speeds(self) -> Mapping[int, float]:
        """The stand-in's table of speed at each compression; empty until it has settled."""
        return j1979.decode_speeds(self.ask(bytes((j1979.READ_TABLE,)) + j1979.SPEED_TABLE_ITEM.to_bytes(2, "big")))

    def cut(self, cylinder: int) -> None:
        """Withhold one cylinder's fuel."""
        self._order(cylinder, j1979.CUT_NOW)

    def give_back(self, cylinder: int) -> None:
        """End the cut."""
        self._order(cylinder, j1979.GIVE_BACK)

    def _order(self, cylinder: int, order: int) -> None:
        item = (j1979.CUT_FIRST_ITEM + cylinder).to_bytes(2, "big")
        self.ask(bytes((j1979.CUT,)) + item + bytes((order,)))

    def close(self) -> None:
        """Let go of the bus."""
        self._stack.stop()
        self._notifier.stop()
        self._bus.shutdown()


ECHOED = {j1979.LIVE: 1, j1979.MONITORS: 1, j1979.READ_TABLE: 2, j1979.CUT: 2}
"""Bytes of a request that its answer repeats: another tester on the bus may have asked for something else."""


def _answers(request: bytes, answer: bytes) -> bool:
    """Whether an answer is the one to this request."""
    echoed = ECHOED.get(request[0], 0)
    return answer[0] == request[0] + j1979.ANSWER and answer[1 : 1 + echoed] == request[1 : 1 + echoed]

"""Plugging a scan link in. Loaded when somebody does: what speaks CAN takes half a second that most starts need not."""

from __future__ import annotations

import secrets

from fairwitness.instruments.bay import Bay
from fairwitness.instruments.control_unit import ControlUnit
from fairwitness.instruments.scan_link import ScanLink


def plug_in(bay: Bay, *, interface: str, channel: str) -> tuple[ScanLink, ControlUnit | None]:
    """Connect to a bus of the machine, or to the stand-in of a control unit where none is named.

    Raises
    ------
    InstrumentError
        No such interface, or nobody answers.
    """
    if interface:
        return ScanLink(channel, interface=interface), None
    channel = f"bay-{secrets.token_hex(6)}"
    unit = ControlUnit(bay, channel=channel)
    try:
        return ScanLink(channel), unit
    except Exception:
        unit.close()
        raise

"""What stands in the bay, and how far a capture has come."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from fairwitness.simulate.vehicle import Vehicle


class Stage(StrEnum):
    """How far a capture is."""

    IDLE = "idle"
    SET_UP = "set_up"
    RECORDING = "recording"
    WATCHING = "watching"
    """Recording stretch after stretch until something is lost."""
    CAPTURED = "captured"
    BROKEN_OFF = "broken_off"
    """The instrument fell silent; what came until then is kept here."""
    KEPT = "kept"


@dataclass(frozen=True, slots=True, kw_only=True)
class InBay:
    """What stands in the bay."""

    vehicle: Vehicle
    case_id: int
    hidden: bool
    hot: bool = True

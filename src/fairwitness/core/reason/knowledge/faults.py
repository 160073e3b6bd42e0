"""The catalogue: every fault, its cause, and what part of the engine it can sit in."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Cause(StrEnum):
    """The great division."""

    IGNITION = "ignition"
    FUEL = "fuel"
    MECHANICAL = "mechanical"
    CONTROL = "control"
    NONE = "none"
    OTHER = "other"


class Seat(StrEnum):
    """Where a fault can sit."""

    CYLINDER = "cylinder"
    COIL = "coil"
    """A cylinder, or both of a pair that shares the coil."""
    COIL_OR_END = "coil_or_end"
    """As a coil, or one end of a shared one."""
    NEIGHBOURS = "neighbours"
    GROUP = "group"
    """A bank, a pair of companions, or the whole engine."""
    FEED = "feed"
    """A bank or the whole engine."""
    ENGINE = "engine"


@dataclass(frozen=True, slots=True)
class Fault:
    """One row of the catalogue."""

    id: str
    cause: Cause
    seat: Seat
    words: str


CATALOGUE: tuple[Fault, ...] = (
    Fault("plug_gap_wide", Cause.IGNITION, Seat.CYLINDER, "plug gap worn wide"),
    Fault("plug_shorted", Cause.IGNITION, Seat.CYLINDER, "plug fouled or shorted"),
    Fault("plug_tracking", Cause.IGNITION, Seat.CYLINDER, "plug tracking outside"),
    Fault("secondary_high_resistance", Cause.IGNITION, Seat.CYLINDER, "high resistance in lead or boot"),
    Fault("secondary_open", Cause.IGNITION, Seat.CYLINDER, "open lead or boot"),
    Fault("secondary_leak", Cause.IGNITION, Seat.CYLINDER, "high voltage leaking from lead or boot"),
    Fault("coil_secondary_shorted", Cause.IGNITION, Seat.COIL, "coil with shorted turns"),
    Fault("coil_output_dead", Cause.IGNITION, Seat.COIL_OR_END, "coil without output"),
    Fault("coil_primary_open", Cause.IGNITION, Seat.COIL, "open coil primary"),
    Fault("coil_feed_lost", Cause.IGNITION, Seat.COIL, "coil feed lost"),
    Fault("coil_control_open", Cause.IGNITION, Seat.COIL, "open coil command wire"),
    Fault("coil_driver_failed", Cause.IGNITION, Seat.COIL, "coil driver of the control unit"),
    Fault("injector_open_circuit", Cause.FUEL, Seat.CYLINDER, "open injector"),
    Fault("injector_high_resistance", Cause.FUEL, Seat.CYLINDER, "resistance in the injector circuit"),
    Fault("injector_shorted", Cause.FUEL, Seat.CYLINDER, "shorted injector"),
    Fault("injector_stuck_closed", Cause.FUEL, Seat.CYLINDER, "injector stuck closed"),
    Fault("injector_restricted", Cause.FUEL, Seat.CYLINDER, "restricted injector"),
    Fault("injector_leaking", Cause.FUEL, Seat.CYLINDER, "leaking injector"),
    Fault("injector_feed_lost", Cause.FUEL, Seat.FEED, "injector feed lost"),
    Fault("injector_control_open", Cause.FUEL, Seat.CYLINDER, "open injector command wire"),
    Fault("injector_driver_failed", Cause.FUEL, Seat.CYLINDER, "injector driver of the control unit"),
    Fault("unmetered_air_at_runner", Cause.FUEL, Seat.CYLINDER, "air leak at one intake runner"),
    Fault("fuel_supply_low", Cause.FUEL, Seat.ENGINE, "low fuel supply"),
    Fault("ring_or_piston_leak", Cause.MECHANICAL, Seat.CYLINDER, "leak past rings or piston"),
    Fault("intake_valve_leak", Cause.MECHANICAL, Seat.CYLINDER, "leaking intake valve"),
    Fault("exhaust_valve_leak", Cause.MECHANICAL, Seat.CYLINDER, "leaking exhaust valve"),
    Fault("head_gasket_leak", Cause.MECHANICAL, Seat.NEIGHBOURS, "head gasket blown between neighbours"),
    Fault("intake_valve_not_opening", Cause.MECHANICAL, Seat.CYLINDER, "intake valve not opening"),
    Fault("exhaust_valve_not_opening", Cause.MECHANICAL, Seat.CYLINDER, "exhaust valve not opening"),
    Fault("valve_timing_shifted", Cause.MECHANICAL, Seat.GROUP, "valve timing shifted"),
    Fault("low_compression_all", Cause.MECHANICAL, Seat.ENGINE, "low compression in every cylinder"),
    Fault("cut_by_ecu", Cause.CONTROL, Seat.CYLINDER, "cylinder cut by the control unit"),
)
FAULTS = {fault.id: fault for fault in CATALOGUE}

NO_FAULT = "no_fault"
OTHER, OTHER_MECHANICAL = "other", "other_mechanical"
"""Something that is not in the catalogue. Only a mechanical one keeps a cylinder from sealing: uneven compression that
no fault of the catalogue explains is still mechanical."""

"""What a test does to an engine that may hurt somebody or something: bars and cautions follow from these."""

from __future__ import annotations

from enum import StrEnum


class Act(StrEnum):
    """One thing that a test does beside letting the engine turn."""

    ADDS_FUEL = "adds_fuel"
    """Puts fuel into a cylinder or a port."""
    SPARKS = "sparks"
    """Lets a spark jump in free air."""
    OPENS_PLUG_HOLES = "opens_plug_holes"
    """Plugs or glow plugs come out."""
    ADDS_OIL = "adds_oil"
    """A spoon of oil into a cylinder."""
    ADDS_AIR = "adds_air"
    """Compressed air into a cylinder."""
    COMPARES = "compares"
    """Says nothing but how cylinders differ from each other."""
    TOUCHES_COIL = "touches_coil"
    TOUCHES_INJECTOR = "touches_injector"
    LOADS_INJECTOR = "loads_injector"
    """A lamp or a meter on both pins of a live injector circuit."""
    LOADS_COIL_COMMAND = "loads_coil_command"
    """A lamp in place of a coil."""
    SWAPS_INJECTOR = "swaps_injector"
    UNPLUGS_COIL_RUNNING = "unplugs_coil_running"
    UNPLUGS_INJECTOR_RUNNING = "unplugs_injector_running"
    PULLS_CONNECTOR = "pulls_connector"
    AT_UNIT_PLUG = "at_unit_plug"
    """The control unit's own plug is opened or probed."""
    ON_BATTERY = "on_battery"
    """Leads hang on the battery or its cables."""
    OPENS_FUEL_LINE = "opens_fuel_line"
    READS_CONTROL_UNIT = "reads_control_unit"
    """Needs what a control unit of a fuel-injected engine reports."""
    NEEDS_IDLE = "needs_idle"
    """Needs the engine to hold an idle of its own."""
    BRAKE_TORQUE = "brake_torque"
    SMOKE = "smoke"

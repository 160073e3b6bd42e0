"""Cautions of the trade, once: plan, cards, bench and forms say them from here."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope

_say = scope("caution")
HIGH_VOLTAGE = _say(
    "high_voltage",
    "High voltage at coils, leads and injectors: hands off while running; not for anyone with a pacemaker.",
)
HIGH_VOLTAGE_NEVER_OPEN = _say(
    "high_voltage_never_open",
    "High voltage at coils, leads and injectors: hands off while running, not for anyone with a pacemaker. Never leave "
    "a coil open.",
)
FUEL_LINE = _say(
    "fuel_line",
    "Petrol under pressure: relieve it first, catch what leaves, extinguisher at hand. Never open a line of common "
    "rail or direct injection: follow the maker's procedure.",
)
FUEL_LINE_NO_SPARKS = _say(
    "fuel_line_no_sparks",
    "Fuel under pressure: relieve it first, catch what leaves, extinguisher at hand, no sparks. Never open a line of "
    "common rail or direct injection; follow the maker’s procedure.",
)
ROTATING = _say("rotating", "Keep clear of fans and belts; lead exhaust gas outdoors.")
HOT_AND_ROTATING = _say("hot_and_rotating", "Keep clear of fans and belts; hot parts; lead exhaust gas outdoors.")
CLEAR_OF_BELTS = _say("clear_of_belts", "Clear of belts and fans; exhaust gas outdoors.")
CRANK = _say("crank", "Disable fuel first and record how; crank 5 to 10 s, then let the starter cool.")
STARTER = _say("starter", "Crank 5 to 10 s, then let the starter cool.")
PLUG_HOLES = _say(
    "plug_holes", "Petrol vapour and sparks: shield open plug holes, disable ignition, keep an extinguisher at hand."
)
OPEN_PLUG_HOLES = _say(
    "open_plug_holes",
    "Open plug holes: petrol vapour and sparks. Shield them, disable ignition, extinguisher at hand.",
)
FULL_CYLINDER = _say("full_cylinder", "A cylinder full of liquid bends its rod: turn the engine by hand first.")
GAUGE_IN_PLUG_HOLE = _say(
    "gauge_in_plug_hole",
    "Open plug holes: petrol vapour and sparks. Shield them, disable fuel and ignition, extinguisher at hand. A "
    "cylinder full of liquid bends its rod: turn by hand first.",
)
KICK = _say("kick", "The kick exceeds 60 V: use an attenuator.")
KICKS = _say("kicks", "Injectors kick to 60 to 100 V: attenuate.")
BOOSTED = _say("boosted", "Direct injection is boosted: keep hands off.")
PULLED = _say(
    "pulled", "Key off before a connector is pulled; do not disturb one before an intermittent has been captured."
)
DO_NOT_DISTURB = _say("do_not_disturb", "Do not disturb a connector before an intermittent fault has been captured.")
AIR_TURNS = _say("air_turns", "Air can turn the engine: keep hands and tools clear, remove the key.")
AIR_TURNS_BLOCKED = _say(
    "air_turns_blocked",
    "Air can turn the engine: hands and tools clear, key out, gear and wheels blocked as the maker says. Shield open "
    "plug holes.",
)
NEVER_OPEN = _say("never_open", "Never leave a coil open; short cuts only, raw fuel overheats the catalyst.")
NEVER_RUN_OPEN = _say("never_run_open", "Never run a coil open.")
ATTENUATOR = _say("attenuator", "Use an attenuator; never an open coil.")
SMOKE = _say(
    "smoke",
    "Propane and smoke near a running engine: no sparks, aired, extinguisher at hand. Clear of belts and fans.",
)

"""Cautions of the trade, once: plan, cards, bench and forms say them from here."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope

_say = scope("caution")
HIGH_VOLTAGE = _say(
    "high_voltage",
    "High voltage at coils, leads and injectors: hands off while running; not for anyone with a pacemaker.",
)
FUEL_LINE = _say(
    "fuel_line",
    "Petrol under pressure: relieve it first, catch what leaves, extinguisher at hand. Never open a line of common "
    "rail or direct injection: follow the maker's procedure.",
)
ROTATING = _say("rotating", "Keep clear of fans and belts; lead exhaust gas outdoors.")
HOT_AND_ROTATING = _say("hot_and_rotating", "Keep clear of fans and belts; hot parts; lead exhaust gas outdoors.")
FUEL_FIRST = _say("fuel_first", "Disable the fuel first, and record how.")
STARTER = _say("starter", "Crank 5 to 10 s at a time, then let the starter cool for a minute or two.")
PLUG_HOLES = _say(
    "plug_holes", "Petrol vapour and sparks: shield open plug holes, disable ignition, keep an extinguisher at hand."
)
KICK = _say("kick", "An injector kicks to 60 to 100 V as it is switched off: use an attenuator.")
BOOSTED = _say(
    "boosted",
    "These injectors are driven with 65 to 150 V: hands off while the key is on; not for anyone with a pacemaker.",
)
PULLED = _say(
    "pulled", "Key off before a connector is pulled; do not disturb one before an intermittent has been captured."
)
AIR_TURNS = _say(
    "air_turns",
    "Air can turn the engine: hands and tools clear, key out, gear and wheels blocked as the maker says.",
)
NEVER_OPEN = _say("never_open", "Never leave a coil open: its voltage breaks it or jumps to a hand.")
ATTENUATOR = _say("attenuator", "Use an attenuator; never an open coil.")
SMOKE = _say(
    "smoke",
    "Propane and smoke near a running engine: no sparks, aired, extinguisher at hand. Clear of belts and fans.",
)
ITSELF_STARTS = _say(
    "itself_starts",
    "A hybrid or start-stop engine may start itself: key out of reach, in the maker's service mode, before a hand goes "
    "near it.",
)
MAKERS_CRANK_MODE = _say(
    "makers_crank_mode", "Crank it only in the maker's own mode: its starter is the traction motor."
)
QUALIFIED_ONLY = _say(
    "qualified_only",
    "Traction battery: isolating is for the qualified, by the maker's procedure. Orange cables stay shut.",
)
HYDRAULIC_LOCK = _say(
    "hydraulic_lock",
    "A cylinder full of liquid bends its rod: where fuel, water or oil may stand in one, turn the engine by hand "
    "first.",
)
BATTERY_OFF = _say("battery_off", "Battery off before a plug of the control unit is opened.")
TERMINALS = _say("terminals", "Battery terminals tight before anything is judged; a loose one makes surges.")
HOT_SPRAY = _say(
    "hot_spray", "What leaves an open plug or glow-plug hole is hot and fast: nobody in front of it, holes shielded."
)
NO_OIL = _say("no_oil", "No oil into a diesel's cylinder, in any amount: at its compression it can burn or lock.")
DIESEL_LINE = _say(
    "diesel_line", "Diesel at a rail cuts through skin: never open a line that may hold pressure; follow the maker."
)
FUEL_BY_HAND = _say(
    "fuel_by_hand", "A few drops only, away from sparks and hot parts, extinguisher in the other hand, nobody in front."
)
SHORT_CUTS = _say("short_cuts", "Short cuts only: raw fuel overheats the catalyst.")
BRAKE_TORQUE = _say(
    "brake_torque",
    "Brake torque: foot brake held, wheels chocked, nobody in front, a few seconds only; transmission and catalyst "
    "heat.",
)
VALVES_MET = _say(
    "valves_met",
    "A cylinder without compression may have valves that met its piston: crank no more than this needs, and not at all "
    "after a broken belt or chain before it was turned by hand.",
)

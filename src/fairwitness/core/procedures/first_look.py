"""Before the first measurement: looked at, listened to and asked in minutes, without tools."""

from __future__ import annotations

from functools import partial

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.measurement import State
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.whole_engine import Item, Looks, way_of

TEST = "first_look"
_say = scope(TEST)
_way = partial(way_of, _say)

ITEMS = {
    "cadence": Item(
        title=_say("cadence.title", "Listen to it crank"),
        asked=_say("cadence.asked", "Cranking sounds"),
        splits=_say("cadence.splits", "one beat missing, none at all, or a hard stop tells sealing before any clamp"),
        tools=_say("cadence.tools", "ears"),
        minutes=2,
        turning=Turning.CRANKING,
        mechanical=True,
        ways={
            "even": _way("cadence", "even", "even", "It cranks evenly by ear.", State.NORMAL),
            "one_missing": _way(
                "cadence",
                "one_missing",
                "one beat missing",
                "By ear one beat is missing while it cranks: a cylinder does not seal.",
            ),
            "fast_even": _way(
                "cadence",
                "fast_even",
                "fast and even",
                "It spins fast and evenly: no cylinder compresses as it should.",
            ),
            "labouring": _way(
                "cadence",
                "labouring",
                "labouring",
                "The starter labours: weak battery, bad cable, or an engine that is hard to turn.",
            ),
            "hard_stop": _way(
                "cadence", "hard_stop", "a hard stop", "The starter was stopped hard: a cylinder may be full of liquid."
            ),
        },
    ),
    "dash_lamp": Item(
        title=_say("dash_lamp.title", "Look at the dash lamp, key on"),
        asked=_say("dash_lamp.asked", "Engine lamp, key on"),
        splits=_say("dash_lamp.splits", "a lamp that stays dark means a control unit without supply"),
        tools=_say("dash_lamp.tools", "eyes"),
        minutes=1,
        turning=Turning.KEY_ON,
        fits=engines.has_injectors,
        ways={
            "lights": _way(
                "dash_lamp",
                "lights",
                "lights",
                "The engine lamp lights with the key: the control unit is awake.",
                State.NORMAL,
            ),
            "dark": _way(
                "dash_lamp",
                "dark",
                "dark",
                "The engine lamp stays dark with the key: the control unit is not fed or not awake.",
            ),
            "immobiliser": _way(
                "dash_lamp",
                "immobiliser",
                "immobiliser lamp",
                "The immobiliser lamp warns: the control unit does not know the key.",
            ),
        },
    ),
    "pump_prime": Item(
        title=_say("pump_prime.title", "Listen to the fuel pump prime"),
        asked=_say("pump_prime.asked", "Fuel pump, key on"),
        splits=_say("pump_prime.splits", "a pump that stays silent sends the hunt to supply first"),
        tools=_say("pump_prime.tools", "ears"),
        minutes=1,
        turning=Turning.KEY_ON,
        fits=engines.has_injectors,
        ways={
            "heard": _way("pump_prime", "heard", "heard", "The fuel pump is heard with the key.", State.NORMAL),
            "silent": _way("pump_prime", "silent", "silent", "The fuel pump is not heard with the key."),
        },
    ),
    "oil": Item(
        title=_say("oil.title", "Look at the oil"),
        asked=_say("oil.asked", "Oil on the dipstick"),
        splits=_say("oil.splits", "over full and smelling of fuel means injectors that run on: nothing may turn then"),
        tools=_say("oil.tools", "eyes and nose"),
        minutes=2,
        mechanical=True,
        ways={
            "usual": _way("oil", "usual", "usual", "The oil stands where it should and smells of oil.", State.NORMAL),
            "over_full": _way(
                "oil",
                "over_full",
                "over full, smells of fuel",
                "The oil stands too high and smells of fuel: injectors leak or are held open.",
            ),
            "very_low": _way(
                "oil", "very_low", "very low", "The oil is very low: valve gear and variable timing suffer first."
            ),
            "milky": _way("oil", "milky", "milky", "The oil is milky: coolant gets into it."),
        },
    ),
    "terminals": Item(
        title=_say("terminals.title", "Battery terminals, by hand"),
        asked=_say("terminals.asked", "Battery terminals"),
        splits=_say("terminals.splits", "a loose terminal makes every other reading worthless"),
        tools=_say("terminals.tools", "hands"),
        minutes=1,
        acts=frozenset({Act.ON_BATTERY}),
        ways={
            "tight": _way("terminals", "tight", "tight", "The battery terminals are tight and clean.", State.NORMAL),
            "loose": _way("terminals", "loose", "loose or corroded", "A battery terminal is loose or corroded."),
        },
    ),
    "hoses": Item(
        title=_say("hoses.title", "Vacuum hoses, by eye"),
        asked=_say("hoses.asked", "Vacuum hoses"),
        splits=_say("hoses.splits", "a hose that is off leans the mixture"),
        tools=_say("hoses.tools", "eyes"),
        minutes=3,
        fits=engines.mixes_petrol,
        ways={
            "on": _way("hoses", "on", "on", "All vacuum hoses are on.", State.NORMAL),
            "off": _way("hoses", "off", "one off or split", "A vacuum hose is off or split."),
        },
    ),
    "plug_wells": Item(
        title=_say("plug_wells.title", "Plug wells and leads, by eye"),
        asked=_say("plug_wells.asked", "Plug wells"),
        splits=_say("plug_wells.splits", "oil or water in a well lets the spark jump there"),
        tools=_say("plug_wells.tools", "eyes"),
        minutes=4,
        fits=engines.has_coils,
        ways={
            "dry": _way("plug_wells", "dry", "dry", "The plug wells are dry and the leads are seated.", State.NORMAL),
            "oil": _way("plug_wells", "oil", "oil in one", "Oil stands in a plug well."),
            "water": _way("plug_wells", "water", "water in one", "Water stands in a plug well."),
            "off": _way("plug_wells", "off", "a lead off", "A lead or coil is not seated."),
        },
    ),
    "timing_marks": Item(
        title=_say("timing_marks.title", "Timing marks, the engine turned by hand"),
        asked=_say("timing_marks.asked", "Timing marks"),
        splits=_say("timing_marks.splits", "marks that are off end the hunt, and spare the valves"),
        tools=_say("timing_marks.tools", "spanners, a mirror"),
        minutes=25,
        cautions=(
            _say(
                "timing_marks.caution",
                "Key out, gear in neutral. Turn it by the crank bolt in its running direction, never against what "
                "stops it: a valve may stand on a piston. Covers and marks by the maker's procedure.",
            ),
        ),
        mechanical=True,
        ways={
            "in_line": _way("timing_marks", "in_line", "in line", "The timing marks are in line.", State.NORMAL),
            "off": _way("timing_marks", "off", "off", "The timing marks are off: the valves move at the wrong time."),
        },
    ),
}
LOOKS = Looks(test=TEST, items=ITEMS)
SPEC = LOOKS.spec(
    title=_say("title", "First look"),
    owner=_say("owner", "what can be seen and heard before a tool is fetched"),
    place=90,
    hint=_say(
        "hint",
        "What eyes, ears and nose tell in minutes, before anything is clipped on. Leave what was not "
        "looked at as it is.",
    ),
    kept=_say("kept", "First look"),
)
measure = LOOKS.measure

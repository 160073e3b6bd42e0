"""Circuits that all cylinders hang on: the control unit's supply, earths and reference, and what it does at rest."""

from __future__ import annotations

from functools import partial

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.measurement import State
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import Stage
from fairwitness.core.procedures.whole_engine import Item, Looks, way_of

TEST = "engine_circuits"
_say = scope(TEST)
_way = partial(way_of, _say)

ITEMS = {
    "unit_supply": Item(
        title=_say("unit_supply.title", "Supply of the control unit, loaded"),
        asked=_say("unit_supply.asked", "Supply of the control unit"),
        splits=_say("unit_supply.splits", "a unit without supply or earth does nothing right"),
        tools=_say("unit_supply.tools", "meter and bulb"),
        minutes=10,
        needs=(Tool.METER,),
        turning=Turning.KEY_ON,
        acts=frozenset({Act.AT_UNIT_PLUG}),
        fits=engines.has_injectors,
        ways={
            "good": _way(
                "unit_supply",
                "good",
                "battery voltage, loaded",
                "Supply and earth of the control unit hold under load.",
                State.NORMAL,
            ),
            "low": _way(
                "unit_supply",
                "low",
                "missing or falls",
                "Supply or earth of the control unit is missing or falls under load.",
            ),
        },
    ),
    "reference": Item(
        title=_say("reference.title", "5 V reference"),
        asked=_say("reference.asked", "5 V reference"),
        splits=_say("reference.splits", "a reference that is pulled down takes all sensors with it"),
        tools=_say("reference.tools", "meter"),
        minutes=5,
        needs=(Tool.METER,),
        turning=Turning.KEY_ON,
        fits=engines.has_injectors,
        ways={
            "good": _way("reference", "good", "5 V", "The reference stands at 5 V.", State.NORMAL),
            "low": _way("reference", "low", "too low", "The 5 V reference is pulled down."),
        },
    ),
    "sensor_earth": Item(
        title=_say("sensor_earth.title", "Sensor earth"),
        asked=_say("sensor_earth.asked", "Sensor earth"),
        splits=_say("sensor_earth.splits", "a bad sensor earth moves every reading of the control unit"),
        tools=_say("sensor_earth.tools", "meter"),
        minutes=5,
        needs=(Tool.METER,),
        turning=Turning.KEY_ON,
        fits=engines.has_injectors,
        ways={
            "good": _way(
                "sensor_earth", "good", "under 0.1 V", "The sensor earth stands within tens of millivolt.", State.NORMAL
            ),
            "bad": _way("sensor_earth", "bad", "too high", "The sensor earth stands too high."),
        },
    ),
    "key_on": Item(
        title=_say("key_on.title", "Commands with the key on, at rest"),
        asked=_say("key_on.asked", "Commands, key on, at rest"),
        splits=_say("key_on.splits", "a unit that fires coils or holds injectors at rest does what nothing asks for"),
        tools=_say("key_on.tools", "scope or lamp"),
        minutes=6,
        turning=Turning.KEY_ON,
        fits=engines.has_injectors,
        ways={
            "quiet": _way(
                "key_on", "quiet", "quiet", "With the key on and the crank at rest nothing is commanded.", State.NORMAL
            ),
            "held": _way(
                "key_on",
                "held",
                "injectors held on",
                "With the key on and the crank at rest the injectors are held on.",
            ),
            "fires": _way(
                "key_on", "fires", "coils fired", "With the key on and the crank at rest the coils are fired."
            ),
        },
    ),
    "interference": Item(
        title=_say("interference.title", "Spikes on other wires"),
        asked=_say("interference.asked", "Spikes on other wires"),
        splits=_say("interference.splits", "spikes in time with the coils are an effect of them, not a cause"),
        tools=_say("interference.tools", "scope, against the sensor's own earth"),
        minutes=8,
        needs=(Tool.SCOPE,),
        turning=Turning.CRANKING,
        ways={
            "none": _way("interference", "none", "none", "No spikes ride on the sensors' wires.", State.NORMAL),
            "with_coils": _way(
                "interference",
                "with_coils",
                "in time with the coils",
                "Spikes in time with the coils ride on other wires: an effect of the coils, not a cause.",
            ),
            "others": _way(
                "interference", "others", "from elsewhere", "Spikes that are not the coils' ride on the sensors' wires."
            ),
        },
    ),
}
LOOKS = Looks(test=TEST, items=ITEMS)
SPEC = LOOKS.spec(
    title=_say("title", "Common circuits"),
    owner=_say("owner", "the electrical supply that several parts share"),
    place=97,
    stage=Stage.CIRCUITS,
    hint=_say(
        "hint",
        "Measured under load, from the nearest connector that needs no unplugging. Leave what was "
        "not measured as it is.",
    ),
    kept=_say("kept", "Common circuits"),
)
measure = LOOKS.measure

"""It cranks and does not start: one yes or no at a time, for the whole engine."""

from __future__ import annotations

from functools import partial

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.acts import Act
from fairwitness.core.model.measurement import State
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import cautions, engines
from fairwitness.core.procedures.form import Stage
from fairwitness.core.procedures.whole_engine import Item, Looks, way_of

TEST = "no_start"
_say = scope(TEST)
_way = partial(way_of, _say)

ITEMS = {
    "spark": Item(
        title=_say("spark.title", "Spark at one lead while cranking"),
        asked=_say("spark.asked", "Spark while cranking"),
        splits=_say("spark.splits", "splits ignition from fuel for the whole engine"),
        tools=_say("spark.tools", "gapped spark tester"),
        minutes=5,
        needs=(Tool.SPARK_GAP,),
        turning=Turning.CRANKING,
        acts=frozenset({Act.SPARKS, Act.TOUCHES_COIL}),
        fits=engines.has_coils,
        ways={
            "strong": _way("spark", "strong", "strong", "A strong spark jumps the gap while cranking.", State.NORMAL),
            "weak": _way("spark", "weak", "weak", "Only a weak spark jumps while cranking."),
            "none": _way("spark", "none", "none", "No spark jumps while cranking."),
            "comes_and_goes": _way(
                "spark",
                "comes_and_goes",
                "comes and goes",
                "The spark comes and goes while cranking: crank signal, timing or a voltage too low.",
            ),
            "key_on": _way(
                "spark",
                "key_on",
                "with the key on, at rest",
                "A spark jumps with the key on and the crank at rest: the control unit does what nothing asks for.",
            ),
        },
    ),
    "injector_pulse": Item(
        title=_say("injector_pulse.title", "Injector pulse by lamp while cranking"),
        asked=_say("injector_pulse.asked", "Lamp at an injector, cranking"),
        splits=_say("injector_pulse.splits", "a flicker proves that the control unit sees the crank turn"),
        tools=_say("injector_pulse.tools", "bulb of about 2 A"),
        minutes=5,
        needs=(Tool.LAMP,),
        turning=Turning.CRANKING,
        acts=frozenset({Act.TOUCHES_INJECTOR, Act.LOADS_INJECTOR, Act.PULLS_CONNECTOR}),
        fits=engines.has_injectors,
        ways={
            "flashes": _way(
                "injector_pulse",
                "flashes",
                "flashes",
                "The lamp flashes while cranking: the control unit sees the crank and commands the injectors.",
                State.NORMAL,
            ),
            "none": _way(
                "injector_pulse",
                "none",
                "stays dark",
                "The lamp stays dark while cranking: no injector is commanded or fed.",
            ),
            "held": _way(
                "injector_pulse",
                "held",
                "burns all the time",
                "The lamp burns all the time: the injectors are held on.",
            ),
        },
    ),
    "crank_signal": Item(
        title=_say("crank_signal.title", "Crank signal while cranking"),
        asked=_say("crank_signal.asked", "Crank signal"),
        splits=_say("crank_signal.splits", "tells whether the control unit can know that the engine turns"),
        tools=_say("crank_signal.tools", "scope or scan tool"),
        minutes=6,
        turning=Turning.CRANKING,
        ways={
            "present": _way(
                "crank_signal", "present", "there", "The crank signal is there while cranking.", State.NORMAL
            ),
            "none": _way("crank_signal", "none", "none", "There is no crank signal while cranking."),
            "broken": _way(
                "crank_signal", "broken", "broken or noisy", "The crank signal is broken or noisy while cranking."
            ),
        },
    ),
    "coil_ramp": Item(
        title=_say("coil_ramp.title", "Coil current while cranking"),
        asked=_say("coil_ramp.asked", "Coil current, cranking"),
        splits=_say("coil_ramp.splits", "a ramp that is switched means that feed, command and igniter work"),
        tools=_say("coil_ramp.tools", "scope with a small clamp"),
        minutes=8,
        needs=(Tool.SCOPE, Tool.SMALL_CLAMP),
        turning=Turning.CRANKING,
        acts=frozenset({Act.TOUCHES_COIL}),
        fits=engines.has_coils,
        ways={
            "ramp": _way(
                "coil_ramp",
                "ramp",
                "ramps and is switched",
                "The coil current ramps and is switched while cranking: feed, command and igniter work.",
                State.NORMAL,
            ),
            "none": _way("coil_ramp", "none", "none", "No coil draws current while cranking."),
            "steep": _way(
                "coil_ramp",
                "steep",
                "too steep, no ringing",
                "The coil current rises too steeply and nothing rings after turn-on: shorted turns.",
            ),
        },
    ),
    "fuel_by_hand": Item(
        title=_say("fuel_by_hand.title", "A little fuel given by hand"),
        asked=_say("fuel_by_hand.asked", "Fuel given by hand"),
        splits=_say("fuel_by_hand.splits", "if it fires then, it only lacked fuel"),
        tools=_say("fuel_by_hand.tools", "a little fuel, extinguisher"),
        minutes=6,
        turning=Turning.CRANKING,
        acts=frozenset({Act.ADDS_FUEL}),
        cautions=(cautions.FUEL_BY_HAND,),
        fits=engines.mixes_petrol,
        ways={
            "nothing": _way(
                "fuel_by_hand", "nothing", "changes nothing", "Fuel given by hand changes nothing.", State.NORMAL
            ),
            "fires": _way("fuel_by_hand", "fires", "it fires", "It fires on fuel given by hand: it lacked fuel."),
        },
    ),
}
LOOKS = Looks(test=TEST, where_it_starts=False, items=ITEMS)
SPEC = LOOKS.spec(
    title=_say("title", "Start checks"),
    owner=_say("owner", "what an engine needs to start: spark, fuel and signals"),
    place=95,
    stage=Stage.CRANKING,
    hint=_say(
        "hint",
        "For an engine that cranks and does not start. Each is a yes or no; take the easiest first. "
        "Leave what was not looked at as it is.",
    ),
    kept=_say("kept", "Start checks"),
)
measure = LOOKS.measure

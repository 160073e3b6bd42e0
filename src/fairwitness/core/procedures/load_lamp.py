"""A lamp in place of the part: whether feed, wire and driver carry load, which a voltmeter does not tell."""

from __future__ import annotations

from collections.abc import Callable

from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import Choice, Data, Filled, Form, Row, Stage, each, options, same_words
from fairwitness.core.procedures.reading_by_hand import (
    Came,
    cylinder_of,
    on_the_coil,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, one_part

TEST = "load_lamp"
_say = scope(TEST)
CIRCUITS = {"injector": "injector", "coil": "coil", "feed": "feed"}
CIRCUIT_WORDS = {circuit: _say(f"circuit.{circuit}", words) for circuit, words in CIRCUITS.items()}
LAMPS = ("bright", "dim", "flashing", "dark")
WORDS = {lamp: _say(f"word.{lamp}", lamp) for lamp in LAMPS}
SHOWN = {
    "flashing": "flashes: wiring and driver carry load",
    "bright": "burns all the time: the command is stuck on",
    "dim": "is dim: resistance in the circuit",
    "dark": "stays dark: feed, wire or driver is missing",
}
ON_FEED = {**SHOWN, "flashing": "flashes where it should burn", "bright": "burns: the feed carries load"}
SENTENCES = {
    (feed, lamp): template(
        f"load_lamp.{'feed' if feed else 'part'}.{lamp}",
        "The lamp on the {circuit} circuit of cylinder {cylinder} " + words + ".",
    )
    for feed, table in ((False, SHOWN), (True, ON_FEED))
    for lamp, words in table.items()
}
STATES = {"dim": State.LOW, "dark": State.ABSENT, "bright": State.ABNORMAL, "flashing": State.ABNORMAL}
UNKNOWN = _say("unknown", "A lamp is bright, dim, flashing or dark on an injector, coil or feed.")
NO_CYLINDER = _say("no_cylinder", "The lamp names no cylinder of this engine.")
GROUP = template("load_lamp.group", "lamp on {circuit}")

COIL_ACTS = frozenset({Act.LOADS_COIL_COMMAND, Act.TOUCHES_COIL, Act.PULLS_CONNECTOR, Act.UNPLUGS_COIL_RUNNING})
INJECTOR_ACTS = frozenset({Act.LOADS_INJECTOR, Act.TOUCHES_INJECTOR, Act.PULLS_CONNECTOR, Act.UNPLUGS_INJECTOR_RUNNING})


def _readings(filled: Filled) -> list[Data]:
    circuit = filled.choices["circuit"]
    return each(filled, lambda c: {"circuit": circuit, "cylinder": c, "lamp": filled.values["lamp"][c]})


def _offer(circuit: str, title: Message, acts: frozenset[Act], fits: Callable[[Engine], bool]) -> Offer:
    return one_part(
        f"{TEST}:{circuit}",
        title,
        7,
        tools=_say("tools", "bulb of about 2 A"),
        splits=_say("splits", "shows whether feed, wire and driver carry load"),
        needs=(Tool.LAMP,),
        turning=Turning.RUNNING,
        works_cranking=True,
        acts=acts,
        fits=fits,
        asks={"circuit": circuit},
    )


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Lamp"),
    owner=_say("owner", "wires and commands, with a lamp"),
    place=280,
    trust=Trust.BY_HAND,
    unit="1",
    kinds=tuple(f"{TEST}:{circuit}" for circuit in CIRCUITS),
    sound_in_one=True,
    offers=(
        _offer("coil", _say("coil", "Lamp in place of the coil"), COIL_ACTS, engines.has_coils),
        _offer("injector", _say("injector", "Lamp in place of the injector"), INJECTOR_ACTS, engines.has_injectors),
    ),
    form=Form(
        stage=Stage.CIRCUITS,
        title=_say("form", "Lamp in place of the part"),
        hint=_say("hint", "A bulb of about 2 A shows that wiring and driver carry load, which a voltmeter does not."),
        kept=_say("kept", "Lamp readings"),
        choices=(
            Choice(
                key="circuit",
                words=_say("choice.circuit", "In the circuit of the"),
                options=options("load_lamp.option", coil="Coil", injector="Injector", feed="Feed"),
            ),
        ),
        rows=(
            Row(
                key="lamp",
                words=_say("row", "lamp"),
                options=same_words("load_lamp.lamp", "flashing", "bright", "dim", "dark"),
            ),
        ),
        least=1,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one lamp.

    Parameters
    ----------
    observation : Observation
        ``circuit`` (injector, coil, feed), ``cylinder``, ``lamp`` (bright, dim, flashing, dark).
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    circuit, lamp = str(observation.data.get("circuit", "")), str(observation.data.get("lamp", ""))
    cylinder = cylinder_of(observation.data, engine)
    if circuit not in CIRCUITS or lamp not in LAMPS:
        return unread(TEST, index, engine, UNKNOWN)
    if cylinder is None:
        return unread(TEST, index, engine, NO_CYLINDER)
    on_feed = circuit == "feed"
    words = CIRCUIT_WORDS[circuit]
    return reading(
        TEST,
        index,
        Came(
            kind=f"{TEST}:{circuit}",
            outcome=lamp,
            speaks_of=on_the_coil(cylinder, engine) if circuit == "coil" else (cylinder,),
            at=cylinder,
            state=State.NORMAL if lamp == ("bright" if on_feed else "flashing") else STATES[lamp],
            statement=SENTENCES[on_feed, lamp](circuit=words, cylinder=cylinder),
            word=WORDS[lamp],
            group=f"lamp on {circuit}",
            group_words=GROUP(circuit=words),
        ),
    )

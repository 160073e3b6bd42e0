"""Resistance from one place of an injector's circuit to another: which stretch of it is open.

An open stretch is not an open injector: what lies between the two places decides what it speaks of.
"""

from __future__ import annotations

from dataclasses import replace

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.tools import Tool
from fairwitness.core.model.wiring import CircuitOf, Place, Side
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import Data, Filled, Form, Row, Stage, each
from fairwitness.core.procedures.reading_by_hand import (
    NAMES_NO_CYLINDER,
    Came,
    cylinder_of,
    number_of,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import TestSpec, Trust, one_part

TEST = "pin_to_pin"
_say = scope(TEST)
FEED, CONTROL, ACROSS = f"{TEST}:feed", f"{TEST}:control", f"{TEST}:across"
CLOSED, OPEN = "closed", "open"
WORDS = {CLOSED: _say("word.closed", "whole"), OPEN: _say("word.open", "open")}
SAID = {
    CLOSED: template("pin_to_pin.closed", "Cylinder {cylinder}: from {first} to {last} the circuit is whole."),
    OPEN: template("pin_to_pin.open", "Cylinder {cylinder}: from {first} to {last} the circuit is open."),
}
GROUP = template("pin_to_pin.group", "{first} to {last}")
NO_PLACES = _say("no_places", "The reading names two places of the injector's circuit, the one nearer the feed first.")
NEITHER = _say("neither", "The reading holds neither ohms nor open.")


def _readings(filled: Filled) -> list[Data]:
    def one(cylinder: int) -> Data:
        ends = {"place": filled.choices.get("place", ""), "place_to": filled.choices.get("place_to", "")}
        is_open = filled.values.get("open", {}).get(cylinder) is True
        value = {"open": True} if is_open else {"ohms": filled.values["ohms"][cylinder]}
        return {**ends, "cylinder": cylinder, **value}

    return each(filled, one)


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Wire, pin to pin"),
    owner=_say("owner", "the wire to an injector, piece by piece"),
    place=242,
    trust=Trust.METERED,
    unit="ohm",
    kinds=(FEED, CONTROL, ACROSS),
    sound_in_one=True,
    offers=(
        one_part(
            ACROSS,
            _say("offer", "Injector circuit from pin to pin"),
            12,
            tools=_say("tools", "meter"),
            splits=_say("splits", "tells an open wire or connector from an open injector, and where it is"),
            needs=(Tool.METER,),
            acts=frozenset({Act.PULLS_CONNECTOR, Act.TOUCHES_INJECTOR}),
            fits=engines.has_a_known_circuit,
        ),
    ),
    form=Form(
        stage=Stage.CIRCUITS,
        title=_say("form", "Wire, from pin to pin"),
        hint=_say(
            "hint",
            "Key off, both ends free. Name the end nearer the feed first. Start where nothing need be unplugged, and "
            "halve what is left.",
        ),
        kept=_say("kept", "Wires"),
        rows=(
            Row(key="ohms", words=_say("row.ohms", "ohm")),
            Row(key="open", words=_say("row.open", "open"), tick=True),
        ),
        least=1,
        between=True,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one resistance between two places.

    Parameters
    ----------
    observation : Observation
        ``cylinder``, ``place`` and ``place_to`` along its circuit, and ``ohms`` or ``open``: true.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        What it speaks of follows from whether the injector lies between the two places.
    """
    data = observation.data
    cylinder = cylinder_of(data, engine)
    if cylinder is None:
        return unread(TEST, index, engine, NAMES_NO_CYLINDER)
    circuit = engine.circuit(CircuitOf.INJECTOR, cylinder)
    names = [place.name for place in circuit]
    first, last = str(data.get("place", "")), str(data.get("place_to", ""))
    if first not in names or last not in names or names.index(first) >= names.index(last):
        return unread(TEST, index, engine, NO_PLACES, cylinder=cylinder)
    ohms = number_of(data, "ohms", low=0.0, high=1e8)
    is_open = data.get("open") is True
    if ohms is None and not is_open:
        return unread(TEST, index, engine, NEITHER, cylinder=cylinder)
    stretch = circuit[names.index(first) : names.index(last) + 1]
    kind = _speaks_of(circuit, stretch)
    most = limit.WIRE_OPEN_ABOVE_OHM.value if kind == ACROSS else limit.WIRE_OHM_MAX.value
    came = OPEN if is_open or ohms is None or ohms > most else CLOSED
    ends = {"first": stretch[0].words, "last": stretch[-1].words}
    measured = reading(
        TEST,
        index,
        Came(
            kind=kind,
            outcome=came,
            speaks_of=(cylinder,),
            at=cylinder,
            state=State.ABSENT if came == OPEN else State.NORMAL,
            statement=SAID[came](cylinder=cylinder, **ends),
            word=WORDS[came],
            value=None if is_open or ohms is None else round(ohms, 2),
            unit="ohm",
            group=f"{first} to {last}",
            group_words=GROUP(**ends),
        ),
    )
    facts = {**measured.facts, "along_from": first, "along": last, "side": Side.FEED.value}
    return replace(measured, facts={**facts, "reached": float(came == CLOSED)})


def _speaks_of(circuit: tuple[Place, ...], stretch: tuple[Place, ...]) -> str:
    """The row of outcomes: the feed's wire, the command's wire, or across the injector.

    Where nobody wrote down which place is the injector's plug, everything may lie between.
    """
    at = next((i for i, place in enumerate(circuit) if place.is_part), None)
    if at is None:
        return ACROSS
    first, last = circuit.index(stretch[0]), circuit.index(stretch[-1])
    return FEED if last <= at else CONTROL if first >= at else ACROSS

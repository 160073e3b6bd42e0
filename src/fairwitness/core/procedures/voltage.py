"""A voltage by hand: feed and earth under load, command levels, what the injector's control side rests at."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import NOTHING, Message, verbatim
from fairwitness.core.model.acts import Act
from fairwitness.core.model.battery import nominal_volts, scaled
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.model.wiring import CircuitOf, Side
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import (
    WHICH_END,
    Choice,
    Data,
    Filled,
    Form,
    Row,
    Stage,
    each,
    options,
)
from fairwitness.core.procedures.reading_by_hand import (
    NAMES_NO_CYLINDER,
    Came,
    cylinder_of,
    number_of,
    on_the_coil,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, one_part

TEST = "voltage"
_say = scope(TEST)
PLACED = ("coil_control_low", "coil_control_high", "injector_control")
"""Items whose meaning depends on where along the wire they were taken."""
ENDS = ("part", "part_unplugged", "control_unit", "control_unit_unplugged")
STATES = {
    "normal": State.NORMAL, "battery": State.NORMAL, "low": State.LOW, "absent": State.ABSENT,
    "high": State.HIGH, "elevated": State.ABNORMAL, "bias": State.ABNORMAL, "zero": State.ABNORMAL,
}  # fmt: skip
ITEMS = {
    "coil_feed": _say("item.coil_feed", "Coil feed"),
    "coil_earth": _say("item.coil_earth", "Coil earth"),
    "coil_control_low": _say("item.coil_control_low", "Coil control low"),
    "coil_control_high": _say("item.coil_control_high", "Coil control high"),
    "injector_feed": _say("item.injector_feed", "Injector feed"),
    "injector_control": _say("item.injector_control", "Injector control"),
}
PLACES = {"part": _say("at_part", " at the part"), "control_unit": _say("at_unit", " at the control unit's pin")}
ALONG = template("voltage.along", "{where}, {along},")
UNPLUGGED = _say("unplugged", ", unplugged")
READING = template("voltage.reading", "{item} of cylinder {cylinder}{where}{without}: {volts:.2f} V, {judgement}.")
BATTERY = template("voltage.battery", "Battery {volts:.2f} V, {judgement}.")
BATTERY_LOW = _say("battery_low", "too low: charge it before testing")
BATTERY_ENOUGH = _say("battery_enough", "enough to test with")
BATTERY_GROUP = _say("battery_group", "battery")
NO_VOLTS = _say("no_volts", "The reading holds no volts.")
UNKNOWN, OF_NOTHING = template("voltage.unknown", "A voltage of {item} is not known."), _say("nothing", "nothing")
KEY_ON_ONLY = _say(
    "key_on_only", "The control side is read with the key on; while the engine runs a meter shows an average."
)
JUDGEMENTS = {
    "feed": {
        "absent": _say("feed.absent", "no feed arrives"),
        "low": _say("feed.low", "the feed drops under load"),
        "normal": _say("feed.normal", "the feed is there"),
    },
    "earth": {
        "high": _say("earth.high", "the earth drops more than 0.2 V"),
        "normal": _say("earth.normal", "the earth is good"),
    },
    "command_low": {
        "elevated": _say("command_low.elevated", "the low level never reaches earth and cannot switch"),
        "normal": _say("command_low.normal", "the low level reaches earth"),
    },
    "command_high": {
        "absent": _say("command_high.absent", "no command arrives"),
        "normal": _say("command_high.normal", "the command is there"),
    },
    "injector_control": {
        "battery": _say("control.battery", "fed through the injector, as it should be"),
        "bias": _say("control.bias", "only the control unit's own monitoring level: an open between feed and driver"),
        "zero": _say("control.zero", "neither feed nor monitoring level: shorted to earth, or no feed"),
    },
    "injector_control_unplugged": {
        "battery": _say("control_unplugged.battery", "fed although nothing is plugged in: another supply reaches it"),
        "bias": _say("control_unplugged.bias", "the control unit's monitoring level, as it should be"),
        "zero": _say("control_unplugged.zero", "nothing, as many drivers show with nothing plugged in"),
    },
}
GROUP_PLACES = {place: _say(f"group.{place}", place.replace("_", " ")) for place in ("part", "control_unit")}
GROUP_ITEMS = {item: _say(f"group.{item}", item.replace("_", " ")) for item in ITEMS}
GROUP_AT = template("voltage.group_at", "{item}, {place}{without}")


def _feed(volts: float, cranking: bool) -> tuple[str, str]:
    least = limit.FEED_CRANKING_MIN_V.value if cranking else limit.FEED_MIN_V.value
    if volts < limit.FEED_ABSENT_V.value:
        return "feed", "absent"
    return "feed", "low" if volts < least else "normal"


def _earth(volts: float, _cranking: bool) -> tuple[str, str]:
    return "earth", "high" if abs(volts) > limit.EARTH_DROP_MAX_V.value else "normal"


def _command_low(volts: float, _cranking: bool) -> tuple[str, str]:
    return "command_low", "elevated" if volts > limit.COMMAND_LOW_ABOVE_V.value else "normal"


def _command_high(volts: float, _cranking: bool) -> tuple[str, str]:
    return "command_high", "absent" if volts < limit.COMMAND_SWING_MIN_V.value else "normal"


def _injector_control(volts: float, _cranking: bool) -> tuple[str, str]:
    if volts >= limit.CONTROL_AT_BATTERY_V.value:
        return "injector_control", "battery"
    return "injector_control", "bias" if volts >= limit.CONTROL_BIAS_MIN_V.value else "zero"


OUTCOMES = {
    "coil_feed": _feed,
    "injector_feed": _feed,
    "coil_earth": _earth,
    "coil_control_low": _command_low,
    "coil_control_high": _command_high,
    "injector_control": _injector_control,
}
"""What each item's voltage means: a table of judgements, and the outcome in it."""
USUAL_FEED = template("voltage.usual.feed", "{volts:g} V or more under load")
USUAL = {
    f"{TEST}:coil_feed": USUAL_FEED(volts=limit.FEED_MIN_V.value),
    f"{TEST}:injector_feed": USUAL_FEED(volts=limit.FEED_MIN_V.value),
    f"{TEST}:coil_earth": template("voltage.usual.earth", "{volts:g} V or less under load")(
        volts=limit.EARTH_DROP_MAX_V.value
    ),
    f"{TEST}:coil_control_low": template("voltage.usual.low", "near earth, under {volts:g} V")(
        volts=limit.COMMAND_LOW_ABOVE_V.value
    ),
    f"{TEST}:coil_control_high": template("voltage.usual.high", "over {volts:g} V, usually 4 to 5 V")(
        volts=limit.COMMAND_SWING_MIN_V.value
    ),
    f"{TEST}:injector_control": _say("usual.control", "battery voltage with the key on"),
}


def usual(_engine: Engine) -> Mapping[str, Message]:
    """Voltages of sound circuits, by test and item."""
    return USUAL


def _readings(filled: Filled) -> list[Data]:
    choices = filled.choices
    about: Data = {
        "item": choices["item"],
        "measured_at": choices["measured_at"],
        "unplugged": choices["plug"] == "unplugged",
        "engine_state": choices["engine_state"],
        **({"place": choices["place"]} if choices.get("place") else {}),
    }
    return each(filled, lambda c: {**about, "cylinder": c, "volts": filled.values["volts"][c]})


def _offer(id: str, title: Message, splits: Message, touched: Act, **changes: Any) -> Offer:
    item, _, place = id.partition(":")
    usual_of: dict[str, Any] = {
        "tools": _say("tools", "meter"),
        "splits": splits,
        "needs": (Tool.METER,),
        "turning": Turning.KEY_ON,
        "acts": frozenset({touched}),
        "disturbs": False,
        "asks": {"item": item, **({"measured_at": place} if place else {})},
    }
    return one_part(f"{TEST}:{id}", title, 6, **{**usual_of, **changes})


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Voltage"),
    owner=_say("owner", "whether voltage arrives where it belongs"),
    place=250,
    trust=Trust.METERED,
    unit="V",
    kinds=(
        *(f"{TEST}:{item}" for item in ITEMS if item not in PLACED),
        *(f"{TEST}:{item}:{end}" for item in PLACED for end in ENDS),
    ),
    sound_in_one=True,
    usual=usual,
    offers=(
        _offer(
            "coil_feed",
            _say("coil_feed", "Coil feed under load"),
            _say("coil_feed_splits", "tells a coil without feed from an open one"),
            Act.TOUCHES_COIL,
            tools=_say("meter_or_lamp", "meter or lamp"),
            fits=engines.has_coils,
        ),
        _offer(
            "coil_earth",
            _say("coil_earth", "Coil earth under load"),
            _say("coil_earth_splits", "a bad earth keeps the command from switching"),
            Act.TOUCHES_COIL,
            fits=engines.has_coils,
        ),
        _offer(
            "injector_feed",
            _say("injector_feed", "Injector feed under load"),
            _say("injector_feed_splits", "tells an injector without feed from an open one"),
            Act.TOUCHES_INJECTOR,
            acts=frozenset({Act.TOUCHES_INJECTOR, Act.LOADS_INJECTOR}),
            tools=_say("meter_or_lamp", "meter or lamp"),
            fits=engines.has_injectors,
        ),
        _offer(
            "injector_control:part",
            _say("injector_control", "Injector control side, key on"),
            _say("injector_control_splits", "battery voltage there means feed and winding are whole"),
            Act.TOUCHES_INJECTOR,
            acts=frozenset({Act.TOUCHES_INJECTOR, Act.LOADS_INJECTOR}),
            fits=engines.has_injectors,
        ),
    ),
    form=Form(
        stage=Stage.CIRCUITS,
        title=_say("form", "Voltage, with the meter"),
        hint=_say(
            "hint",
            "Feeds and earths under load: a lamp or the running part, not an open plug. Where along the wire you "
            "measured decides what it means.",
        ),
        kept=_say("kept", "Voltages"),
        choices=(
            Choice(
                key="item",
                words=_say("choice.item", "Of the"),
                options=options(
                    "voltage.option",
                    coil_feed="Coil feed",
                    coil_earth="Coil earth",
                    coil_control_low="Command, low level",
                    coil_control_high="Command, high level",
                    injector_feed="Injector feed",
                    injector_control="Injector control side",
                ),
            ),
            WHICH_END,
            Choice(
                key="plug",
                words=_say("choice.plug", "The part was"),
                options=options("voltage.plug", plugged="Plugged in", unplugged="Unplugged"),
            ),
            Choice(
                key="engine_state",
                words=_say("choice.state", "With"),
                options=options("voltage.state", key_on="Key on", running="Engine running", cranking="Cranking"),
            ),
        ),
        rows=(Row(key="volts", words=_say("row", "volt")),),
        least=1,
        usual_by="item",
        along=("injector_feed", "injector_control"),
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge one voltage by the limits of the trade.

    Parameters
    ----------
    observation : Observation
        ``item``, ``volts``, and where it matters ``cylinder``, ``engine_state``, ``unplugged``, ``measured_at``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    data = observation.data
    item, state = str(data.get("item", "")), data.get("engine_state")
    volts = number_of(data, "volts", low=-100.0, high=100.0)
    if volts is None:
        return unread(TEST, index, engine, NO_VOLTS)
    if item == "battery":
        return _battery(volts, index, cranking=state == "cranking")
    if item not in OUTCOMES:
        return unread(TEST, index, engine, UNKNOWN(item=item or OF_NOTHING))
    cylinder = cylinder_of(data, engine)
    if cylinder is None:
        return unread(TEST, index, engine, NAMES_NO_CYLINDER)
    if item == "injector_control" and state not in (None, "key_on"):
        return unread(TEST, index, engine, KEY_ON_ONLY, cylinder=cylinder)
    measured = _at_a_part(data, index, engine, cylinder)
    along = _along(data, engine)
    if not along:
        return measured
    reached = volts >= limit.CONTROL_AT_BATTERY_V.value
    # Voltage halfway says nothing of what follows; the statement uses it to close in on the break.
    halfway = reached and along != engine.circuit(CircuitOf.INJECTOR, cylinder)[-1].name
    side = Side.CONTROL if item == "injector_control" else Side.FEED
    facts = {**measured.facts, "along": along, "reached": float(reached), "side": side.value}
    return replace(measured, facts=facts, categorical=() if halfway else measured.categorical)


def _at_a_part(data: Mapping[str, Any], index: int, engine: Engine, cylinder: int) -> Measured:
    item, volts = str(data["item"]), float(data["volts"])
    table, outcome = OUTCOMES[item](volts, data.get("engine_state") == "cranking")
    place = str(data.get("measured_at") or "part")
    unplugged = bool(data.get("unplugged"))
    state = STATES[outcome]
    if item == "injector_control" and unplugged:  # without the injector no feed can arrive
        table, state = "injector_control_unplugged", State.ABNORMAL if outcome == "battery" else State.NORMAL
    placed, without = item in PLACED, UNPLUGGED if unplugged else NOTHING
    where = PLACES.get(place, NOTHING) if placed else NOTHING
    if along := _along(data, engine):
        where = ALONG(where=where, along=along)
    group_words = GROUP_ITEMS[item]
    if placed:
        group_words = GROUP_AT(item=group_words, place=GROUP_PLACES.get(place, verbatim(place)), without=without)
    return reading(
        TEST,
        index,
        Came(
            kind=f"{TEST}:{item}" + (f":{place}{'_unplugged' if unplugged else ''}" if placed else ""),
            outcome=outcome,
            speaks_of=on_the_coil(cylinder, engine) if item.startswith("coil") else (cylinder,),
            at=cylinder,
            state=state,
            statement=READING(
                item=ITEMS[item],
                cylinder=cylinder,
                where=where,
                without=without,
                volts=volts,
                judgement=JUDGEMENTS[table][outcome],
            ),
            value=round(volts, 3),
            unit="V",
            group=item + (f", {place.replace('_', ' ')}{', unplugged' if unplugged else ''}" if placed else ""),
            group_words=group_words,
        ),
    )


def _along(data: Mapping[str, Any], engine: Engine) -> str:
    """Named place along the injector circuit it was taken at; empty for none."""
    along = data.get("place")
    if not isinstance(along, str) or not str(data["item"]).startswith("injector"):
        return ""
    places = engine.circuit(CircuitOf.INJECTOR, cylinder_of(data, engine))
    return along if along in [place.name for place in places] else ""


def _battery(volts: float, index: int, *, cranking: bool) -> Measured:
    least = limit.CRANKING_VOLT_MIN if cranking else limit.RESTED_VOLT_MIN
    low = volts < scaled(least.value, nominal_volts(volts, rested=not cranking))
    return reading(
        TEST,
        index,
        Came(
            state=State.LOW if low else State.NORMAL,
            statement=BATTERY(volts=volts, judgement=BATTERY_LOW if low else BATTERY_ENOUGH),
            value=round(volts, 2),
            unit="V",
            group="battery",
            group_words=BATTERY_GROUP,
        ),
    )

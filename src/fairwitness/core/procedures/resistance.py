"""Resistance of a coil, lead, injector or wire: open is decisive, the rest is told by the peers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine, Ignition, InjectorDrive
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.reason import Reason
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import (
    WHICH_HOT,
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
from fairwitness.core.procedures.safety import driven_inside
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, one_part

TEST = "resistance"
_say = scope(TEST)
RANGES: Mapping[str, tuple[float, float]] = {
    "coil_primary": (limit.PRIMARY_OHM_MIN.value, limit.PRIMARY_OHM_MAX.value),
    "coil_secondary": (limit.SECONDARY_OHM_MIN.value, limit.SECONDARY_OHM_MAX.value),
    "plug_lead": (0.0, limit.LEAD_OHM_MAX.value),
    "control_wire": (0.0, limit.WIRE_OHM_MAX.value),
    "feed_wire": (0.0, limit.WIRE_OHM_MAX.value),
}
INJECTOR_RANGES: Mapping[InjectorDrive, tuple[float, float]] = {
    InjectorDrive.SATURATED: (limit.SATURATED_OHM_MIN.value, limit.SATURATED_OHM_MAX.value),
    InjectorDrive.PEAK_AND_HOLD: (limit.LOW_OHM_MIN.value, limit.LOW_OHM_MAX.value),
    InjectorDrive.BOOSTED: (limit.BOOSTED_OHM_MIN.value, limit.BOOSTED_OHM_MAX.value),
}
APART: Mapping[str, tuple[float, float]] = {
    "coil_primary": (0.7, 1.35),
    "coil_secondary": (0.7, 1.4),
    "plug_lead": (0.2, 2.5),
    "injector": (1 - limit.INJECTOR_OHM_APART.value, 1 + limit.INJECTOR_OHM_APART.value),
}
"""[M] shares of the peers' resistance beyond which one stands out; the injector's is the trade's 10 % [T]."""
ITEMS = {
    "coil_primary": _say("item.coil_primary", "coil primary"),
    "coil_secondary": _say("item.coil_secondary", "coil secondary"),
    "plug_lead": _say("item.plug_lead", "plug lead"),
    "control_wire": _say("item.control_wire", "control wire"),
    "feed_wire": _say("item.feed_wire", "feed wire"),
    "injector": _say("item.injector", "injector"),
}
OPEN_OHM = 1e9
BUILT_OPEN = ("coil_primary", "coil_secondary")
"""Coils with a diode or their driver inside: where all read open, they are built so."""
ANY = (0.0, float("inf"))
STATES = {"open": State.ABSENT, "high": State.HIGH, "low": State.LOW, "normal": State.NORMAL}
SENTENCES = {
    outcome: template(f"resistance.{outcome}", "The {item} of cylinder {cylinder} " + words + " ({about}).")
    for outcome, words in {
        "open": "is open",
        "high": "reads {ohms}, too much",
        "low": "reads {ohms}, too little",
        "normal": "reads {ohms}, as it should",
        "built_open": "reads open, as all do: a diode or a driver sits inside",
    }.items()
}
OPEN_WORD = _say("open_word", "open")
KILO_OHMS, SMALL_OHMS, OHMS = (
    template("resistance.kilo_ohms", "{kilo_ohms:.1f} kΩ"),
    template("resistance.small_ohms", "{ohms:.2f} Ω"),
    template("resistance.ohms", "{ohms:.1f} Ω"),
)
UP_TO, FROM_TO = template("resistance.up_to", "up to {high}"), template("resistance.from_to", "{low} to {high}")
USUAL_IS, USUAL_UNKNOWN = (
    template("resistance.usual_is", "usual is {range}"),
    _say("usual_unknown", "no usual range is known"),
)
PEERS_HAVE = template("resistance.peers_have", "its peers have {ohms}")
UNKNOWN, OF_NOTHING = template("resistance.unknown", "A resistance of {item} is not known."), _say("nothing", "nothing")
FAILS_HOT = _say("fails_hot", "Good when cold; it fails hot, so the cold reading clears nothing.")
PIEZO = _say("piezo", "A piezo stack has no winding: a meter tells nothing of it. Compare its current or its return.")
DRIVER_INSIDE = _say(
    "driver_inside", "The driver sits inside the coil: its winding cannot be reached with a meter. Look at its current."
)
NEITHER = _say("neither", "The reading holds neither ohms nor open.")
TEMPERATURES = {"hot": _say("hot", "hot"), "cold": _say("cold", "cold")}
GROUP_AT = template("resistance.group_at", "{item}, {temperature}")


@dataclass(frozen=True, slots=True, kw_only=True)
class _Part:
    """What was measured, and when."""

    item: str
    cylinder: int
    ohms: float
    temperature: str


def usual(engine: Engine) -> dict[str, Message]:
    """Ranges that sound parts of an engine read, by test and item; none where none is known."""
    ranges = {f"{TEST}:{item}": _range_words(item, engine) for item in ITEMS}
    return {key: words for key, words in ranges.items() if words}


def _readings(filled: Filled) -> list[Data]:
    def one(cylinder: int) -> Data:
        about = {"item": filled.choices["item"], "temperature": filled.choices["temperature"], "cylinder": cylinder}
        is_open = filled.values.get("open", {}).get(cylinder) is True
        return {**about, "open": True} if is_open else {**about, "ohms": filled.values["ohms"][cylinder]}

    return each(filled, one)


def _offer(item: str, title: Message, minutes: float, splits: Message, **changes: Any) -> Offer:
    return one_part(
        f"{TEST}:{item}",
        title,
        minutes,
        tools=_say("tools", "meter"),
        splits=splits,
        needs=(Tool.METER,),
        asks={"item": item},
        **{"acts": frozenset({Act.PULLS_CONNECTOR}), **changes},
    )


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Resistance"),
    owner=_say("owner", "the windings of coils and injectors, with a meter"),
    place=240,
    trust=Trust.METERED,
    unit="ohm",
    kinds=tuple(f"{TEST}:{item}" for item in ITEMS),
    sound_in_one=True,
    compared_later=True,
    usual=usual,
    offers=(
        _offer(
            "coil_primary",
            _say("coil_primary", "Resistance of the coil primary"),
            6,
            _say("coil_primary_splits", "an open winding is decisive"),
            sweeps=True,
            fits=engines.has_coils,
        ),
        _offer(
            "coil_secondary",
            _say("coil_secondary", "Resistance of the coil secondary"),
            7,
            _say("coil_secondary_splits", "shorted or open turns stand out beside the peers"),
            sweeps=True,
            fits=engines.has_coils,
        ),
        _offer(
            "plug_lead",
            _say("plug_lead", "Resistance of lead or boot"),
            7,
            _say("plug_lead_splits", "tells an open or burnt lead from plug and coil"),
            sweeps=True,
            fits=engines.has_coils,
        ),
        _offer(
            "injector",
            _say("injector", "Resistance of the injector at its plug"),
            8,
            _say("injector_splits", "open is decisive; compare with the others"),
            sweeps=True,
            fits=engines.has_wound_injectors,
        ),
        _offer(
            "control_wire",
            _say("control_wire", "Command wire from end to end"),
            20,
            _say("control_wire_splits", "tells the wire from the control unit"),
            acts=frozenset({Act.PULLS_CONNECTOR, Act.AT_UNIT_PLUG}),
        ),
    ),
    form=Form(
        stage=Stage.CIRCUITS,
        title=_say("form", "Resistance, with the meter"),
        hint=_say(
            "hint",
            "Key off, part unplugged. One reading is judged by the usual range, three and more by each other. Tick "
            "what reads open.",
        ),
        kept=_say("kept", "Resistances"),
        choices=(
            Choice(
                key="item",
                words=_say("choice.item", "Of the"),
                options=options(
                    "resistance.option",
                    coil_primary="Coil primary",
                    coil_secondary="Coil secondary",
                    plug_lead="Lead or boot",
                    injector="Injector",
                    control_wire="Command wire",
                    feed_wire="Feed wire",
                ),
            ),
            WHICH_HOT,
        ),
        rows=(
            Row(key="ohms", words=_say("row.ohms", "ohm")),
            Row(key="open", words=_say("row.open", "open"), tick=True),
        ),
        least=1,
        usual_by="item",
        calculates=("injector",),
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge one reading by the range usual for its kind of part.

    Parameters
    ----------
    observation : Observation
        ``item``, ``cylinder``, and ``ohms`` or ``open``: true.
    index : int
    engine : Engine
        Its ``injector_ohms`` is the reference for injectors where known.

    Returns
    -------
    Measured
        ``figures`` holds the ohms, for comparing with the peers.
    """
    data = observation.data
    item = str(data.get("item", ""))
    cylinder = cylinder_of(data, engine)
    if item not in ITEMS:
        return unread(TEST, index, engine, UNKNOWN(item=item or OF_NOTHING))
    if cylinder is None:
        return unread(TEST, index, engine, NAMES_NO_CYLINDER)
    if item == "injector" and engine.injector_drive is InjectorDrive.PIEZO:
        return unread(TEST, index, engine, PIEZO, cylinder=cylinder)
    if item == "coil_primary" and driven_inside(engine):
        return unread(TEST, index, engine, DRIVER_INSIDE, cylinder=cylinder)
    ohms = number_of(data, "ohms", low=0.0, high=1e8)
    is_open = data.get("open") is True
    if ohms is None and not is_open:
        return unread(TEST, index, engine, NEITHER, cylinder=cylinder)
    shown = OPEN_OHM if is_open or ohms is None else ohms
    low, high = _range(item, engine)
    outcome = "open" if shown >= OPEN_OHM else "low" if shown < low else "high" if shown > high else "normal"
    words = _range_words(item, engine)
    part = _Part(item=item, cylinder=cylinder, ohms=shown, temperature=str(data.get("temperature", "")))
    return _judged(part, outcome, USUAL_IS(range=words) if words else USUAL_UNKNOWN, index, engine)


def together(parts: Sequence[Measured], engine: Engine) -> tuple[Measured, ...]:
    """Judge readings of one kind beside each other: what all share is how they are built, and heat decides."""
    judged: dict[int, Measured] = dict(enumerate(parts))
    for temperature in {str(p.facts["temperature"]) for p in parts}:
        at = [i for i, p in enumerate(parts) if p.facts["temperature"] == temperature]
        judged |= zip(at, _beside([parts[i] for i in at], engine), strict=True)
    fails_hot = {
        next(iter(m.figures))
        for m in judged.values()
        if m.facts["temperature"] == "hot" and any(f.state is not State.NORMAL for f in m.findings)
    }
    return tuple(_only_when_cold(m) if next(iter(m.figures)) in fails_hot else m for m in judged.values())


def _only_when_cold(measured: Measured) -> Measured:
    """A good reading of a cold winding says nothing where the same winding fails hot."""
    if measured.facts["temperature"] == "hot" or any(f.state is not State.NORMAL for f in measured.findings):
        return measured
    return replace(measured, reasons=(*measured.reasons, Reason("fails_hot", FAILS_HOT)), categorical=())


def _beside(parts: Sequence[Measured], engine: Engine) -> tuple[Measured, ...]:
    """Readings of one temperature, each against the others."""
    ohms = {c: f["ohms"] for p in parts for c, f in p.figures.items()}
    if len(ohms) < 3:
        return tuple(parts)
    judged = []
    for part in parts:
        cylinder, own = next(iter(part.figures.items()))
        item, temperature = str(part.facts["item"]), str(part.facts["temperature"])
        peers = np.array([v for c, v in ohms.items() if c != cylinder])
        closed = peers[peers < OPEN_OHM]
        usual_ohms = float(np.median(closed)) if closed.size else OPEN_OHM  # built open only where all others are
        below, above = APART.get(item, (0.0, 5.0))
        share = own["ohms"] / max(usual_ohms, 1e-9)
        outcome = "low" if share < below else "high" if share > above else "normal"
        if own["ohms"] >= OPEN_OHM:
            outcome = "normal" if usual_ohms >= OPEN_OHM and item in BUILT_OPEN else "open"
        assert part.observation is not None
        measured = _Part(item=item, cylinder=cylinder, ohms=own["ohms"], temperature=temperature)
        again = _judged(measured, outcome, PEERS_HAVE(ohms=_ohms(usual_ohms)), part.observation, engine)
        judged.append(replace(part, findings=again.findings, categorical=again.categorical))
    return tuple(judged)


def _range_words(item: str, engine: Engine) -> Message:
    """Range a sound part of a kind reads, in words; nothing where none is known."""
    low, high = _range(item, engine)
    if high == ANY[1]:
        return NOTHING
    return UP_TO(high=_ohms(high)) if low == 0 else FROM_TO(low=_ohms(low), high=_ohms(high))


def _range(item: str, engine: Engine) -> tuple[float, float]:
    if item == "coil_primary" and (engine.ignition is Ignition.DISTRIBUTOR or engine.cylinders <= 2):
        return limit.PRIMARY_OHM_MIN.value, limit.PRIMARY_OHM_POINTS_MAX.value
    if item != "injector":
        return RANGES[item]
    if engine.injector_ohms:
        apart = limit.INJECTOR_OHM_NOMINAL.value
        return (1 - apart) * engine.injector_ohms, (1 + apart) * engine.injector_ohms
    drive = engine.injector_drive
    return INJECTOR_RANGES.get(drive, ANY) if drive is not None else ANY


def _ohms(value: float) -> Message:
    if value >= OPEN_OHM:
        return OPEN_WORD
    if value >= 1000:
        return KILO_OHMS(kilo_ohms=value / 1000)
    return SMALL_OHMS(ohms=value) if value < 10 else OHMS(ohms=value)


def _judged(part: _Part, outcome: str, about: Message, index: int, engine: Engine) -> Measured:
    is_open = part.ohms >= OPEN_OHM
    item = ITEMS[part.item]
    said: dict[str, Message | int] = {"item": item, "cylinder": part.cylinder, "about": about}
    if outcome == "open":
        statement = SENTENCES["open"](**said)
    elif is_open:
        statement = SENTENCES["built_open"](**said)
    else:
        statement = SENTENCES[outcome](ohms=_ohms(part.ohms), **said)
    temperature = TEMPERATURES.get(part.temperature)
    measured = reading(
        TEST,
        index,
        Came(
            kind=f"{TEST}:{part.item}",
            outcome=outcome,
            speaks_of=on_the_coil(part.cylinder, engine) if part.item.startswith("coil") else (part.cylinder,),
            at=part.cylinder,
            state=STATES[outcome],
            statement=statement,
            word=OPEN_WORD if is_open else NOTHING,
            value=None if is_open else round(part.ohms, 3),
            unit="ohm",
            group=part.item + (f", {part.temperature}" if temperature else ""),
            group_words=GROUP_AT(item=item, temperature=temperature) if temperature else item,
            figures={part.cylinder: {"ohms": part.ohms}},
        ),
    )
    facts = {**measured.facts, "item": part.item, "temperature": part.temperature, "compared_with": part.item}
    return replace(measured, facts=facts)

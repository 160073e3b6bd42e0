"""A part changed with a neighbour's: a misfire that moves proves the part, one that stays clears it."""

from __future__ import annotations

from collections.abc import Callable

from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import Choice, Data, Entry, Filled, Form, Row, Stage, each, options, same_words
from fairwitness.core.procedures.reading_by_hand import (
    Came,
    cylinder_of,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust, one_part

TEST = "swap"
_say = scope(TEST)
PARTS = ("coil", "injector", "plug", "lead")
PART_WORDS = {part: _say(f"part.{part}", part) for part in PARTS}
MOVED = template(
    "swap.moved",
    "With the {part}s of cylinders {suspect} and {other} changed over the misfire moved to cylinder {other}: the "
    "{part} is at fault.",
)
STAYED = template(
    "swap.stayed",
    "With the {part}s of cylinders {suspect} and {other} changed over the misfire stayed: the {part} is cleared.",
)
UNKNOWN = template("swap.unknown", "A swap of {part} is not known.")
OF_NOTHING = _say("nothing", "nothing")
NEEDS_TWO = _say("needs_two", "A swap needs two different cylinders of this engine.")
NOT_RECORDED = _say("not_recorded", "Whether the misfire moved was not recorded.")
GROUP = template("swap.group", "{part} changed over")
WORDS = {True: _say("word.moved", "moved"), False: _say("word.stayed", "stayed")}


def _readings(filled: Filled) -> list[Data]:
    moved, to = filled.values["moved"], filled.entries["to"]
    part = filled.choices["part"]
    return each(filled, lambda c: {"part": part, "from": c, "to": to, "moved": moved[c] == "moved"})


def _offer(
    part: str, title: Message, minutes: float, splits: Message, acts: frozenset[Act], fits: Callable[[Engine], bool]
) -> Offer:
    return one_part(
        f"{TEST}:{part}",
        title,
        minutes,
        tools=_say("tools", "hand tools"),
        splits=splits,
        turning=Turning.RUNNING,
        acts=acts,
        swaps=True,
        fits=fits,
        asks={"part": part},
    )


def _plugs(engine: Engine) -> bool:
    return engines.has_coils(engine) and engines.has_a_neighbour(engine)


def _injectors(engine: Engine) -> bool:
    return engines.has_injectors(engine) and engines.has_a_neighbour(engine)


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Changed over"),
    owner=_say("owner", "whether the fault moves along with a part"),
    place=260,
    trust=Trust.BY_HAND,
    unit="1",
    kinds=tuple(f"{TEST}:{part}" for part in PARTS),
    offers=(
        _offer(
            "coil",
            _say("coil", "Coil changed over with a neighbour's"),
            6,
            _say("coil_splits", "a misfire that moves proves the coil, one that stays clears it"),
            frozenset({Act.TOUCHES_COIL, Act.PULLS_CONNECTOR}),
            engines.coil_on_each_plug,
        ),
        _offer(
            "plug",
            _say("plug", "Plug changed over with a neighbour's"),
            15,
            _say("plug_splits", "a misfire that moves proves the plug"),
            frozenset({Act.TOUCHES_COIL, Act.OPENS_PLUG_HOLES}),
            _plugs,
        ),
        _offer(
            "lead",
            _say("lead", "Lead changed over with a neighbour's"),
            5,
            _say("lead_splits", "a misfire that moves proves the lead"),
            frozenset({Act.TOUCHES_COIL}),
            engines.has_leads,
        ),
        _offer(
            "injector",
            _say("injector", "Injector changed over with a neighbour's"),
            60,
            _say("injector_splits", "a misfire that moves proves the injector"),
            frozenset({Act.SWAPS_INJECTOR, Act.OPENS_FUEL_LINE, Act.PULLS_CONNECTOR}),
            _injectors,
        ),
    ),
    form=Form(
        stage=Stage.PROOF,
        title=_say("form", "Parts changed over"),
        hint=_say(
            "hint",
            "Change the part of the suspect with a sound neighbour’s. A misfire that moves proves the part, one that "
            "stays clears it.",
        ),
        kept=_say("kept", "Change-over"),
        choices=(
            Choice(
                key="part",
                words=_say("choice.part", "Part"),
                options=options("swap.option", coil="Coil", plug="Plug", lead="Lead", injector="Injector"),
            ),
        ),
        rows=(
            Row(key="moved", words=_say("row", "the misfire"), options=same_words("swap.misfire", "moved", "stayed")),
        ),
        entries=(Entry(key="to", words=_say("entry", "changed with cylinder")),),
        least=1,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one swap.

    Parameters
    ----------
    observation : Observation
        ``part``, ``from``, ``to``, ``moved``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    part = str(observation.data.get("part", ""))
    suspect, other = (cylinder_of(observation.data, engine, key) for key in ("from", "to"))
    moved = observation.data.get("moved")
    if part not in PARTS:
        return unread(TEST, index, engine, UNKNOWN(part=part or OF_NOTHING))
    if suspect is None or other is None or suspect == other:
        return unread(TEST, index, engine, NEEDS_TWO)
    if not isinstance(moved, bool):
        return unread(TEST, index, engine, NOT_RECORDED, cylinder=suspect)
    words = PART_WORDS[part]
    return reading(
        TEST,
        index,
        Came(
            kind=f"{TEST}:{part}",
            outcome="moved" if moved else "stayed",
            speaks_of=(suspect,),
            at=suspect,
            state=State.ABNORMAL if moved else State.NORMAL,
            statement=(MOVED if moved else STAYED)(part=words, suspect=suspect, other=other),
            word=WORDS[moved],
            group=f"{part} changed over",
            group_words=GROUP(part=words),
        ),
    )

"""What the eye sees: plugs, leads, coils, connectors, the bore through a camera."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import Choice, Data, Filled, Form, Row, Stage, each, options, same_words
from fairwitness.core.procedures.reading_by_hand import (
    Came,
    cylinder_of,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import TestSpec, Trust, one_part

TEST = "visual"
_say = scope(TEST)
ITEMS = ("plug", "coil", "lead", "connector", "cylinder")
ITEM_WORDS = {item: _say(f"item.{item}", item) for item in ITEMS}
LOOKS = ("clean", "wet", "worn", "fouled", "tracked", "burnt", "cracked", "corroded", "damaged")
WORDS = {look: _say(f"word.{look}", look) for look in LOOKS}
SEEN = template("visual.seen", "The {item} of cylinder {cylinder} is {look}.")
UNKNOWN = _say("unknown", "What was looked at, or what was seen, is not one of the known words.")
NO_CYLINDER = _say("no_cylinder", "The look names no cylinder of this engine.")
GROUP = template("visual.group", "look at {item}")


def _readings(filled: Filled) -> list[Data]:
    item = filled.choices["item"]
    return each(filled, lambda c: {"item": item, "cylinder": c, "seen": filled.values["seen"][c]})


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Look"),
    owner=_say("owner", "parts looked at by eye"),
    place=370,
    trust=Trust.BY_HAND,
    unit="1",
    kinds=tuple(f"{TEST}:{item}" for item in ITEMS),
    sound_in_one=True,
    offers=(
        one_part(
            f"{TEST}:plug",
            _say("plug", "The plug, out and looked at"),
            10,
            tools=_say("tools", "eyes"),
            splits=_say("plug_splits", "a worn, fouled, tracked or wet plug tells its own story"),
            acts=frozenset({Act.OPENS_PLUG_HOLES}),
            fits=engines.has_coils,
            asks={"item": "plug"},
        ),
        one_part(
            f"{TEST}:lead",
            _say("lead", "Lead and boot, looked at"),
            3,
            tools=_say("tools", "eyes"),
            splits=_say("lead_splits", "burn marks and corrosion show where the spark goes"),
            disturbs=False,
            fits=engines.has_coils,
            asks={"item": "lead"},
        ),
    ),
    form=Form(
        stage=Stage.LOOK,
        title=_say("form", "A look at the parts"),
        hint=_say(
            "hint",
            "What the eye sees, cylinder by cylinder. Water with a little salt on leads and coils brings out leakage.",
        ),
        kept=_say("kept", "Looks"),
        choices=(
            Choice(
                key="item",
                words=_say("choice.item", "Of the"),
                options=options(
                    "visual.option",
                    plug="Plug",
                    lead="Lead or boot",
                    coil="Coil",
                    connector="Connector",
                    cylinder="Cylinder, by camera",
                ),
            ),
        ),
        rows=(Row(key="seen", words=_say("row", "looks"), options=same_words("visual.look", *LOOKS)),),
        least=1,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one look at a part.

    Parameters
    ----------
    observation : Observation
        ``item``, ``cylinder``, ``seen``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    item, look = str(observation.data.get("item", "")), str(observation.data.get("seen", ""))
    cylinder = cylinder_of(observation.data, engine)
    if item not in ITEMS or look not in LOOKS:
        return unread(TEST, index, engine, UNKNOWN)
    if cylinder is None:
        return unread(TEST, index, engine, NO_CYLINDER)
    return reading(
        TEST,
        index,
        Came(
            kind=f"{TEST}:{item}",
            outcome=look,
            speaks_of=(cylinder,),
            at=cylinder,
            state=State.NORMAL if look == "clean" else State.ABNORMAL,
            statement=SEEN(item=ITEM_WORDS[item], cylinder=cylinder, look=WORDS[look]),
            word=WORDS[look],
            group=f"look at {item}",
            group_words=GROUP(item=ITEM_WORDS[item]),
        ),
    )

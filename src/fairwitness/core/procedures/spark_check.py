"""A spark on free air. Strong there does not prove it under cylinder pressure; none is a finding."""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope, template
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
    reading,
    unread,
)
from fairwitness.core.procedures.spec import TestSpec, Trust, one_part

TEST = "spark_check"
_say = scope(TEST)
PLACES = {"coil": _say("at_coil", "at the coil"), "lead_end": _say("at_lead_end", "at the end of the lead")}
STATES = {"strong": State.NORMAL, "weak": State.LOW, "none": State.ABSENT}
WORDS = {spark: _say(f"word.{spark}", spark) for spark in STATES}
SENTENCES = {
    "strong": template(
        "spark_check.strong",
        "The spark of cylinder {cylinder} {place} is strong on free air, which does not prove it under pressure.",
    ),
    "weak": template("spark_check.weak", "The spark of cylinder {cylinder} {place} is weak."),
    "none": template("spark_check.none", "The spark of cylinder {cylinder} {place} is missing."),
}
UNKNOWN = _say("unknown", "A spark check says strong, weak or none, at the coil or the lead end.")
NO_CYLINDER = _say("no_cylinder", "The spark check names no cylinder of this engine.")
GROUP = template("spark_check.group", "spark {place}")
GROUPS = {"coil": "spark at the coil", "lead_end": "spark at the end of the lead"}


def _readings(filled: Filled) -> list[Data]:
    place = filled.choices["measured_at"]
    return each(filled, lambda c: {"measured_at": place, "cylinder": c, "spark": filled.values["spark"][c]})


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Spark check"),
    owner=_say("owner", "the spark, by eye"),
    place=270,
    trust=Trust.BY_HAND,
    unit="1",
    kinds=tuple(f"{TEST}:{place}" for place in PLACES),
    sound_in_one=True,
    offers=(
        one_part(
            f"{TEST}:lead_end",
            _say("offer", "Spark on free air at the lead end"),
            5,
            tools=_say("tools", "spark gap tester"),
            splits=_say("splits", "none there means coil, lead or command; strong does not prove it under pressure"),
            needs=(Tool.SPARK_GAP,),
            turning=Turning.CRANKING,
            acts=frozenset({Act.SPARKS, Act.TOUCHES_COIL, Act.UNPLUGS_COIL_RUNNING}),
            fits=engines.has_coils,
            asks={"measured_at": "lead_end"},
        ),
    ),
    form=Form(
        stage=Stage.IGNITION,
        title=_say("form", "Spark on free air"),
        hint=_say(
            "hint",
            "A spark that jumps a gap in air is no proof under cylinder pressure: there it takes 25 kV and more. None, "
            "or a weak one, is a finding.",
        ),
        kept=_say("kept", "Spark check"),
        choices=(
            Choice(
                key="measured_at",
                words=_say("choice.place", "Where"),
                options=options("spark_check.place", lead_end="At the lead end", coil="At the coil"),
            ),
        ),
        rows=(
            Row(
                key="spark",
                words=_say("row", "spark"),
                options=same_words("spark_check.spark", "strong", "weak", "none"),
            ),
        ),
        least=1,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one spark check.

    Parameters
    ----------
    observation : Observation
        ``cylinder``, ``spark`` (strong, weak, none), ``measured_at`` (coil, lead_end).
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    spark = str(observation.data.get("spark", ""))
    place = str(observation.data.get("measured_at") or "lead_end")
    cylinder = cylinder_of(observation.data, engine)
    if spark not in STATES or place not in PLACES:
        return unread(TEST, index, engine, UNKNOWN)
    if cylinder is None:
        return unread(TEST, index, engine, NO_CYLINDER)
    return reading(
        TEST,
        index,
        Came(
            kind=f"{TEST}:{place}",
            outcome=spark,
            speaks_of=(cylinder,),
            at=cylinder,
            state=STATES[spark],
            statement=SENTENCES[spark](cylinder=cylinder, place=PLACES[place]),
            word=WORDS[spark],
            group=GROUPS[place],
            group_words=GROUP(place=PLACES[place]),
        ),
    )

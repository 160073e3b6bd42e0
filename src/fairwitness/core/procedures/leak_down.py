"""Leak-down at TDC compression: how much air is lost, and where it is heard to leave."""

from __future__ import annotations

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.tools import Tool, Turning
from fairwitness.core.procedures.form import Data, Filled, Form, Row, Stage, each, same_words
from fairwitness.core.procedures.reading_by_hand import (
    Came,
    cylinder_of,
    number_of,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

TEST = "leak_down"
_say = scope(TEST)
PLACES = ("intake", "exhaust", "oil_filler", "coolant", "neighbour")
SENTENCES = {
    "intake": "heard at the intake: the intake valve",
    "exhaust": "heard at the tailpipe: the exhaust valve",
    "oil_filler": "heard at the oil filler: rings or piston",
    "oil_filler_blows": "heard blowing at the oil filler: rings or piston",
    "coolant": "heard in the coolant: the gasket",
    "neighbour": "heard in the neighbouring cylinder: the gasket",
    "silent": "heard nowhere: listen at intake, tailpipe, oil filler and radiator",
}
LEAKS = {
    outcome: template(f"leak_down.{outcome}", "Cylinder {cylinder} loses {percent:.0f} %, " + words + ".")
    for outcome, words in SENTENCES.items()
}
WORN = template(
    "leak_down.worn",
    "Cylinder {cylinder} loses {percent:.0f} %, past the rings if anywhere: ordinary wear unless the others lose less.",
)
TIGHT = template("leak_down.tight", "Cylinder {cylinder} loses {percent:.0f} %: it is tight at top dead centre.")
INCOMPLETE = _say("incomplete", "A leak-down test names a cylinder of this engine and a percentage.")


def _readings(filled: Filled) -> list[Data]:
    def one(cylinder: int) -> Data:
        heard = filled.values["heard"][cylinder]
        heard_at = [] if heard == "nowhere" else [heard]
        return {"cylinder": cylinder, "percent": filled.values["percent"][cylinder], "heard_at": heard_at}

    return each(filled, one)


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Leak-down"),
    owner=_say("owner", "where a cylinder loses air"),
    place=290,
    trust=Trust.METERED,
    unit="%",
    kinds=(TEST,),
    sound_in_one=True,
    offers=(
        Offer(
            id=TEST,
            title=_say("offer", "Leak-down at TDC compression"),
            tools=_say("tools", "leak-down gauge, compressed air"),
            splits=_say(
                "splits", "hears where the pressure leaves: intake, tailpipe, oil filler, coolant or the neighbour"
            ),
            needs=(Tool.LEAK_DOWN,),
            set_up=20,
            work=10,
            each=6,
            kinds=(TEST,),
            turning=Turning.STILL,
            per_cylinder=True,
            mechanical=True,
            disturbs=True,
            acts=frozenset({Act.OPENS_PLUG_HOLES, Act.ADDS_AIR}),
        ),
    ),
    form=Form(
        stage=Stage.MECHANICAL,
        title=_say("form", "Leak-down"),
        hint=_say(
            "hint",
            "Cylinder at top dead centre of compression, regulated air in. Up to 10 % is good, above 20 % is a fault; "
            "listen where it leaves.",
        ),
        kept=_say("kept", "Leak-down"),
        rows=(
            Row(key="percent", words=_say("row.percent", "per cent lost")),
            Row(
                key="heard",
                words=_say("row.heard", "heard at"),
                options=same_words("leak_down.heard", "nowhere", *PLACES),
            ),
        ),
        least=1,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge one leak-down test.

    Parameters
    ----------
    observation : Observation
        ``cylinder``, ``percent``, ``heard_at`` (list of places), ``neighbour``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        The outcome is the first place named, ``silent`` for a leak heard nowhere, else ``tight``.
    """
    data = observation.data
    cylinder = cylinder_of(data, engine)
    percent = number_of(data, "percent", low=0.0, high=100.0)
    if cylinder is None or percent is None:
        return unread(TEST, index, engine, INCOMPLETE)
    listed = data.get("heard_at")
    heard = [p for p in listed if p in PLACES] if isinstance(listed, list | tuple) else []
    leaks = percent > limit.LEAK_DOWN_FAULT_PERCENT.value
    if leaks and percent <= limit.LEAK_DOWN_WORN_PERCENT.value and set(heard) <= {"oil_filler"}:
        return reading(  # past the rings of a worn engine as much goes in every cylinder
            TEST,
            index,
            Came(
                at=cylinder, state=State.NORMAL, statement=WORN(cylinder=cylinder, percent=percent),
                value=percent, unit="%",
            ),
        )  # fmt: skip
    outcome = (heard[0] if heard else "silent") if leaks else "tight"
    if outcome == "oil_filler" and percent > limit.LEAK_DOWN_BLOWS_PERCENT.value:
        outcome = "oil_filler_blows"  # some air always passes the rings; how much tells
    other = cylinder_of(data, engine, "neighbour")
    return reading(
        TEST,
        index,
        Came(
            kind=TEST,
            outcome=outcome,
            speaks_of=(cylinder,) if other is None else (cylinder, other),
            at=cylinder,
            state=State.HIGH if leaks else State.NORMAL,
            statement=LEAKS.get(outcome, TIGHT)(cylinder=cylinder, percent=percent),
            value=percent,
            unit="%",
        ),
    )

"""Smoke, propane or the ear at one cylinder's intake: is there air the engine does not know of."""

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

TEST = "runner_check"
_say = scope(TEST)
PLACES = {
    "runner": _say("runner", "Intake runner and its gasket"),
    "injector_seal": _say("injector_seal", "Seal of the injector"),
    "egr_port": _say("egr_port", "Exhaust gas port beside the runner"),
}
WAYS = {"smoke": _say("smoke", "smoke"), "propane": _say("propane", "propane"), "ear": _say("ear", "the ear")}
GROUPS = {place: _say(f"group.{place}", place.replace("_", " ")) for place in PLACES}
OUTCOMES = ("leak", "tight")
WORDS = {outcome: _say(f"word.{outcome}", outcome) for outcome in OUTCOMES}
LEAKS = template(
    "runner_check.leaks",
    "{place} of cylinder {cylinder}, by {way}: it leaks: the cylinder runs lean for air, not for fuel.",
)
TIGHT = template("runner_check.tight", "{place} of cylinder {cylinder}, by {way}: it is tight.")
NO_CYLINDER = _say("no_cylinder", "The check names no cylinder of this engine.")
UNKNOWN = _say(
    "unknown",
    "A check names a place (runner, injector_seal, egr_port), a way (smoke, propane, ear) and leak or tight.",
)


def _readings(filled: Filled) -> list[Data]:
    place, by = filled.choices["place"], filled.choices["by"]
    return each(filled, lambda c: {"place": place, "by": by, "cylinder": c, "seen": filled.values["seen"][c]})


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Runner check"),
    owner=_say("owner", "whether false air comes in"),
    place=360,
    trust=Trust.BY_HAND,
    unit="1",
    kinds=tuple(f"{TEST}:{place}" for place in PLACES),
    sound_in_one=True,
    offers=(
        one_part(
            f"{TEST}:runner",
            _say("offer", "Smoke or propane at the intake runner"),
            15,
            tools=_say("tools", "smoke or propane"),
            splits=_say("splits", "a leak there starves one cylinder of fuel for its air"),
            needs=(Tool.SMOKE,),
            acts=frozenset({Act.SMOKE}),
            turning=Turning.RUNNING,
            disturbs=False,
            fits=engines.mixes_petrol,
            asks={"place": "runner"},
        ),
    ),
    form=Form(
        stage=Stage.FUEL,
        title=_say("form", "Smoke or propane at the runners"),
        hint=_say(
            "hint",
            "One lean cylinder alone has a leak behind the throttle beside it, or a starved injector. Speed or mixture "
            "that reacts is a leak.",
        ),
        kept=_say("kept", "Checks"),
        choices=(
            Choice(
                key="place",
                words=_say("choice.place", "At the"),
                options=options(
                    "runner_check.place",
                    runner="Intake runner",
                    injector_seal="Injector seal",
                    egr_port="Exhaust gas port",
                ),
            ),
            Choice(
                key="by",
                words=_say("choice.by", "With"),
                options=options("runner_check.by", smoke="Smoke", propane="Propane", ear="The ear"),
            ),
        ),
        rows=(Row(key="seen", words=_say("row", "it"), options=same_words("runner_check.seen", "tight", "leak")),),
        least=1,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one check.

    Parameters
    ----------
    observation : Observation
        ``cylinder``, ``place`` (runner, injector_seal, egr_port), ``by`` (smoke, propane, ear), ``seen`` (leak, tight).
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    data = observation.data
    cylinder = cylinder_of(data, engine)
    place, by, outcome = (str(data.get(key, "")) for key in ("place", "by", "seen"))
    if cylinder is None:
        return unread(TEST, index, engine, NO_CYLINDER)
    if place not in PLACES or by not in WAYS or outcome not in OUTCOMES:
        return unread(TEST, index, engine, UNKNOWN, cylinder=cylinder)
    leaks = outcome == "leak"
    return reading(
        TEST,
        index,
        Came(
            kind=f"{TEST}:{place}",
            outcome=outcome,
            speaks_of=(cylinder,),
            at=cylinder,
            state=State.ABNORMAL if leaks else State.NORMAL,
            statement=(LEAKS if leaks else TIGHT)(place=PLACES[place], cylinder=cylinder, way=WAYS[by]),
            word=WORDS[outcome],
            group=place.replace("_", " "),
            group_words=GROUPS[place],
        ),
    )

"""Key off and on again: whether a cylinder that was cut is injected once more for its first seconds.

A control unit that withholds fuel because it saw a misfire starts anew after a key cycle; a driver that failed stays
dead.
"""

from __future__ import annotations

from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.messages.words import outcome_word
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import Data, Filled, Form, Row, Stage, each, same_words
from fairwitness.core.procedures.reading_by_hand import (
    NAMES_NO_CYLINDER,
    Came,
    cylinder_of,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import TestSpec, Trust, one_part

TEST = "key_cycle"
_say = scope(TEST)
STATES = {"returns": State.ABNORMAL, "stays_away": State.ABSENT, "never_away": State.NORMAL}
SENTENCES = {
    "returns": template(
        "key_cycle.returns",
        "Cylinder {cylinder} is injected again after a key cycle, then cut: the control unit withholds it.",
    ),
    "stays_away": template("key_cycle.stays_away", "Cylinder {cylinder} is not injected after a key cycle either."),
    "never_away": template("key_cycle.never_away", "Cylinder {cylinder} was injected before and after a key cycle."),
}
UNKNOWN = template("key_cycle.unknown", "An injection that {outcome} is not known.")
NOT_SAID = _say("not_said", "is not said")


def _readings(filled: Filled) -> list[Data]:
    return each(filled, lambda c: {"cylinder": c, "injection": filled.values["injection"][c]})


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Key cycle"),
    owner=_say("owner", "what happens when it is switched off and on again"),
    place=350,
    trust=Trust.METERED,
    unit="1",
    kinds=(TEST,),
    offers=(
        one_part(
            TEST,
            _say("offer", "Key off, then the first seconds after the start"),
            6,
            tools=_say("tools", "scan tool or a lamp at the injector"),
            splits=_say("splits", "a cut cylinder is injected again for a while, a dead driver stays dead"),
            turning=Turning.RUNNING,
            acts=frozenset({Act.TOUCHES_INJECTOR}),
            disturbs=False,
            fits=engines.has_injectors,
        ),
    ),
    form=Form(
        stage=Stage.FUEL,
        title=_say("form", "Key off, then the first seconds after the start"),
        hint=_say(
            "hint",
            "A unit that withholds fuel because it saw a misfire injects again for a while after a key cycle. A driver "
            "that failed stays dead.",
        ),
        kept=_say("kept", "Key cycles"),
        rows=(
            Row(
                key="injection",
                words=_say("row", "injection"),
                options=same_words("key_cycle.option", "returns", "stays_away", "never_away"),
            ),
        ),
        least=1,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Read one key cycle.

    Parameters
    ----------
    observation : Observation
        ``cylinder`` and ``injection``: returns, stays_away, never_away.
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    cylinder = cylinder_of(observation.data, engine)
    outcome = str(observation.data.get("injection", ""))
    if outcome not in SENTENCES:
        return unread(TEST, index, engine, UNKNOWN(outcome=outcome or NOT_SAID))
    if cylinder is None:
        return unread(TEST, index, engine, NAMES_NO_CYLINDER)
    return reading(
        TEST,
        index,
        Came(
            kind=TEST,
            outcome=outcome,
            speaks_of=(cylinder,),
            at=cylinder,
            state=STATES[outcome],
            statement=SENTENCES[outcome](cylinder=cylinder),
            word=outcome_word(outcome),
        ),
    )

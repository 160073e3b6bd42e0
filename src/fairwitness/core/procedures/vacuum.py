"""Manifold vacuum: whether the whole engine breathes as it should."""

from __future__ import annotations

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import UNTHROTTLED, Engine, Fuel
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures import engines
from fairwitness.core.procedures.form import Choice, Data, Entry, Filled, Form, Stage, options
from fairwitness.core.procedures.reading_by_hand import (
    Came,
    number_of,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

TEST = "vacuum"
_say = scope(TEST)
INHG_PER_KPA = 1 / 3.386389  # [P: NIST SP 811, appendix B.8] inch of mercury, conventional
LOW = _say("low", "low: valve timing, throttle, or a large leak")
USUAL = _say("usual", "as engines have at idle")
WHILE_CRANKING = _say("while_cranking", "while cranking: little says little")
READING = template("vacuum.reading", "Vacuum {pa:vacuum} below the atmosphere, {judgement}.")
NO_READING = _say("no_reading", "The reading holds no vacuum.")
CHECK_VALVE = _say("check_valve", "A port behind a check valve holds the highest vacuum: take another port.")
NO_THROTTLE = _say("no_throttle", "Its valves meter the air, no throttle does: vacuum at idle tells nothing.")
DIESEL = _say("diesel", "A diesel has no throttle: its vacuum tells nothing.")


def _readings(filled: Filled) -> list[Data]:
    data: Data = {filled.choices["unit"]: filled.entries["reading"], "engine_state": "running"}
    if "altitude_m" in filled.entries:
        data["altitude_m"] = filled.entries["altitude_m"]
    return [{**data, "check_valve": True} if filled.choices["port"] == "valve" else data]


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Vacuum"),
    owner=_say("owner", "how well the engine draws air as a whole"),
    place=310,
    trust=Trust.METERED,
    unit="kPa",
    kinds=(TEST,),
    offers=(
        Offer(
            id=TEST,
            title=_say("offer", "Vacuum of the manifold at idle"),
            tools=_say("tools", "vacuum gauge"),
            splits=_say("splits", "near nothing speaks for valve timing or a throttle that stays open"),
            needs=(Tool.VACUUM_GAUGE,),
            set_up=3,
            work=2,
            kinds=(TEST,),
            mechanical=True,
            fits=engines.mixes_petrol,
            acts=frozenset({Act.NEEDS_IDLE}),
            cautions=(_say("port", "Take a port without a check valve."),),
        ),
    ),
    form=Form(
        stage=Stage.RUNNING,
        title=_say("form", "Manifold vacuum at idle"),
        hint=_say(
            "hint",
            "Engine warm, at idle, at a port without a check valve: behind one the highest vacuum stays and tells "
            "nothing.",
        ),
        kept=_say("kept", "Vacuum"),
        choices=(
            Choice(
                key="unit",
                words=_say("choice.unit", "In"),
                options=options("vacuum.unit", kpa_below_atmosphere="kPa below the atmosphere", inhg="inHg"),
            ),
            Choice(
                key="port",
                words=_say("choice.port", "The port has"),
                options=options("vacuum.port", free="No check valve", valve="A check valve"),
            ),
        ),
        entries=(
            Entry(key="reading", words=_say("entry", "reading")),
            Entry(key="altitude_m", words=_say("entry.altitude", "metres above the sea, where high"), optional=True),
        ),
        least=0,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge a vacuum at idle.

    Parameters
    ----------
    observation : Observation
        ``kpa_below_atmosphere`` (or ``inhg``, inches of mercury), ``altitude_m`` where the workshop stands high,
        ``engine_state``; ``check_valve``: true where the
        port has one, which holds the highest vacuum and tells nothing of now.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        Speaks of the whole engine.
    """
    data = observation.data
    kpa = number_of(data, "kpa_below_atmosphere", low=-20.0, high=105.0)
    inches = number_of(data, "inhg", low=-5.0, high=31.0)
    kpa = inches / INHG_PER_KPA if kpa is None and inches is not None else kpa
    if kpa is None:
        return unread(TEST, index, engine, NO_READING)
    if data.get("check_valve") is True:
        return unread(TEST, index, engine, CHECK_VALVE)
    if engine.fuel is Fuel.DIESEL:
        return unread(TEST, index, engine, DIESEL)
    if engine.extra.get(UNTHROTTLED) is True:
        return unread(TEST, index, engine, NO_THROTTLE)
    running = data.get("engine_state") in (None, "running")
    altitude_m = number_of(data, "altitude_m", low=-400.0, high=5_000.0) or 0.0
    low = kpa < limit.VACUUM_LOW_KPA.value - limit.KPA_PER_KM.value * max(altitude_m, 0.0) / 1000
    judgement = WHILE_CRANKING if not running else LOW if low else USUAL
    return reading(
        TEST,
        index,
        Came(
            kind=TEST if running else "",
            outcome="low" if low else "usual",
            speaks_of=tuple(sorted(engine.firing_order)),
            state=State.ABNORMAL if low and running else State.NORMAL,
            statement=READING(pa=1e3 * kpa, judgement=judgement),
            value=round(kpa, 1),
            unit="kPa",
        ),
    )

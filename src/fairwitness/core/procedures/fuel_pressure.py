"""Fuel pressure and volume against the maker's figures, and whether the pressure holds with the pump off."""

from __future__ import annotations

from dataclasses import replace

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import scope, template
from fairwitness.core.model.acts import Act
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Measured, State
from fairwitness.core.model.tools import Tool
from fairwitness.core.procedures.form import Data, Entry, Filled, Form, Stage
from fairwitness.core.procedures.reading_by_hand import (
    Came,
    number_of,
    reading,
    unread,
)
from fairwitness.core.procedures.spec import Offer, TestSpec, Trust

TEST = "fuel_pressure"
_say = scope(TEST)
HIGHEST_KPA = 400_000.0
JUDGEMENTS = {
    "low": (_say("low", "too low: pump, filter, relay drop or pressure control"), State.LOW),
    "high": (_say("high", "too high: pressure control or a pinched return"), State.HIGH),
    "normal": (_say("normal", "as the maker says"), State.NORMAL),
}
PRESSURE = template(
    "fuel_pressure.pressure",
    "Fuel pressure {was:fuel_pressure} ({low:fuel_pressure.number} to {high:fuel_pressure.number}): {judgement}.",
)
VOLUME = template("fuel_pressure.volume", " Volume {volume:.0f} ml of at least {least:.0f}.")
TOO_LITTLE = template("fuel_pressure.too_little", " Volume {volume:.0f} ml of at least {least:.0f}: too little.")
HOLDS = template("fuel_pressure.holds", " With the pump off it falls by {lost:.0f} %: it holds.")
DROPS = template(
    "fuel_pressure.drops",
    " With the pump off it falls by {lost:.0f} %: an injector, the pressure control or the pump's valve lets it go.",
)
NO_PRESSURE = _say("no_pressure", "The reading holds no pressure.")
NO_RANGE = _say("no_range", "A pressure is judged by the maker's range: give the lowest and the highest.")


def _readings(filled: Filled) -> list[Data]:
    return [dict(filled.entries)]


SPEC = TestSpec(
    id=TEST,
    title=_say("title", "Fuel pressure"),
    owner=_say("owner", "the pressure of the fuel"),
    place=320,
    trust=Trust.METERED,
    unit="kPa",
    kinds=(TEST, f"{TEST}:volume", f"{TEST}:held"),
    offers=(
        Offer(
            id=TEST,
            title=_say("offer", "Fuel pressure and volume"),
            tools=_say("tools", "pressure gauge, measuring glass"),
            splits=_say("splits", "tells a weak supply from one injector or runner"),
            needs=(Tool.FUEL_GAUGE,),
            set_up=14,
            work=4,
            works_cranking=True,
            kinds=(TEST, f"{TEST}:held"),
            disturbs=True,
            acts=frozenset({Act.OPENS_FUEL_LINE}),
        ),
    ),
    form=Form(
        stage=Stage.FUEL,
        title=_say("form", "Fuel pressure and volume"),
        hint=_say(
            "hint",
            "Judged by the maker’s figures. Volume, and the pressure some minutes after the pump stopped, are worth "
            "the extra minute.",
        ),
        kept=_say("kept", "Fuel pressure"),
        entries=(
            Entry(key="kpa", words=_say("entry.kpa", "measured, kPa")),
            Entry(key="low_kpa", words=_say("entry.low", "lowest allowed")),
            Entry(key="high_kpa", words=_say("entry.high", "highest allowed")),
            Entry(key="kpa_after", words=_say("entry.after", "kPa, pump off"), optional=True),
            Entry(key="minutes", words=_say("entry.minutes", "after minutes"), optional=True),
            Entry(key="volume_ml", words=_say("entry.volume", "volume, ml"), optional=True),
            Entry(key="least_ml", words=_say("entry.least", "at least, ml"), optional=True),
        ),
        least=0,
        readings=_readings,
    ),
)


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge the fuel supply.

    Parameters
    ----------
    observation : Observation
        ``kpa`` with the maker's ``low_kpa`` and ``high_kpa``; also ``kpa_after`` some ``minutes`` with the pump off,
        and ``volume_ml`` in ``seconds`` with the maker's ``least_ml``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
        Speaks of the whole engine.
    """
    data = observation.data
    kpa, low, high = (number_of(data, key, low=0.0, high=HIGHEST_KPA) for key in ("kpa", "low_kpa", "high_kpa"))
    if kpa is None:
        return unread(TEST, index, engine, NO_PRESSURE)
    if low is None or high is None or low > high:
        return unread(TEST, index, engine, NO_RANGE)
    outcome = "low" if kpa < low else "high" if kpa > high else "normal"
    judgement, state = JUDGEMENTS[outcome]
    statement = PRESSURE(was=1e3 * kpa, low=1e3 * low, high=1e3 * high, judgement=judgement)
    outcomes = [(TEST, outcome)]
    volume, least = (number_of(data, key, low=0.0, high=1e5) for key in ("volume_ml", "least_ml"))
    if volume is not None and least is not None:
        short = volume < least
        outcomes.append((f"{TEST}:volume", "low" if short else "normal"))
        statement += (TOO_LITTLE if short else VOLUME)(volume=volume, least=least)
        state = State.LOW if short else state
    after = number_of(data, "kpa_after", low=0.0, high=HIGHEST_KPA)
    if after is not None and kpa > 0:
        lost = 1 - after / kpa
        drops = lost > limit.PRESSURE_HELD_LOSS.value
        outcomes.append((f"{TEST}:held", "drops" if drops else "holds"))
        statement += (DROPS if drops else HOLDS)(lost=100 * max(lost, 0.0))
        state = State.ABNORMAL if drops and state is State.NORMAL else state
    everyone = tuple(sorted(engine.firing_order))
    supply = reading(TEST, index, Came(state=state, statement=statement, value=round(kpa, 1), unit="kPa"))
    source = f"observation:{index}"
    evidence = tuple(
        CategoricalEvidence(kind=kind, outcome=came, cylinders=everyone, source=source) for kind, came in outcomes
    )
    return replace(supply, categorical=evidence)

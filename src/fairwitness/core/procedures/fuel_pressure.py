"""Fuel pressure and volume against the maker's figures, and whether the pressure holds with the pump off."""

from __future__ import annotations

from dataclasses import replace

from fairwitness.core import thresholds as limit
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Measured, State
from fairwitness.core.procedures.by_hand import number_of, seen, unread

TEST = "fuel_pressure"
HIGHEST_KPA = 400_000.0
WORDS = {
    "low": ("too low: pump, filter, relay drop or pressure control", State.LOW),
    "high": ("too high: pressure control or a pinched return", State.HIGH),
    "normal": ("as the maker says", State.NORMAL),
}


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
        return unread(TEST, index, engine, "The reading holds no pressure.")
    if low is None or high is None or low > high:
        text = "A pressure is judged by the maker's range: give the lowest and the highest."
        return unread(TEST, index, engine, text)
    outcome = "low" if kpa < low else "high" if kpa > high else "normal"
    reported, state = WORDS[outcome]
    statement = f"Fuel pressure {kpa:.0f} kPa ({low:.0f} to {high:.0f}): {reported}."
    outcomes = [(TEST, outcome)]
    volume, least = (number_of(data, key, low=0.0, high=1e5) for key in ("volume_ml", "least_ml"))
    if volume is not None and least is not None:
        short = volume < least
        outcomes.append((f"{TEST}:volume", "low" if short else "normal"))
        statement += f" Volume {volume:.0f} ml of at least {least:.0f}{': too little' if short else ''}."
        state = State.LOW if short else state
    after = number_of(data, "kpa_after", low=0.0, high=HIGHEST_KPA)
    if after is not None and kpa > 0:
        lost = 1 - after / kpa
        drops = lost > limit.PRESSURE_HELD_LOSS.value
        outcomes.append((f"{TEST}:held", "drops" if drops else "holds"))
        where = "an injector, the pressure control or the pump's valve lets it go" if drops else "it holds"
        statement += f" With the pump off it falls by {100 * max(lost, 0.0):.0f} %: {where}."
        state = State.ABNORMAL if drops and state is State.NORMAL else state
    everyone = tuple(sorted(engine.firing_order))
    told_once = seen(
        TEST, index, kind=TEST, outcome=outcome, cylinders=everyone, cylinder=None, state=state, statement=statement,
        word="", value=round(kpa, 1), unit="kPa", group="",
    )  # fmt: skip
    source = f"observation:{index}"
    categorical = tuple(CategoricalEvidence(kind=k, outcome=o, cylinders=everyone, source=source) for k, o in outcomes)
    return replace(told_once, categorical=categorical)

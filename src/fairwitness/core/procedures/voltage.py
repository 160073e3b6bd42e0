"""A voltage by hand: feed and earth under load, command levels, what the injector's control side rests at."""

from __future__ import annotations

from dataclasses import replace

from fairwitness.core import thresholds as limit
from fairwitness.core.model.case import Observation
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.by_hand import cylinder_of, number_of, on_the_coil, seen, unread

TEST = "voltage"
PLACED = ("coil_control_low", "coil_control_high", "injector_control")
"""Items whose meaning depends on where along the wire they were taken."""
PLACES = {"part": "at the part", "control_unit": "at the control unit's pin"}
STATES = {
    "normal": State.NORMAL, "battery": State.NORMAL, "low": State.LOW, "absent": State.ABSENT,
    "high": State.HIGH, "elevated": State.ABNORMAL, "bias": State.ABNORMAL, "zero": State.ABNORMAL,
}  # fmt: skip


def measure(observation: Observation, index: int, engine: Engine) -> Measured:
    """Judge one voltage by the limits of the trade.

    Parameters
    ----------
    observation : Observation
        ``item``, ``volts``, and where it matters ``cylinder``, ``engine_state``, ``unplugged``, ``measured_at``.
    index : int
    engine : Engine

    Returns
    -------
    Measured
    """
    data = observation.data
    item = str(data.get("item", ""))
    volts = number_of(data, "volts", low=-100.0, high=100.0)
    if volts is None:
        return unread(TEST, index, engine, "The reading holds no volts.")
    if item == "battery":
        return _battery(volts, index, str(data.get("engine_state", "")))
    if item not in OUTCOMES:
        return unread(TEST, index, engine, f"A voltage of {item or 'nothing'} is not known.")
    cylinder = cylinder_of(data, engine)
    if cylinder is None:
        return unread(TEST, index, engine, "The reading names no cylinder of this engine.")
    if item == "injector_control" and data.get("engine_state") not in (None, "key_on"):
        text = "The control side is read with the key on; while the engine runs a meter shows an average."
        return unread(TEST, index, engine, text, cylinder=cylinder)
    outcome, reported = OUTCOMES[item](volts, data.get("engine_state") == "cranking")
    place = str(data.get("measured_at") or "part")
    unplugged = bool(data.get("unplugged"))
    kind = f"{TEST}:{item}" + (f":{place}{'_unplugged' if unplugged else ''}" if item in PLACED else "")
    where = f" {PLACES.get(place, '')}" if item in PLACED else ""
    without = ", unplugged" if unplugged else ""
    about = item.replace("_", " ").capitalize()
    along = data.get("place")
    if isinstance(along, str) and along in engine.injector_path and item.startswith("injector"):
        where += f", {along},"
    served = on_the_coil(cylinder, engine) if item.startswith("coil") else (cylinder,)
    told_once = seen(
        TEST,
        index,
        kind=kind,
        outcome=outcome,
        cylinders=served,
        cylinder=cylinder,
        state=STATES[outcome],
        statement=f"{about} of cylinder {cylinder}{where}{without}: {volts:.2f} V, {reported}.",
        word="",
        value=round(volts, 3),
        unit="V",
        group=item + (f", {place.replace('_', ' ')}{without}" if item in PLACED else ""),
    )
    if isinstance(along, str) and along in engine.injector_path and item.startswith("injector"):
        reached = volts >= limit.CONTROL_AT_BATTERY_V.value
        facts = {**told_once.facts, "place": along, "reached": float(reached)}
        # Voltage halfway says nothing of what follows; the statement uses it to close in on the break.
        halfway = reached and along != engine.injector_path[-1]
        return replace(told_once, facts=facts, categorical=() if halfway else told_once.categorical)
    return told_once


def _battery(volts: float, index: int, state: str) -> Measured:
    low = volts < (limit.CRANKING_VOLT_MIN.value if state == "cranking" else limit.RESTED_VOLT_MIN.value)
    reported = "too low: charge it before testing" if low else "enough to test with"
    return seen(
        TEST, index, kind="", outcome="", cylinders=(), cylinder=None, state=State.LOW if low else State.NORMAL,
        statement=f"Battery {volts:.2f} V, {reported}.", word="", value=round(volts, 2), unit="V", group="battery",
    )  # fmt: skip


def _feed(volts: float, cranking: bool) -> tuple[str, str]:
    least = limit.FEED_CRANKING_MIN_V.value if cranking else limit.FEED_MIN_V.value
    if volts < limit.FEED_ABSENT_V.value:
        return "absent", "no feed arrives"
    return ("low", "the feed drops under load") if volts < least else ("normal", "the feed is there")


def _earth(volts: float, _cranking: bool) -> tuple[str, str]:
    high = abs(volts) > limit.EARTH_DROP_MAX_V.value
    return ("high", "the earth drops more than 0.2 V") if high else ("normal", "the earth is good")


def _command_low(volts: float, _cranking: bool) -> tuple[str, str]:
    if volts > limit.COMMAND_LOW_ABOVE_V.value:
        return "elevated", "the low level never reaches earth and cannot switch"
    return "normal", "the low level reaches earth"


def _command_high(volts: float, _cranking: bool) -> tuple[str, str]:
    if volts < limit.COMMAND_SWING_MIN_V.value:
        return "absent", "no command arrives"
    return "normal", "the command is there"


def _injector_control(volts: float, _cranking: bool) -> tuple[str, str]:
    if volts >= limit.CONTROL_AT_BATTERY_V.value:
        return "battery", "fed through the injector, as it should be"
    if volts >= limit.CONTROL_BIAS_MIN_V.value:
        return "bias", "only the control unit's own monitoring level: an open between feed and driver"
    return "zero", "neither feed nor monitoring level: shorted to earth, or no feed"


OUTCOMES = {
    "coil_feed": _feed,
    "injector_feed": _feed,
    "coil_earth": _earth,
    "coil_control_low": _command_low,
    "coil_control_high": _command_high,
    "injector_control": _injector_control,
}

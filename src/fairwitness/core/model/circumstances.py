"""Under which conditions something was so: cold or hot, minutes since the start, load, wet, after standing.

A complaint has them, and so has every reading. From the intake, the set-up of a capture and the fields of an
observation; they go to the weighing (a fault that comes hot is not cleared cold), to the plan and to the statement.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from typing import Any

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message

TEMPERATURES = {
    "cold": phrase("circumstances.cold", "cold"),
    "hot": phrase("circumstances.hot", "hot"),
}
LOADS = {
    "none": phrase("circumstances.load.none", "not running"),
    "idle": phrase("circumstances.load.idle", "at idle"),
    "snap": phrase("circumstances.load.snap", "on the snap"),
    "brake_torque": phrase("circumstances.load.brake_torque", "against the brake"),
    "cruise": phrase("circumstances.load.cruise", "under way"),
}
"""What the engine was asked for meanwhile."""
MINUTES = template("circumstances.minutes", "{minutes:.0f} min after the start")
WET = phrase("circumstances.wet", "wet")
DRY = phrase("circumstances.dry", "dry")
AFTER_STANDING = phrase("circumstances.after_standing", "after standing")
MINUTES_MOST = 1_440.0
"""A working engine is stopped within a day; more is a mistake in typing."""
NEARLY = 0.7
"""[M] share of the minutes of a complaint after which an engine is as warm through as it was then."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Circumstances:
    """Conditions, each None where nobody said.

    Parameters
    ----------
    temperature : str or None
        ``cold`` or ``hot``.
    minutes : float or None, min
        Since the engine was started.
    load : str or None
        One of ``LOADS``.
    wet, after_standing : bool or None
        Rain or damp; the first start after hours at rest.
    """

    temperature: str | None = None
    minutes: float | None = None
    load: str | None = None
    wet: bool | None = None
    after_standing: bool | None = None

    def __bool__(self) -> bool:
        return any(getattr(self, f.name) is not None for f in fields(self))

    @property
    def words(self) -> tuple[Message, ...]:
        """Each of them in a word or two, in the order a technician says them."""
        said: list[Message] = []
        if self.temperature is not None:
            said.append(TEMPERATURES[self.temperature])
        if self.minutes is not None:
            said.append(MINUTES(minutes=self.minutes))
        if self.load is not None:
            said.append(LOADS[self.load])
        if self.wet is not None:
            said.append(WET if self.wet else DRY)
        if self.after_standing:
            said.append(AFTER_STANDING)
        return tuple(said)

    def missing_in(self, taken: Circumstances) -> Circumstances:
        """What of these conditions a reading was not taken under, or not said to be."""
        kept: dict[str, Any] = {}
        for f in fields(self):
            asked, given = getattr(self, f.name), getattr(taken, f.name)
            met = given is not None and (given >= NEARLY * asked if f.name == "minutes" and asked else given == asked)
            kept[f.name] = None if asked is None or met else asked
        return Circumstances(**kept)

    def contradicted_by(self, taken: Circumstances) -> bool:
        """Whether a reading says of itself that it was taken under other conditions."""
        named = replace(
            self, **{f.name: None for f in fields(self) if getattr(taken, f.name) is None and f.name != "minutes"}
        )
        return bool(replace(named, minutes=named.minutes if taken.minutes is not None else None).missing_in(taken))


UNKNOWN = Circumstances()


def read_circumstances(data: Mapping[str, Any]) -> Circumstances:
    """Conditions out of the fields of an observation or of a package; what cannot be is taken as not said.

    Parameters
    ----------
    data : mapping
        ``temperature``, ``minutes_running``, ``load``, ``wet``, ``after_standing``.

    Returns
    -------
    Circumstances
    """
    temperature, load, minutes = data.get("temperature"), data.get("load"), data.get("minutes_running")
    number = float(minutes) if isinstance(minutes, int | float) and not isinstance(minutes, bool) else math.nan
    return Circumstances(
        temperature=temperature if isinstance(temperature, str) and temperature in TEMPERATURES else None,
        minutes=number if 0 <= number <= MINUTES_MOST else None,
        load=load if isinstance(load, str) and load in LOADS else None,
        wet=wet if isinstance(wet := data.get("wet"), bool) else None,
        after_standing=stood if isinstance(stood := data.get("after_standing"), bool) else None,
    )


def circumstances_block(of: Circumstances) -> dict[str, Any]:
    """Conditions as a package holds them; what nobody said is left out.

    Returns
    -------
    dict
        What ``read_circumstances`` reads.
    """
    block = {
        "temperature": of.temperature,
        "minutes_running": of.minutes,
        "load": of.load,
        "wet": of.wet,
        "after_standing": of.after_standing,
    }
    return {key: value for key, value in block.items() if value is not None}

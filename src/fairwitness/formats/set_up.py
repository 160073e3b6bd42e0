"""How a capture was taken, as the ``fair_witness`` block of a resource, in and out."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import Any

from fairwitness.core.model.capture import CaptureTest, EngineState, SetUp
from fairwitness.core.model.circumstances import read_circumstances
from fairwitness.core.model.phase import phase_number


def read_set_up(block: object) -> SetUp:
    """Read a set-up; values that are not known are taken as not recorded.

    Parameters
    ----------
    block : object
        JSON value.

    Returns
    -------
    SetUp
    """
    if not isinstance(block, dict):
        return SetUp()

    def flag(key: str) -> bool | None:
        return value if isinstance(value := block.get(key), bool) else None

    def text(key: str) -> str | None:
        value = block.get(key)
        return value if isinstance(value, str) and value else None

    marks = given if isinstance(given := block.get("marks_s"), list) else []
    test, state = block.get("test"), block.get("engine_state")
    return SetUp(
        test=CaptureTest(test) if test in _values(CaptureTest) else None,
        engine_state=EngineState(state) if state in _values(EngineState) else None,
        load=text("load"),
        fuel_disabled=flag("fuel_disabled"),
        ignition_disabled=flag("ignition_disabled"),
        temperature=text("temperature"),
        minutes_running=read_circumstances(block).minutes,
        wet=flag("wet"),
        after_standing=flag("after_standing"),
        happened=flag("happened"),
        watched_s=_seconds(block.get("watched_s")),
        marks_s=tuple(s for m in marks if (s := _seconds(m)) is not None),
        phase=phase_number(block.get("phase")),
    )


def set_up_block(set_up: SetUp) -> dict[str, Any]:
    """Write a set-up; what was not recorded is left out.

    Parameters
    ----------
    set_up : SetUp

    Returns
    -------
    dict
    """
    block = {
        "test": set_up.test.value if set_up.test else None,
        "engine_state": set_up.engine_state.value if set_up.engine_state else None,
        "load": set_up.load,
        "fuel_disabled": set_up.fuel_disabled,
        "ignition_disabled": set_up.ignition_disabled,
        "temperature": set_up.temperature,
        "minutes_running": set_up.minutes_running,
        "wet": set_up.wet,
        "after_standing": set_up.after_standing,
        "happened": set_up.happened,
        "watched_s": set_up.watched_s,
        "marks_s": list(set_up.marks_s) or None,
        "phase": set_up.phase or None,
    }
    return {k: v for k, v in block.items() if v is not None}


def _seconds(value: object) -> float | None:
    number = isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)
    return float(value) if number and value >= 0 else None  # type: ignore[arg-type, operator]


def _values(kind: type[StrEnum]) -> list[str]:
    return [member.value for member in kind]

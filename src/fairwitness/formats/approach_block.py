"""How a case is worked as plain data: the settings where people of the trade differ, and the tools of the bay."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum
from typing import Any, TypeVar

from fairwitness.core.errors import ObservationError
from fairwitness.core.model.tools import Tool
from fairwitness.core.reason.planning.approach import Approach, ByHand, Proof, Repair, ScanData, School

CHOICES: Mapping[str, type[StrEnum]] = {
    "order": School,
    "scan_data": ScanData,
    "by_hand": ByHand,
    "proof": Proof,
    "repair": Repair,
}
"""Settings with a few values each."""
Choice = TypeVar("Choice", bound=StrEnum)


def approach_block(approach: Approach) -> dict[str, Any]:
    """Write an approach, without the minutes that belong to an engine.

    Parameters
    ----------
    approach : Approach

    Returns
    -------
    dict
        JSON-ready.
    """
    settings = {key: getattr(approach, key).value for key in CHOICES}
    return {**settings, "tools": sorted(t.value for t in approach.tools)}


def read_approach(block: Mapping[str, Any], minutes: Mapping[str, float] | None = None) -> Approach:
    """Read what ``approach_block`` wrote; what is left out is as usual.

    Parameters
    ----------
    block : mapping
    minutes : mapping of test id to float, optional
        Access minutes of the engine.

    Returns
    -------
    Approach

    Raises
    ------
    ObservationError
        A setting or a tool that does not exist.
    """
    settings: dict[str, Any] = {key: _one(kind, block[key], key) for key, kind in CHOICES.items() if key in block}
    tools = block.get("tools")
    if tools is not None:
        if not isinstance(tools, list):
            raise ObservationError("Tools are a list of names.", where="tools")
        settings["tools"] = frozenset(_one(Tool, name, "tools") for name in tools)
    return Approach(**settings, minutes=dict(minutes or {}))


def _one(kind: type[Choice], value: object, where: str) -> Choice:
    try:
        return kind(str(value))
    except ValueError:
        raise ObservationError(
            f"There is no {where.replace('_', ' ')} {value!r}.", where=where, remedy=f"Choose {', '.join(kind)}."
        ) from None

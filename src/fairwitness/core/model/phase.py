"""States of one vehicle during one job: as it arrived, with parts changed over, after a repair.

From the intake and the record of work; captures and readings name the state they were taken in, and the reasoning
weighs each state by itself: a healthy reading after the repair says nothing of how the vehicle arrived.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

AS_ARRIVED = 0
"""The number of the state every case begins with; evidence that names no state belongs to it."""
PHASES_MOST = 60
NUMBER_MOST = 10_000


class PhaseKind(StrEnum):
    """What was done to the vehicle."""

    CHANGED_OVER = "changed_over"
    PUT_BACK = "put_back"
    """Everything stands where it belongs again: as it arrived."""
    AFTER_REPAIR = "after_repair"


class PartState(StrEnum):
    """What was fitted."""

    NEW = "new"
    USED = "used"
    OTHER_MAKE = "other_make"
    REWORKED = "reworked"
    """The old part cleaned, repaired or set anew."""


PARTS = (
    "coil", "plug", "lead", "injector", "wiring", "fuse", "relay", "fuel_pump", "fuel_filter", "valve_gear", "valves",
    "head_gasket", "rings", "timing_drive", "intake_gasket", "control_unit", "other",
)  # fmt: skip
"""What repairs and earlier work may name."""
SWAPPED_PARTS = ("coil", "plug", "lead", "injector")
"""Parts every cylinder has, which can be changed over with a neighbour's."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Phase:
    """One state of the vehicle after the one it arrived in.

    Parameters
    ----------
    number : int
        From 1, in the order they were begun.
    kind : PhaseKind
    part : str
        One of ``PARTS``; empty where everything was put back.
    cylinders : tuple of int
        Of a change-over the two; of a repair where the part sits, empty for the whole engine.
    fitted : PartState or None
        Of a repair.
    words : str
        What was done, as it was written down.
    """

    number: int
    kind: PhaseKind
    part: str = ""
    cylinders: tuple[int, ...] = ()
    fitted: PartState | None = None
    words: str = ""


def phase_number(value: object) -> int:
    """A number of a phase as a file gives it; the state of arrival for anything that is none."""
    counted = isinstance(value, int) and not isinstance(value, bool) and 0 <= value < NUMBER_MOST
    return value if counted else AS_ARRIVED  # type: ignore[return-value]


def state_of(number: int, phases: Sequence[Phase]) -> int:
    """The state evidence of a phase stands for: putting everything back is as it arrived, or as last repaired.

    Parameters
    ----------
    number : int
    phases : sequence of Phase

    Returns
    -------
    int
        A number of a change-over or repair, or ``AS_ARRIVED``; that also for a number nobody began.
    """
    state = AS_ARRIVED
    before_swap = AS_ARRIVED
    for phase in sorted(phases, key=lambda p: p.number):
        if phase.kind is PhaseKind.AFTER_REPAIR:
            state = before_swap = phase.number
        elif phase.kind is PhaseKind.CHANGED_OVER:
            state = phase.number
        else:
            state = before_swap
        if phase.number == number:
            return state
    return AS_ARRIVED


def misplaced(phases: Sequence[Phase]) -> dict[str, dict[int, int]]:
    """Whose parts sit where they do not belong.

    Parameters
    ----------
    phases : sequence of Phase

    Returns
    -------
    dict of part to dict
        Cylinder by cylinder, the one its part came from. A part that was renewed belongs where it was fitted.
    """
    where: dict[str, dict[int, int]] = {}
    for phase in sorted(phases, key=lambda p: p.number):
        now = where.setdefault(phase.part, {})
        if phase.kind is PhaseKind.PUT_BACK:
            for part in where if not phase.part else (phase.part,):
                where[part] = {}
        elif phase.kind is PhaseKind.CHANGED_OVER and len(phase.cylinders) == 2:
            one, other = phase.cylinders
            now[one], now[other] = now.get(other, other), now.get(one, one)
        elif phase.kind is PhaseKind.AFTER_REPAIR and phase.fitted is not PartState.REWORKED:
            for cylinder in phase.cylinders:
                now[cylinder] = cylinder
    kept = {part: {c: of for c, of in now.items() if c != of} for part, now in where.items()}
    return {part: now for part, now in kept.items() if now}


def read_phases(block: object) -> tuple[Phase, ...]:
    """Read phases from a package; what is no phase is left out.

    Parameters
    ----------
    block : object
        JSON value.

    Returns
    -------
    tuple of Phase
    """
    items = block if isinstance(block, list) else []
    found: dict[int, Phase] = {}
    for item in items[:PHASES_MOST]:
        phase = _read_phase(item) if isinstance(item, dict) else None
        if phase is not None:
            found.setdefault(phase.number, phase)
    return tuple(found[number] for number in sorted(found))


def _read_phase(item: Mapping[str, Any]) -> Phase | None:
    kind, fitted, part = (item.get(key) for key in ("kind", "fitted", "part"))
    number = phase_number(item.get("number"))
    if number == AS_ARRIVED or kind not in list(PhaseKind):
        return None
    at = item.get("cylinders")
    cylinders = at if isinstance(at, list) else []
    words = item.get("words")
    return Phase(
        number=number,
        kind=PhaseKind(kind),
        part=part if part in PARTS else "",
        cylinders=tuple(c for c in cylinders[:16] if isinstance(c, int) and not isinstance(c, bool)),
        fitted=PartState(fitted) if fitted in list(PartState) else None,
        words=words[:300] if isinstance(words, str) else "",
    )


def phase_block(phase: Phase) -> dict[str, Any]:
    """A phase as it stands in a package."""
    block = {
        "number": phase.number,
        "kind": phase.kind.value,
        "part": phase.part,
        "cylinders": list(phase.cylinders),
        "fitted": phase.fitted.value if phase.fitted else None,
        "words": phase.words,
    }
    return {key: value for key, value in block.items() if value not in (None, "", [])}

"""Marks drawn on top of a picture: arrows, rings, words, a cylinder. The picture itself is never touched.

Places are shares of width and height, from the top left corner, so that they fit every size it is shown in.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from fairwitness.core.errors import ObservationError

MARKS_MAX = 40
WORDS_MAX = 80
SHORTEST = 0.005
"""Of width or height: less is a slip of the finger."""


class MarkKind(StrEnum):
    """What is drawn."""

    ARROW = "arrow"
    RING = "ring"
    WORDS = "words"
    CYLINDER = "cylinder"


DRAWN = (MarkKind.ARROW, MarkKind.RING)
"""From one place to another; the others stand at one place."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One mark.

    Parameters
    ----------
    kind : MarkKind
    x, y : float
        Where it stands, or begins: an arrow at its tail, a ring at its middle.
    to_x, to_y : float
        Where an arrow points, and a corner of what a ring goes around.
    words : str
    cylinder : int or None
    """

    kind: MarkKind
    x: float
    y: float
    to_x: float = 0.0
    to_y: float = 0.0
    words: str = ""
    cylinder: int | None = None


def mark_block(mark: Mark) -> dict[str, Any]:
    """A mark as it is kept."""
    block: dict[str, Any] = {"kind": mark.kind.value, "x": mark.x, "y": mark.y}
    if mark.kind in DRAWN:
        block |= {"to_x": mark.to_x, "to_y": mark.to_y}
    if mark.kind is MarkKind.WORDS:
        block["words"] = mark.words
    if mark.kind is MarkKind.CYLINDER:
        block["cylinder"] = mark.cylinder
    return block


def read_marks(items: object, cylinders: Sequence[int]) -> tuple[Mark, ...]:
    """Read marks as they come in.

    Parameters
    ----------
    items : object
        A JSON value.
    cylinders : sequence of int
        That the engine has.

    Returns
    -------
    tuple of Mark

    Raises
    ------
    ObservationError
        One of them cannot be.
    """
    if not isinstance(items, list) or len(items) > MARKS_MAX:
        raise ObservationError(f"Up to {MARKS_MAX} marks are drawn on one picture.", where="marks")
    return tuple(_read(item, f"mark {i + 1}", cylinders) for i, item in enumerate(items))


def _read(item: object, where: str, cylinders: Sequence[int]) -> Mark:
    if not isinstance(item, dict) or item.get("kind") not in list(MarkKind):
        raise ObservationError("A mark is an arrow, a ring, words or a cylinder.", where=where)
    kind = MarkKind(item["kind"])
    x, y = (_share(item.get(key), where) for key in ("x", "y"))
    to_x, to_y = (_share(item.get(key), where) for key in ("to_x", "to_y")) if kind in DRAWN else (0.0, 0.0)
    if kind in DRAWN and math.hypot(to_x - x, to_y - y) < SHORTEST:
        raise ObservationError("It is too small to be seen.", where=where, remedy="Draw it from one place to another.")
    words = item.get("words")
    said = words.strip()[:WORDS_MAX] if isinstance(words, str) else ""
    if kind is MarkKind.WORDS and not said:
        raise ObservationError("Write something, or take the mark away.", where=where)
    cylinder = item.get("cylinder")
    if kind is MarkKind.CYLINDER and (isinstance(cylinder, bool) or cylinder not in cylinders):
        raise ObservationError("The engine has no such cylinder.", where=where)
    return Mark(
        kind=kind,
        x=x,
        y=y,
        to_x=to_x,
        to_y=to_y,
        words=said if kind is MarkKind.WORDS else "",
        cylinder=cylinder if kind is MarkKind.CYLINDER else None,
    )


def _share(value: object, where: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0.0 <= value <= 1.0:
        raise ObservationError("A place on a picture lies between 0 and 1.", where=where)
    return round(float(value), 5)

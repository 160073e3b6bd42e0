"""Earlier visits of the same vehicle, with what was really found at each.

From the shop's own record or a package; what was found last time makes people think of it first, and decides nothing.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

VISITS_MOST = 40
WORDS_MOST = 300
CYLINDERS_MOST = 16


@dataclass(frozen=True, slots=True, kw_only=True)
class PastVisit:
    """One earlier visit.

    Parameters
    ----------
    on : str
        Day it was closed, as ISO 8601; empty where nobody knows.
    odometer_km : int or None
    complaint : str
    found : str
        In words; empty where nothing was written down.
    fault : str
        Of the catalogue; empty where none of it was found.
    cylinders : tuple of int
        Where it was found.
    stage : str
        How far the case was when it was closed.
    """

    on: str = ""
    odometer_km: int | None = None
    complaint: str = ""
    found: str = ""
    fault: str = ""
    cylinders: tuple[int, ...] = ()
    stage: str = ""


def visit_block(visit: PastVisit) -> dict[str, Any]:
    """A visit as it stands in a package; what is empty is left out."""
    block = {
        "on": visit.on,
        "odometer_km": visit.odometer_km,
        "complaint": visit.complaint,
        "found": visit.found,
        "fault": visit.fault,
        "cylinders": list(visit.cylinders),
        "stage": visit.stage,
    }
    return {key: value for key, value in block.items() if value not in (None, "", [])}


def read_visits(items: object) -> tuple[PastVisit, ...]:
    """Read visits; what is none is left out.

    Parameters
    ----------
    items : object
        A JSON value.

    Returns
    -------
    tuple of PastVisit
    """
    rows: Iterable[object] = items[:VISITS_MOST] if isinstance(items, list) else ()
    return tuple(_read(item) for item in rows if isinstance(item, dict))


def _read(item: dict[str, Any]) -> PastVisit:
    def text(key: str) -> str:
        return value[:WORDS_MOST] if isinstance(value := item.get(key), str) else ""

    odometer, at = item.get("odometer_km"), item.get("cylinders")
    cylinders = at[:CYLINDERS_MOST] if isinstance(at, list) else []
    return PastVisit(
        on=text("on"),
        odometer_km=odometer if isinstance(odometer, int) and not isinstance(odometer, bool) else None,
        complaint=text("complaint"),
        found=text("found"),
        fault=text("fault"),
        cylinders=tuple(c for c in cylinders if isinstance(c, int) and not isinstance(c, bool)),
        stage=text("stage"),
    )

"""Engines a few letters bring up: the shop's records, those of its own cases, and common orders to start from."""

from __future__ import annotations

from typing import Any

from django.db.models import Max

from fairwitness.server.cases.models import StoredCase
from fairwitness.server.engines.records import suggested, whole_block

SUGGESTIONS_MAX = 8
ORDERS: tuple[tuple[str, str, list[int]], ...] = (
    ("inline 3", "inline", [1, 3, 2]),
    ("inline 4", "inline", [1, 3, 4, 2]),
    ("flat 4", "flat", [1, 3, 2, 4]),
    ("inline 5", "inline", [1, 2, 4, 5, 3]),
    ("inline 6", "inline", [1, 5, 3, 6, 2, 4]),
    ("V6", "vee", [1, 4, 2, 5, 3, 6]),
    ("V6", "vee", [1, 2, 3, 4, 5, 6]),
    ("V8", "vee", [1, 8, 4, 3, 6, 5, 7, 2]),
    ("V8", "vee", [1, 5, 4, 8, 6, 3, 7, 2]),
    ("inline 2", "inline", [1, 2]),
    ("V10", "vee", [1, 6, 5, 10, 2, 7, 3, 8, 4, 9]),
    ("V12", "vee", [1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9]),
)
"""[T] common orders; the maker's own figure decides."""


def usual_orders(cylinders: int) -> list[dict[str, Any]]:
    """Common firing orders of so many cylinders, to choose from; the maker's own figure decides.

    Parameters
    ----------
    cylinders : int

    Returns
    -------
    list of dict
        ``words`` and ``firing_order``.
    """
    return [{"words": name, "firing_order": order} for name, _, order in ORDERS if len(order) == cylinders]


def suggest(letters: str) -> list[dict[str, Any]]:
    """Engines whose label holds the letters: the shop's records first, then its own cases.

    Parameters
    ----------
    letters : str

    Returns
    -------
    list of dict
        ``label`` and ``engine`` block.
    """
    wanted = letters.strip().lower()
    found: dict[str, dict[str, Any]] = {
        record.label: {"label": record.label, "engine": whole_block(record), "own": True}
        for record in suggested(letters)[:SUGGESTIONS_MAX]
    }
    own = (
        StoredCase.objects.filter(shelf=False)
        .values("engine")
        .annotate(latest=Max("touched_at"))
        .order_by("-latest")[:400]
    )
    for row in own:
        engine = row["engine"]
        label = engine.get("label", "")
        if label and wanted in label.lower() and label not in found:
            found[label] = {"label": label, "engine": engine, "own": True}
    for name, layout, order in ORDERS:
        label = f"{name}, fires {' '.join(map(str, order))}"
        if wanted in label.lower():
            found.setdefault(label, {"label": label, "engine": _plain(layout, order), "own": False})
    return list(found.values())[:SUGGESTIONS_MAX]


def _plain(layout: str, order: list[int]) -> dict[str, Any]:
    return {
        "cylinders": len(order),
        "firing_order": order,
        "layout": layout,
        "fuel": "petrol",
        "ignition": "coil_on_plug",
        "injection": "port",
    }

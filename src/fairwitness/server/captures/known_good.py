"""What captures held as known good teach of an engine: where its cam stands and when its valves move."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db.models import Count, Max

from fairwitness.core.model.engine import CAM_EDGES
from fairwitness.core.model.measurement import Measured
from fairwitness.core.procedures.cam_timing import measure as cam_timing
from fairwitness.core.procedures.cylinder_pressure import measure as cylinder_pressure
from fairwitness.formats.engine_block import REQUIRED
from fairwitness.formats.measured_document import read_measured
from fairwitness.server.captures.models import KnownGood


def make_up(engine: Mapping[str, Any]) -> tuple[object, ...]:
    """What of an engine must be the same before another can be compared with it; a label alone is typed by hand."""
    return tuple(engine.get(key) for key in REQUIRED)


def mark_of(engine: Mapping[str, Any]) -> str:
    """What tells one state of the known good captures of an engine's name from another."""
    label = engine.get("label", "")
    if not label:
        return ""
    stand = KnownGood.objects.filter(capture__case__engine__label=label).aggregate(Count("id"), Max("said_at"))
    return f"{stand['id__count']} {stand['said_at__max']}"


def reference_data(engine: Mapping[str, Any]) -> dict[str, Any]:
    """Engine data that known good captures of an engine of this name and make-up give, the latest word last.

    Parameters
    ----------
    engine : mapping
        As stored. One without a name is compared with none: another variant would look like a fault.

    Returns
    -------
    dict
        Further engine data, as the measurements read them; what a case states itself comes before it.
    """
    label = engine.get("label", "")
    if not label:
        return {}
    held = KnownGood.objects.filter(
        capture__withdrawn_at__isnull=True,
        capture__unreadable="",
        capture__changed="",
        capture__case__engine__label=label,
    )
    known: dict[str, Any] = {}
    for good in held.select_related("capture__case").prefetch_related("capture__measurements").order_by("said_at"):
        if make_up(good.capture.case.engine) == make_up(engine):
            for row in good.capture.measurements.all():
                known |= _reference_of(read_measured(row.document))
    return known


def _reference_of(measured: Measured) -> dict[str, Any]:
    if measured.test == cam_timing.TEST and (edges := cam_timing.edges_of(measured)):
        return {CAM_EDGES: edges}
    return dict(cylinder_pressure.valve_events_of(measured)) if measured.test == cylinder_pressure.TEST else {}

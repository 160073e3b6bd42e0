"""Vehicles the shop knows, and what their earlier visits found: read from the record, never from the evidence."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import Count

from fairwitness.core.errors import ObservationError
from fairwitness.core.model.visit import VISITS_MOST, PastVisit, read_visits
from fairwitness.server.cases.models import CaseStatus, StoredCase, StoredOutcome, Vehicle

SUGGESTIONS_MAX = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class Visit:
    """One visit of a vehicle as its history shows it.

    Parameters
    ----------
    case : int
        Number of the case.
    past : PastVisit
    headline : str
        What the program said of it.
    """

    case: int
    past: PastVisit
    headline: str


def vehicle_for(name: str, engine: dict[str, Any], chosen: int | None = None) -> Vehicle | None:
    """The vehicle a new case is a visit of; made where the shop has not seen it.

    Parameters
    ----------
    name : str
    engine : dict
        As its block.
    chosen : int, optional
        Number of a known vehicle; else one of the same name and firing order is the same.

    Returns
    -------
    Vehicle or None
        None where it has no name.

    Raises
    ------
    ObservationError
        There is no such vehicle, or it has another engine.
    """
    if chosen is not None:
        known = Vehicle.objects.filter(pk=chosen).first()
        if known is None:
            raise ObservationError("The shop knows no such vehicle.", where="vehicle", remedy="Type its name.")
        if known.engine.get("firing_order") != engine.get("firing_order"):
            raise ObservationError(
                f"{known.name} was here with another engine.", where="engine", remedy="Choose a name of its own for it."
            )
    else:
        if not name.strip():
            return None
        alike = Vehicle.objects.filter(name__iexact=name.strip())
        known = next((v for v in alike if v.engine.get("firing_order") == engine.get("firing_order")), None)
    if known is None:
        return Vehicle.objects.create(name=name.strip()[:200], engine=engine)
    known.engine = engine
    known.save(update_fields=["engine"])
    return known


def suggest_vehicles(letters: str) -> list[Vehicle]:
    """Vehicles whose name holds the letters, those with most visits first."""
    wanted = letters.strip()
    if not wanted:
        return []
    found = Vehicle.objects.filter(name__icontains=wanted).annotate(visit_count=Count("visits"))
    return list(found.order_by("-visit_count", "name")[:SUGGESTIONS_MAX])


def history_of(case: StoredCase) -> list[Visit]:
    """Earlier visits of the same vehicle, the latest first."""
    if case.visit_of_id is None:
        return []
    before = StoredCase.objects.filter(visit_of=case.visit_of_id, opened_at__lt=case.opened_at).exclude(pk=case.pk)
    rows = before.order_by("-opened_at").prefetch_related("outcomes")[:VISITS_MOST]
    return [Visit(case=row.pk, past=_past(row, list(row.outcomes.all())), headline=row.headline) for row in rows]


def open_visits_after(case: StoredCase) -> list[StoredCase]:
    """Later visits of the same vehicle that are still worked on."""
    if case.visit_of_id is None:
        return []
    later = StoredCase.objects.filter(visit_of=case.visit_of_id, opened_at__gt=case.opened_at)
    return list(later.filter(status=CaseStatus.OPEN))


def visits_before(case: StoredCase) -> tuple[PastVisit, ...]:
    """What the reasoning is told of earlier visits: the shop's own, then those a package brought along."""
    own = tuple(visit.past for visit in history_of(case))
    return (*own, *read_visits(case.extra.get("visits")))[:VISITS_MOST]


def _past(case: StoredCase, outcomes: Sequence[StoredOutcome]) -> PastVisit:
    last = outcomes[-1] if outcomes else None
    return PastVisit(
        on=(last.at if last else case.touched_at).date().isoformat(),
        odometer_km=case.odometer_km,
        complaint=case.complaint,
        found=last.found if last else "",
        fault=last.fault if last else "",
        cylinders=tuple(last.cylinders) if last else (),
        stage=case.closed_as,
    )

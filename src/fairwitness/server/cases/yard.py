"""The yard: all cases as a list, searched and narrowed to what somebody can do something about."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from django.core.paginator import Paginator
from django.db.models import Count, Q, QuerySet
from django.db.models.fields.json import KT
from django.utils import timezone

from fairwitness.core.procedures.specs import OFFERS
from fairwitness.server.cases.models import CaseStatus, StoredCase

PAGE_CASES = 50
RIVALS_SHOWN = 3
"""Of more, that one is among them says nothing in a list."""
LISTED = (
    "id", "title", "vehicle", "engine", "complaint", "status", "headline", "headline_said", "verdict_status", "cause",
    "cylinders", "waits_for", "fuel_state", "opened_at", "touched_at", "opened_by__first_name", "opened_by__last_name",
)  # fmt: skip
STANDINGS = ("open", "closed", "due", "all")
"""What a case may be asked for by: due is what was put off until today or before."""


def cases_in_yard(asked: Mapping[str, str]) -> dict[str, Any]:
    """One page of cases, latest touched first.

    Parameters
    ----------
    asked : mapping
        ``search``, ``status`` (one of ``STANDINGS``), ``verdict``, ``cause``, ``waits`` (id of a test on offer) and
        ``page``; what is left out or empty narrows nothing.

    Returns
    -------
    dict
        ``count``, ``page``, ``pages``, ``cases``, and ``waiting``: for what open cases wait, most asked first.
    """
    rows = _narrowed(asked).annotate(rivals=KT("diagnosis__verdict__rivals")).values(*LISTED, "rivals")
    pages = Paginator(rows, PAGE_CASES)
    page = pages.get_page(asked.get("page"))
    return {
        "count": pages.count,
        "page": page.number,
        "pages": pages.num_pages,
        "cases": [_line(row) for row in page.object_list],
        "waiting": _waiting(),
    }


def _narrowed(asked: Mapping[str, str]) -> QuerySet[StoredCase]:
    cases = StoredCase.objects.filter(shelf=False)
    if wanted := asked.get("search", "").strip()[:100]:
        cases = cases.filter(
            Q(title__icontains=wanted)
            | Q(vehicle__icontains=wanted)
            | Q(complaint__icontains=wanted)
            | Q(headline__icontains=wanted)
        )
    status = asked.get("status", "all")
    if status in CaseStatus.values:
        cases = cases.filter(status=status)
    elif status == "due":
        cases = cases.filter(follow_ups__done_at=None, follow_ups__due__lte=timezone.localdate()).distinct()
    for column, key in (("verdict_status", "verdict"), ("cause", "cause")):
        if value := asked.get(key, ""):
            cases = cases.filter(**{column: value})
    if waits := asked.get("waits", ""):
        cases = cases.filter(status=CaseStatus.OPEN, waits_for=waits)
    return cases


def _waiting() -> list[dict[str, Any]]:
    counted = (
        StoredCase.objects.filter(shelf=False, status=CaseStatus.OPEN)
        .exclude(waits_for="")
        .order_by()
        .values_list("waits_for")
        .annotate(cases=Count("id"))
    )
    known = [(test, cases) for test, cases in counted if test in OFFERS]
    return [
        {"test": test, "words": OFFERS[test].title, "cases": cases}
        for test, cases in sorted(known, key=lambda row: (-row[1], row[0]))
    ]


def _line(row: dict[str, Any]) -> dict[str, Any]:
    opened_by = f"{row.pop('opened_by__first_name')} {row.pop('opened_by__last_name')}".strip()
    opened_at = row.pop("opened_at")
    minutes = int((row["touched_at"] - opened_at).total_seconds() // 60)
    said = row.pop("headline_said")
    if said:  # cases of an earlier version hold plain English only, until they are changed
        row["headline"] = said
    offer = OFFERS.get(row["waits_for"])
    row["waits_for"] = offer.title if offer is not None else row["waits_for"]
    engine, rivals = row.pop("engine"), json.loads(row.pop("rivals") or "[]")
    few = len(rivals) <= RIVALS_SHOWN and len(rivals) < len(engine.get("firing_order", ()))
    return {
        **row,
        "rivals": rivals if few and not row["cylinders"] else [],
        "engine_label": engine.get("label", ""),
        "whole_engine": len(row["cylinders"]) == len(engine.get("firing_order", ())) > 1,
        "minutes": minutes,
        "opened_by": opened_by,
    }

"""How long tests took here, by the clocks of cases: from one piece of evidence to the next of the same person."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from datetime import datetime, timedelta

from django.db.models import QuerySet

from fairwitness.core.procedures.specs import OFFERS
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.models import LabourSpan, StoredObservation

SHORTEST = timedelta(seconds=45)
"""[M] what was kept sooner after the last piece was entered with it, and not another test."""
SPANS_MOST = 5_000


def timings(since: datetime | None = None) -> dict[str, list[float]]:
    """Minutes each test took, as far as clocks ran.

    Parameters
    ----------
    since : datetime, optional
        Spans that began before teach nothing.

    Returns
    -------
    dict of test to list of float, min
        Only tests that the plan offers under one name.
    """
    spans: QuerySet[LabourSpan] = LabourSpan.objects.filter(ended_at__isnull=False).order_by("-begun_at")
    if since is not None:
        spans = spans.filter(begun_at__gte=since)
    found: dict[str, list[float]] = defaultdict(list)
    for span in spans[:SPANS_MOST]:
        last: datetime | None = None  # before the first piece lie the talk, the intake and the look under the bonnet
        for at, test in sorted(_kept_in(span)):
            if last is not None and at - last >= SHORTEST and test in OFFERS:
                found[test].append((at - last).total_seconds() / 60)
            last = at
    return dict(found)


def _kept_in(span: LabourSpan) -> Iterable[tuple[datetime, str]]:
    within = {"case": span.case_id, "kept_by": span.by_id, "kept_at__range": (span.begun_at, span.ended_at)}
    yield from StoredObservation.objects.filter(**within).values_list("kept_at", "test")
    for at, set_up in StoredCapture.objects.filter(**within).values_list("kept_at", "set_up"):
        yield at, str(set_up.get("test", ""))

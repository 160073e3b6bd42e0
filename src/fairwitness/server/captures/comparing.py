"""What a capture can be laid beside: others of its case, and what the shop keeps as known good for that engine."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.db.models import Q, QuerySet

from fairwitness.core.errors import CaptureError
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.captures.known_good import make_up
from fairwitness.server.captures.models import CameFrom, KnownGood, StoredCapture
from fairwitness.server.cases.changing import note, touch

OFFERED_MAX = 60


@dataclass(frozen=True, slots=True)
class Comparable:
    """One capture to lay beside another."""

    id: int
    words: str
    known_good: bool
    same_label: bool
    """False: known good of an engine of this make-up under another name, so perhaps of another variant."""


def comparable(stored: StoredCapture) -> list[Comparable]:
    """What to offer: this case's other captures, newest first, then known good ones, same engine name first."""
    rows = (
        StoredCapture.objects.filter(unreadable="", changed="")
        .exclude(pk=stored.pk)
        .select_related("case", "known_good")
    )
    own = rows.filter(case=stored.case).order_by("-kept_at")
    foreign = _same_test(rows.filter(known_good__isnull=False).exclude(case=stored.case), stored)
    alike = [r for r in foreign if make_up(r.case.engine) == make_up(stored.case.engine)]
    label = stored.case.engine.get("label", "")
    offered = [*(_own(r) for r in own), *sorted((_known(r, label) for r in alike), key=lambda c: not c.same_label)]
    return offered[:OFFERED_MAX]


@transaction.atomic
def hold_as_known_good(
    stored: StoredCapture, *, why: str, came_from: CameFrom = CameFrom.OWN, by: User, at: datetime
) -> KnownGood:
    """Keep a capture as known good for its engine.

    Raises
    ------
    PermissionDenied
    CaptureError
        No reason, withdrawn, unreadable, or held already.
    """
    require(by, "add_evidence")
    if not why.strip():
        raise CaptureError(
            "Say why it is good.", where=stored.name, remedy="For example: after the repair, runs evenly."
        )
    if stored.withdrawn_at is not None or stored.unreadable or stored.changed:
        raise CaptureError("A capture that is not in force cannot be known good.", where=stored.name)
    if KnownGood.objects.filter(capture=stored).exists():
        raise CaptureError("It is held as known good already.", where=stored.name)
    held = KnownGood.objects.create(capture=stored, why=why.strip()[:300], came_from=came_from, said_by=by, said_at=at)
    note(stored.case, "held as known good", f"{stored.name}: {held.why}", by=by, at=at)
    touch(stored.case, at)
    return held


@transaction.atomic
def no_longer_known_good(stored: StoredCapture, *, by: User, at: datetime) -> None:
    """Take the mark back; the journal keeps that it was there.

    Raises
    ------
    PermissionDenied
    """
    require(by, "add_evidence")
    if KnownGood.objects.filter(capture=stored).delete()[0]:
        note(stored.case, "no longer known good", stored.name, by=by, at=at)
        touch(stored.case, at)


def _same_test(rows: QuerySet[StoredCapture], stored: StoredCapture) -> QuerySet[StoredCapture]:
    test, state = stored.set_up.get("test"), stored.set_up.get("engine_state")
    return rows.filter(Q(set_up__test=test) & Q(set_up__engine_state=state) & Q(withdrawn_at__isnull=True))


def _own(row: StoredCapture) -> Comparable:
    mark = ", withdrawn" if row.withdrawn_at else ", known good" if hasattr(row, "known_good") else ""
    return Comparable(row.pk, f"{row.name}, {row.kept_at:%d %b %H:%M}{mark}", hasattr(row, "known_good"), True)


def _known(row: StoredCapture, label: str) -> Comparable:
    theirs = row.case.engine.get("label", "")
    same = bool(label) and theirs == label
    other = "" if same else f", {theirs or 'unnamed engine'}: perhaps another variant"
    whose = "" if row.known_good.came_from == CameFrom.OWN else f" ({row.known_good.get_came_from_display().lower()})"
    words = f"Known good{whose}: {row.case.vehicle or row.case.title}, {row.name}{other}"
    return Comparable(row.pk, words, True, same)

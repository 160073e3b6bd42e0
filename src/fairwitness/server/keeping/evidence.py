"""Whether evidence and journal are still what was recorded: hashes computed anew, the chain of the journal followed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.db.models import Max
from django.utils import timezone

from fairwitness.core.errors import CustodyError, ObservationError
from fairwitness.server.captures import samples
from fairwitness.server.captures.custody import no_longer_evidence
from fairwitness.server.captures.models import EvidenceCheck, StoredCapture
from fairwitness.server.captures.writing import seal_pieces
from fairwitness.server.cases.journal import digest_of, first_broken
from fairwitness.server.cases.models import JournalEntry, StoredCase, StoredObservation
from fairwitness.server.pictures.models import Picture, PictureBytes
from fairwitness.server.pictures.services import PICTURE_LINES, whole_file

CAPTURE_KEPT = "capture kept"


@dataclass(frozen=True, slots=True)
class Changed:
    """Something kept that is not what it was."""

    case: str
    what: str
    why: str

    @property
    def sentence(self) -> str:
        """In words."""
        return f"{self.case}: {self.what} is no evidence any more: {self.why}."


@dataclass(frozen=True, slots=True)
class Checked:
    """What a check of the evidence found."""

    captures: int
    lines: int
    """Of the journal."""
    changed: tuple[Changed, ...]


def check_evidence() -> Checked:
    """Compute the hash of all evidence that the journal speaks of, and follow the journal's chain.

    What is found is kept with each case, for its board to say; a changed capture leaves the verdict at once.

    Returns
    -------
    Checked
    """
    broken = first_broken(JournalEntry.objects.select_related("case").order_by("id").iterator(500))
    captures, lines, changed = 0, 0, []
    for case in StoredCase.objects.order_by("id").iterator(50):
        found = [*_of_chain(case, broken), *_of_captures(case), *_of_pictures(case), *_of_journal(case)]
        check = _kept(case, found, at=timezone.now())
        captures, lines = captures + check.captures, lines + check.lines
        changed += found
    return Checked(captures=captures, lines=lines, changed=tuple(changed))


def last_check() -> datetime | None:
    """When evidence was last checked."""
    at: datetime | None = EvidenceCheck.objects.aggregate(at=Max("at"))["at"]
    return at


def _kept(case: StoredCase, found: list[Changed], *, at: datetime) -> EvidenceCheck:
    counts = {
        "captures": case.captures.filter(unreadable="").count(),
        "readings": case.observations.count(),
        "lines": case.journal.count(),
    }
    said = [f"{one.what}: {one.why}" for one in found]
    return EvidenceCheck.objects.update_or_create(case=case, defaults={"at": at, "changed": said, **counts})[0]


def _title(case: StoredCase) -> str:
    return case.title or case.name


def _of_chain(case: StoredCase, broken: object) -> list[Changed]:
    if not isinstance(broken, JournalEntry) or broken.case_id != case.pk:
        return []
    what = f"the journal from {broken.verb} on ({broken.at:%Y-%m-%d %H:%M})"
    return [Changed(_title(case), what, "the line, or one before it, was changed or taken out")]


def _of_captures(case: StoredCase) -> list[Changed]:
    found = []
    for stored in case.captures.filter(unreadable="").select_related("case", "kept_by").iterator(20):
        why = _why_not(stored)
        if why:
            no_longer_evidence(stored, why)
            found.append(Changed(_title(case), f"capture {stored.name}", why))
    return found


def _of_pictures(case: StoredCase) -> list[Changed]:
    found = []
    for picture in case.pictures.select_related("file").iterator(5):
        try:
            whole_file(picture)
        except (ObservationError, PictureBytes.DoesNotExist):
            found.append(Changed(_title(case), f"{picture.kind} {picture.pk}", "its file is not what was kept"))
    return found


def _of_journal(case: StoredCase) -> list[Changed]:
    return [
        Changed(_title(case), f"{line.verb} {line.detail}", why)
        for line in case.journal.order_by("id")
        if (why := _gone(line))
    ]


def _gone(line: JournalEntry) -> str:
    """Why what a line of the journal speaks of is not there any more; empty where it is."""
    if not line.about:
        return ""
    if line.verb == CAPTURE_KEPT:
        there = StoredCapture.objects.filter(case=line.case_id, sha256=line.about).exists()
        return "" if there else "the capture is gone, or its hash was changed"
    if line.verb in PICTURE_LINES:
        there = Picture.objects.filter(case=line.case_id, sha256=line.about).exists()
        return "" if there else "the picture is gone, or its hash was changed"
    made = StoredObservation.objects.filter(case=line.case_id, kept_at=line.at, kept_by=line.by_id)
    return "" if digest_of([o.data for o in made.order_by("id")]) == line.about else "its readings were changed"


def _why_not(stored: StoredCapture) -> str:
    """Why a capture cannot be believed any more; empty where it can."""
    try:
        seal_pieces(stored, samples.read(stored))
    except CustodyError as error:
        return error.what
    except Exception as error:  # whatever else a changed row does to reading
        return f"it cannot be read ({type(error).__name__})"
    return ""

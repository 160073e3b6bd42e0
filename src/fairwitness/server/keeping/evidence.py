"""Whether evidence and journal are still what was recorded: hashes computed anew, the chain of the journal followed."""

from __future__ import annotations

from dataclasses import dataclass

from fairwitness.server.captures import samples
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.journal import digest_of, first_broken
from fairwitness.server.cases.models import JournalEntry, StoredCase, StoredObservation

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


def check_evidence(using: str = "default") -> Checked:
    """Compute the hash of every capture and reading that the journal speaks of, and follow the journal's chain.

    Parameters
    ----------
    using : str
        Alias of the database.

    Returns
    -------
    Checked
    """
    held = StoredCapture.objects.using(using).filter(unreadable="").select_related("case")
    changed, count = [], 0
    for stored in held.iterator(50):
        count += 1
        why = _why_not(stored)
        if why:
            changed.append(Changed(_title(stored.case), f"capture {stored.name}", why))
    lines = JournalEntry.objects.using(using).select_related("case").order_by("id")
    broken = first_broken(lines.iterator())
    if isinstance(broken, JournalEntry):
        why = "the line, or one before it, was changed or taken out"
        changed.append(
            Changed(_title(broken.case), f"the journal from {broken.verb} on ({broken.at:%Y-%m-%d %H:%M})", why)
        )
    changed += [
        Changed(_title(line.case), line.verb + " " + line.detail, why) for line in lines if (why := _gone(line))
    ]
    return Checked(captures=count, lines=lines.count(), changed=tuple(changed))


def _title(case: StoredCase) -> str:
    return case.title or case.name


def _gone(line: JournalEntry) -> str:
    """Why what a line of the journal speaks of is not there any more; empty where it is."""
    using = line._state.db
    if not line.about:
        return ""
    if line.verb == CAPTURE_KEPT:
        there = StoredCapture.objects.using(using).filter(case=line.case_id, sha256=line.about).exists()
        return "" if there else "the capture is gone, or its hash was changed"
    made = StoredObservation.objects.using(using).filter(case=line.case_id, kept_at=line.at, kept_by=line.by_id)
    return "" if digest_of([o.data for o in made.order_by("id")]) == line.about else "its readings were changed"


def _why_not(stored: StoredCapture) -> str:
    """Why a capture cannot be believed any more; empty where it can."""
    try:
        read = samples.read(stored)
    except Exception as error:  # whatever a changed byte does to unpacking
        return f"its samples cannot be read ({type(error).__name__})"
    return "" if read.sha256 == stored.sha256 else "its samples were changed after it was kept"

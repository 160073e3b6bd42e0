"""Whether stored samples are still what was recorded: every capture's hash, computed anew."""

from __future__ import annotations

from dataclasses import dataclass

from fairwitness.server.captures import samples
from fairwitness.server.captures.models import StoredCapture


@dataclass(frozen=True, slots=True)
class Changed:
    """A capture whose samples are not those its hash was made of."""

    case: str
    capture: str
    why: str

    @property
    def sentence(self) -> str:
        """In words."""
        return f"{self.case}: capture {self.capture} is no evidence any more: {self.why}."


@dataclass(frozen=True, slots=True)
class Checked:
    """What a check of the evidence found."""

    captures: int
    changed: tuple[Changed, ...]


def check_evidence(using: str = "default") -> Checked:
    """Compute the hash of every capture that holds samples.

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
            changed.append(Changed(stored.case.title or stored.case.name, stored.name, why))
    return Checked(captures=count, changed=tuple(changed))


def _why_not(stored: StoredCapture) -> str:
    """Why a capture cannot be believed any more; empty where it can."""
    try:
        read = samples.read(stored)
    except Exception as error:  # whatever a changed byte does to unpacking
        return f"its samples cannot be read ({type(error).__name__})"
    return "" if read.sha256 == stored.sha256 else "its samples were changed after it was kept"

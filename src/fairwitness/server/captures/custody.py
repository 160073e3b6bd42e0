"""A capture whose samples are not what was kept is no evidence any more: found, named, and left out of the verdict."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from django.utils import timezone

from fairwitness.core.errors import CustodyError
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.changing import changing, note, touch

CHANGED = "capture found changed"
NO_EVIDENCE = "What is stored is not what was kept ({why}): this capture is no evidence any more."


@contextmanager
def watched(stored: StoredCapture) -> Iterator[None]:
    """Look at samples; where they turn out changed, the capture stops being evidence before anybody is told.

    Raises
    ------
    CustodyError
    """
    try:
        yield
    except CustodyError as error:
        no_longer_evidence(stored, error.what)
        raise


def no_longer_evidence(stored: StoredCapture, why: str) -> bool:
    """Take a changed capture out of its case's verdict; False where that was done before.

    Its samples stay where they are, for whoever wants to know what happened.
    """
    with changing(stored.case) as case:
        now = timezone.now()
        reason = NO_EVIDENCE.format(why=why.rstrip("."))[:500]
        if not StoredCapture.objects.filter(pk=stored.pk, changed="").update(changed=reason):
            return False
        # It was he who kept it; who changed it is not known.
        note(case, CHANGED, f"{stored.name}: {why}", by=stored.kept_by, at=now)
        touch(case, now)
    return True

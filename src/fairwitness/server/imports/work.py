"""Keeping one staged file: read, measured, packed, put in its place. What a process of its own does, once.

Whatever ends the process, the file is either kept whole or not at all: the capture and the word that the file is kept
are written in one transaction, which is refused where somebody took the file back meanwhile.
"""

from __future__ import annotations

import logging
import time
from datetime import datetime

from django.core.exceptions import PermissionDenied
from django.db import transaction
from django.db.models import F
from django.utils import timezone

from fairwitness.core.errors import CaptureError, FairWitnessError
from fairwitness.formats.engine_block import read_engine
from fairwitness.formats.file_guess import capture_of_file
from fairwitness.server.captures import writing
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.captures.services import Keeping, keep_capture
from fairwitness.server.imports import proposing, staging
from fairwitness.server.imports.models import IN_HAND, FileImport, ImportState, Stage
from fairwitness.server.imports.plans import kept_of, uses_of
from fairwitness.server.imports.services import source_of
from fairwitness.server.keeping.logs import NUMBER
from fairwitness.server.problems import problem

LOG = logging.getLogger(__name__)
TOLD_EVERY_S = 0.25
TRIES_MAX = 2
"""What ends the process twice is not tried a third time."""


def claim() -> FileImport | None:
    """The next file to be kept, marked as in work; nothing where none waits."""
    waiting = FileImport.objects.filter(state=ImportState.WAITING).order_by("asked_at", "id")
    if not waiting.exists():  # a transaction would make others wait, several times a second
        return None
    with transaction.atomic():
        held = waiting.first()
        if held is None:
            return None
        claimed = FileImport.objects.filter(pk=held.pk, state=ImportState.WAITING).update(
            state=ImportState.WORKING, tries=F("tries") + 1, touched_at=timezone.now()
        )
    held.refresh_from_db()
    return held if claimed else None


def run(number: int) -> None:
    """Keep a claimed file, or say why not.

    Parameters
    ----------
    number : int
        Of the import.
    """
    held = FileImport.objects.select_related("case", "by").get(pk=number)
    try:
        _keep(held)
    except PermissionDenied as error:
        _refuse(held, problem("not_allowed", str(error)))
    except FairWitnessError as error:
        _refuse(held, problem(error.code, error.what, where=error.where, remedy=error.remedy))
    except MemoryError:
        _refuse(
            held, problem("too_large", "It is too large for this machine.", where=held.file_name, remedy="Split it.")
        )
    except Exception:
        LOG.exception("import %d failed", number)
        remedy = f"The log of the server says what happened, under the number {NUMBER.get() or number}."
        _refuse(held, problem("server_fault", "Something went wrong in the program.", remedy=remedy))


def _keep(held: FileImport) -> None:
    tell = _Progress(held.pk)
    tell.stage(Stage.READING)
    engine = read_engine(held.case.engine)
    plan = held.plan or {}
    uses = uses_of(plan, engine)
    capture = capture_of_file(source_of(held), uses, kept_of(plan))
    tell.stage(Stage.MEASURING)
    now = timezone.now()

    def mark(stored: StoredCapture) -> None:
        kept = FileImport.objects.filter(pk=held.pk, state=ImportState.WORKING).update(
            state=ImportState.KEPT, capture=stored, share=1.0, problem=None, touched_at=now
        )
        if not kept:
            raise CaptureError("The file was taken back meanwhile.", where=held.file_name)

    keeping = Keeping(told=tell.share, within=mark, under=ahead_of(held.pk))
    keep_capture(held.case, capture, file_name=held.file_name, by=held.by, at=now, keeping=keeping)
    proposing.remember(uses, by=held.by, at=now)
    staging.remove(held.pk)


class _Progress:
    """Tells how far a file is, not more often than anybody can read it."""

    def __init__(self, number: int) -> None:
        self._row = FileImport.objects.filter(pk=number, state=ImportState.WORKING)
        self._told_at = 0.0

    def stage(self, stage: Stage) -> None:
        self._row.update(stage=stage, share=0.0)

    def share(self, share: float) -> None:
        if time.monotonic() - self._told_at >= TOLD_EVERY_S:
            self._told_at = time.monotonic()
            self._row.update(share=share)


def _refuse(held: FileImport, words: dict[str, str]) -> None:
    """The file stays: what was said of it may be mended."""
    FileImport.objects.filter(pk=held.pk, state=ImportState.WORKING).update(
        state=ImportState.REFUSED, stage=Stage.NONE, problem=words, touched_at=timezone.now()
    )


def ahead_of(number: int) -> str:
    """The name under which samples are written ahead of an import's capture."""
    return f"import {number}"


def put_back(number: int) -> None:
    """A file whose process ended without a word waits again, once; then it is refused."""
    writing.sweep(ahead_of(number))
    row = FileImport.objects.filter(pk=number, state=ImportState.WORKING)
    row.filter(tries__lt=TRIES_MAX).update(state=ImportState.WAITING, stage=Stage.NONE, share=0.0)
    words = problem(
        "import_ended",
        "Keeping it was broken off twice.",
        remedy="Send a part of it, or look at the log of the server.",
    )
    row.update(state=ImportState.REFUSED, stage=Stage.NONE, problem=words, touched_at=timezone.now())


def tidy(*, older_than: datetime) -> None:
    """Forget files nobody came back to, and bytes that belong to nothing in hand.

    Parameters
    ----------
    older_than : datetime
        What was not touched since is given up.
    """
    idle = (ImportState.ARRIVING, ImportState.ARRIVED, ImportState.REFUSED)
    FileImport.objects.filter(state__in=idle, touched_at__lt=older_than).update(state=ImportState.CANCELLED)
    wanted = set(FileImport.objects.filter(state__in=IN_HAND).values_list("pk", flat=True))
    for number in staging.numbers():
        if number not in wanted:
            staging.remove(number)

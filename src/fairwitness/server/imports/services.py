"""What may be done with a file on its way: begin, send on, look, have it kept, take it back."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.exceptions import PermissionDenied

from fairwitness.core.errors import CaptureError, InstrumentError, TableError
from fairwitness.formats.file_guess import FileGuess, guess_file
from fairwitness.formats.recordings import kind_of
from fairwitness.formats.tables import TABLE_BYTES_MAX
from fairwitness.instruments.inbox import Inbox
from fairwitness.server.accounts.models import Role, User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.changing import refuse_closed
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.imports import staging
from fairwitness.server.imports.models import CAN_BE_KEPT, IN_HAND, FileImport, ImportState, Stage

IN_HAND_MAX = 20
"""Files of one person that are not kept yet."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Sent:
    """A file as its sender announces it.

    Parameters
    ----------
    name : str
    size : int, bytes
    modified : int
        As the sender's machine tells it; 0 where it does not, and then no file is taken for one that came before.
    """

    name: str
    size: int
    modified: int = 0


def begin(case: StoredCase, sent: Sent, *, by: User, at: datetime) -> FileImport:
    """Announce a file, or go on with one that broke off.

    Raises
    ------
    PermissionDenied
    ObservationError
        The case is closed.
    CaptureError
        It is empty or too large, there is no room for it, or too many of one's files are in hand.
    """
    require(by, "add_evidence")
    refuse_closed(case)
    _refuse_size(sent)
    begun = _begun(case, sent, by)
    if begun is not None:
        return begun
    _refuse_many(by)
    staging.refuse_without_room(sent.size)
    made = case.imports.create(
        by=by, file_name=sent.name[:200], size=sent.size, modified=sent.modified, began_at=at, touched_at=at
    )
    staging.remove(made.pk)  # of a database that was restored since: numbers come again
    return made


def _begun(case: StoredCase, sent: Sent, by: User) -> FileImport | None:
    """The same file, sent before and not asked for yet."""
    if not sent.modified:
        return None
    same = case.imports.filter(by=by, file_name=sent.name[:200], size=sent.size, modified=sent.modified)
    return same.filter(state__in=(ImportState.ARRIVING, ImportState.ARRIVED, ImportState.REFUSED)).last()


def begin_waiting(case: StoredCase, name: str, *, by: User, at: datetime) -> FileImport:
    """Take a file out of the inbox folder; it stays there.

    Raises
    ------
    As ``begin``, and InstrumentError where there is no such file.
    """
    require(by, "add_evidence")
    refuse_closed(case)
    _refuse_many(by)
    if settings.INBOX is None:
        raise InstrumentError("There is no inbox folder.", remedy="Name one in FAIRWITNESS_INBOX.")
    inbox = Inbox(settings.INBOX, bytes_max=settings.RECORDING_BYTES_MAX)
    made = case.imports.create(by=by, file_name=name[:200], size=0, began_at=at, touched_at=at)
    try:
        staging.remove(made.pk)
        inbox.copy(name, staging.path_of(made.pk))
        made.size = staging.received(made.pk)
        _refuse_size(Sent(name=name, size=made.size))
    except BaseException:
        made.delete()
        staging.remove(made.pk or 0)
        raise
    made.state = ImportState.ARRIVED
    made.save(update_fields=["size", "state"])
    return made


def take(held: FileImport, offset: int, piece: bytes, *, by: User, at: datetime) -> int:
    """Take the next piece of a file; the last one makes it whole.

    Returns
    -------
    int
        Bytes that are there now.

    Raises
    ------
    PermissionDenied
    OutOfStepError
        The piece does not follow.
    CaptureError
        More than was announced, or nothing more is awaited.
    """
    _refuse_others(held, by)
    if held.state != ImportState.ARRIVING:
        raise CaptureError("Nothing more of this file is awaited.", where=held.file_name)
    if offset + len(piece) > held.size:
        raise CaptureError("This is more than was announced.", where=held.file_name, remedy="Choose the file again.")
    there = staging.append(held.pk, offset, piece)
    state = ImportState.ARRIVED if there == held.size else ImportState.ARRIVING
    FileImport.objects.filter(pk=held.pk, state=ImportState.ARRIVING).update(state=state, touched_at=at)
    return there


def look(held: FileImport, *, by: User) -> FileGuess:
    """Find out how a file is written and what its columns probably are.

    Raises
    ------
    PermissionDenied
    CaptureError
        It is not whole yet, or gone.
    TableError
        Nothing that could be a recording.
    """
    _refuse_others(held, by)
    return guess_file(source_of(held), where=held.file_name)


def source_of(held: FileImport) -> Path:
    """The staged file, whole and of a kind that is read.

    Raises
    ------
    CaptureError, TableError
    """
    path = staging.path_of(held.pk)
    if held.state == ImportState.ARRIVING or not path.is_file():
        raise CaptureError("The file is not here.", where=held.file_name, remedy="Send it again.")
    if kind_of(path) is None and path.stat().st_size > TABLE_BYTES_MAX:
        most = TABLE_BYTES_MAX // 1_000_000
        raise TableError(
            f"A table of text is larger than {most} MB.",
            where=held.file_name,
            remedy="Export it as HDF5, MDF or Parquet, or split it.",
        )
    return path


def ask(held: FileImport, plan: dict[str, Any], *, by: User, at: datetime) -> FileImport:
    """Have a file kept as a capture; it waits for its turn.

    Parameters
    ----------
    held : FileImport
    plan : dict
        As the serializer of plans gives it.

    Raises
    ------
    PermissionDenied
    ObservationError
        The case is closed.
    CaptureError
        It is not whole, or somebody asked already.
    """
    _refuse_others(held, by)
    refuse_closed(held.case)
    source_of(held)
    asked = FileImport.objects.filter(pk=held.pk, state__in=CAN_BE_KEPT).update(
        state=ImportState.WAITING,
        stage=Stage.NONE,
        share=0.0,
        plan=plan,
        problem=None,
        tries=0,
        asked_at=at,
        touched_at=at,
    )
    if not asked:
        raise CaptureError("It is being kept already.", where=held.file_name)
    held.refresh_from_db()
    return held


def cancel(held: FileImport, *, by: User, at: datetime) -> FileImport:
    """Take a file back at any moment before it is kept.

    Raises
    ------
    PermissionDenied
    CaptureError
        It is kept already.
    """
    if by.role != Role.LEAD:
        _refuse_others(held, by)
    taken_back = FileImport.objects.filter(pk=held.pk, state__in=IN_HAND).update(
        state=ImportState.CANCELLED, touched_at=at
    )
    held.refresh_from_db()
    if not taken_back and held.state == ImportState.KEPT:
        raise CaptureError("It is kept already.", where=held.file_name, remedy="Withdraw the capture.")
    staging.remove(held.pk)
    return held


def before(held: FileImport) -> int:
    """How many are to be kept before this one."""
    if held.state != ImportState.WAITING or held.asked_at is None:
        return 0
    earlier = FileImport.objects.filter(state=ImportState.WAITING, asked_at__lt=held.asked_at).count()
    return earlier + FileImport.objects.filter(state=ImportState.WORKING).count()


def _refuse_others(held: FileImport, by: User) -> None:
    require(by, "add_evidence")
    if held.by_id != by.pk:
        raise PermissionDenied("Only who sent a file goes on with it.")


def _refuse_size(sent: Sent) -> None:
    most = settings.RECORDING_BYTES_MAX
    if sent.size <= 0:
        raise CaptureError("The file is empty.", where=sent.name[:80], remedy="Export the capture again.")
    if sent.size > most:
        raise CaptureError(f"The file is larger than {most // 1_000_000} MB.", where=sent.name[:80], remedy="Split it.")


def _refuse_many(by: User) -> None:
    if FileImport.objects.filter(by=by, state__in=IN_HAND).count() >= IN_HAND_MAX:
        raise CaptureError(
            f"{IN_HAND_MAX} of your files are not kept yet.", remedy="Keep or cancel some of them first."
        )

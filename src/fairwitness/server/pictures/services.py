"""What may be done with pictures: keep, mark, withdraw; each a line of the journal with the hash of the file."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from datetime import datetime
from typing import TypeVar

from fairwitness.core.errors import ObservationError
from fairwitness.formats.engine_block import read_engine
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.cases.changing import changing, note, refuse_closed, touch
from fairwitness.server.cases.models import StoredCase, StoredObservation, StoredOutcome, StoredPart
from fairwitness.server.cases.services import withdraw
from fairwitness.server.pictures.checking import Checked, PictureKind, check
from fairwitness.server.pictures.marks import mark_block, read_marks
from fairwitness.server.pictures.models import Picture, PictureBytes

Row = TypeVar("Row", StoredObservation, StoredPart, StoredOutcome)
KEPT_LINES = {PictureKind.PHOTO.value: "photo kept", PictureKind.SOUND.value: "sound kept"}
MARKED_LINE, WITHDRAWN_LINE = "picture marked", "picture withdrawn"
PICTURE_LINES = frozenset({*KEPT_LINES.values(), MARKED_LINE, WITHDRAWN_LINE})
"""Lines of the journal that speak of a picture by its hash."""
PICTURES_MAX = 100
CASE_BYTES_MAX = 300 * 1024 * 1024
"""Of one case together: a database is no photo album."""


@dataclass(frozen=True, slots=True, kw_only=True)
class About:
    """What a picture belongs to; nothing of it where it is of the case as a whole.

    Parameters
    ----------
    observation, part, outcome : int or None
        Numbers; at most one.
    """

    observation: int | None = None
    part: int | None = None
    outcome: int | None = None


OF_THE_CASE = About()


def keep_picture(
    case: StoredCase, data: bytes, *, words: str = "", about: About = OF_THE_CASE, by: User, at: datetime
) -> Picture:
    """Keep a picture or a sound, checked by its content and stripped of everything else.

    Raises
    ------
    PermissionDenied
    PackageError
        It is no picture or sound that is kept.
    ObservationError
        What it belongs to is not of this case, it was kept before, there are too many, or the case is closed.
    """
    require(by, "add_evidence")
    refuse_closed(case)
    checked = check(data)  # before the case is held: others need not wait for a decoder
    with changing(case, conclude=False) as held:
        refuse_closed(held)
        _room_for(held, checked)
        picture = write(held, checked, words=words, about=about, by=by, at=at)
        touch(held, at)
        note(held, KEPT_LINES[picture.kind], picture.words, by=by, at=at, about=picture.sha256)
    return picture


def write(
    case: StoredCase, checked: Checked, *, words: str, about: About = OF_THE_CASE, by: User, at: datetime
) -> Picture:
    """Write a checked file down; call it while the case is held.

    Raises
    ------
    ObservationError
        What it belongs to is not of this case, or the same file is kept already.
    """
    sha256 = hashlib.sha256(checked.data).hexdigest()
    if case.pictures.filter(sha256=sha256).exists():
        raise ObservationError("This picture is kept already.", where="file")
    picture = Picture.objects.create(
        case=case,
        kind=checked.kind.value,
        mime=checked.mime,
        words=words.strip()[:300],
        observation=_of(case, StoredObservation, about.observation),
        part=_of(case, StoredPart, about.part),
        outcome=_of(case, StoredOutcome, about.outcome),
        sha256=sha256,
        size=len(checked.data),
        width=checked.width,
        height=checked.height,
        seconds=checked.seconds,
        kept_by=by,
        kept_at=at,
    )
    PictureBytes.objects.create(picture=picture, data=checked.data, thumb=checked.thumb)
    return picture


def mark_picture(picture: Picture, marks: object, *, by: User, at: datetime) -> Picture:
    """Draw on top of a picture; what was drawn before is replaced, the picture stays as it is.

    Raises
    ------
    PermissionDenied
    ObservationError
        A mark that cannot be, a sound, or the case is closed.
    """
    require(by, "add_evidence")
    if not picture.width:
        raise ObservationError("Nothing can be drawn on a sound.", where="marks")
    drawn = read_marks(marks, read_engine(picture.case.engine).firing_order)
    with changing(picture.case, conclude=False) as held:
        refuse_closed(held)
        picture.refresh_from_db()
        picture.marks = [mark_block(mark) for mark in drawn]
        picture.save(update_fields=["marks"])
        note(held, MARKED_LINE, f"{len(drawn)} marks", by=by, at=at, about=picture.sha256)
    return picture


def withdraw_picture(picture: Picture, *, reason: str, by: User, at: datetime) -> Picture:
    """Withdraw a picture; it stays with the reason and is handed out no more.

    Raises
    ------
    PermissionDenied
    ObservationError
        No reason given, or withdrawn before.
    """
    with changing(picture.case, conclude=False) as held:
        withdraw(picture, reason=reason, by=by, at=at)
        note(held, WITHDRAWN_LINE, reason.strip(), by=by, at=at, about=picture.sha256)
    return picture


def whole_file(picture: Picture) -> bytes:
    """The bytes of a picture, as they were kept.

    Raises
    ------
    ObservationError
        They are not what was kept.
    """
    data = bytes(picture.file.data)
    if hashlib.sha256(data).hexdigest() != picture.sha256:
        raise ObservationError(
            "The picture is not what was kept.", where=f"picture {picture.pk}", remedy="It is no evidence any more."
        )
    return data


def _room_for(case: StoredCase, checked: Checked) -> None:
    sizes = list(case.pictures.values_list("size", flat=True))
    if len(sizes) >= PICTURES_MAX or sum(sizes) + len(checked.data) > CASE_BYTES_MAX:
        raise ObservationError(
            f"A case keeps {PICTURES_MAX} pictures, {CASE_BYTES_MAX // 1_000_000} MB together.", where="file"
        )


def _of(case: StoredCase, kind: type[Row], number: int | None) -> Row | None:
    if number is None:
        return None
    found: Row | None = kind._default_manager.filter(case=case, pk=number).first()
    if found is None:
        raise ObservationError("What the picture belongs to is not of this case.", where="about")
    return found

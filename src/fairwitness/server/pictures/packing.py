"""Pictures on their way into and out of a case package."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from fairwitness.core.errors import ObservationError
from fairwitness.formats.engine_block import read_engine
from fairwitness.formats.package_pictures import BLOCK, PackedPicture, picture_blocks
from fairwitness.server.accounts.models import User
from fairwitness.server.cases.changing import note
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.pictures.checking import SUFFIXES, Checked, check
from fairwitness.server.pictures.marks import mark_block, read_marks
from fairwitness.server.pictures.services import KEPT_LINES, whole_file, write

CheckedPicture = tuple[Checked, PackedPicture]


def packed(case: StoredCase) -> tuple[dict[str, Any], dict[str, bytes]]:
    """Pictures in force as a package carries them: their block, by its key, and their files.

    Raises
    ------
    ObservationError
        One is not what was kept.
    """
    rows = case.pictures.filter(withdrawn_at__isnull=True).select_related("file", "kept_by")
    pictures = [
        PackedPicture(
            data=whole_file(p),
            suffix=SUFFIXES[p.mime],
            words=p.words,
            marks=p.marks,
            by=p.kept_by.shown_name,
            at=p.kept_at.isoformat(),
        )
        for p in rows
    ]
    blocks, files = picture_blocks(pictures)
    return ({BLOCK: blocks} if blocks else {}), files


def checked_pictures(pictures: Sequence[PackedPicture]) -> list[CheckedPicture]:
    """Look at pictures of a package as at any that is sent; before anything is written.

    Raises
    ------
    PackageError
    """
    return [(check(picture.data), picture) for picture in pictures]


def restore(case: StoredCase, pictures: Sequence[CheckedPicture], *, by: User, at: datetime) -> None:
    """Keep the pictures of a package; call it inside the transaction that makes the case.

    Marks that do not fit this engine are left out; the same picture twice is kept once.
    """
    cylinders = read_engine(case.engine).firing_order
    for checked, brought in pictures:
        try:
            kept = write(case, checked, words=brought.words, by=by, at=at)
        except ObservationError:
            continue
        try:
            kept.marks = [mark_block(mark) for mark in read_marks(brought.marks, cylinders)]
            kept.save(update_fields=["marks"])
        except ObservationError:
            pass
        note(case, KEPT_LINES[kept.kind], kept.words, by=by, at=at, about=kept.sha256)

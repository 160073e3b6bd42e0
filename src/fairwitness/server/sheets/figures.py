"""Marked stretches of traces: kept with words, withdrawn with a reason; which of them and of the pictures are shown."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from fairwitness.core.errors import ObservationError
from fairwitness.core.model.decision import DECISION
from fairwitness.server.accounts.models import User
from fairwitness.server.accounts.permissions import require
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.changing import changing, note, refuse_closed, touch
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.cases.services import withdraw
from fairwitness.server.pictures.checking import PictureKind
from fairwitness.server.sheets.models import SheetChoice, TraceFigure

FIGURES_MAX = 60
WORDS_MOST = 300
SHOWN_MAX = 2
SHORTEST_S = 1e-6
PICTURE, FIGURE = "picture", "figure"
KEPT_LINE, WITHDRAWN_LINE, CHOSEN_LINE = "figure kept", "figure withdrawn", "sheet figures chosen"


def keep_figure(
    stored: StoredCapture, from_s: float, to_s: float, *, words: str, by: User, at: datetime
) -> TraceFigure:
    """Keep a stretch of a capture as a figure.

    Raises
    ------
    PermissionDenied
    ObservationError
        No words, a stretch outside the capture or too short, a capture that is not in force, or the case is closed.
    """
    require(by, "add_evidence")
    if not words.strip():
        raise ObservationError("Say what is to be seen there.", where="words")
    if stored.withdrawn_at is not None or stored.unreadable or stored.changed:
        raise ObservationError("This capture is no evidence, so no figure is made of it.", where=stored.name)
    length = max(stored.samples - 1, 0) / max(stored.rate_hz, 1e-9)
    begin, end = max(min(from_s, to_s), 0.0), min(max(from_s, to_s), length)
    if end - begin < max(SHORTEST_S, 2.0 / max(stored.rate_hz, 1e-9)):
        raise ObservationError("The stretch is too short, or outside the capture.", where="from_s")
    with changing(stored.case, conclude=False) as held:
        refuse_closed(held)
        if held.figures.count() >= FIGURES_MAX:
            raise ObservationError(f"A case keeps up to {FIGURES_MAX} figures.", where="figures")
        kept = TraceFigure.objects.create(
            case=held, capture=stored, from_s=begin, to_s=end, words=words.strip()[:WORDS_MOST], kept_by=by, kept_at=at
        )
        touch(held, at)
        note(held, KEPT_LINE, f"{stored.name}, {begin:.4f} to {end:.4f} s: {kept.words}"[:500], by=by, at=at)
    return kept


def withdraw_figure(figure: TraceFigure, *, reason: str, by: User, at: datetime) -> None:
    """Withdraw a figure; it stays with the reason and is shown no more.

    Raises
    ------
    PermissionDenied
    ObservationError
    """
    with changing(figure.case, conclude=False) as held:
        withdraw(figure, reason=reason, by=by, at=at)
        note(held, WITHDRAWN_LINE, f"{figure.words}: {reason.strip()}", by=by, at=at)


def choose(case: StoredCase, shown: Sequence[str], *, by: User, at: datetime) -> None:
    """Choose which pictures and figures stand on the sheet; none chosen: the sheet chooses itself.

    Raises
    ------
    PermissionDenied
    ObservationError
        Too many, or one that the case does not have.
    """
    require(by, "add_evidence")
    if len(shown) > SHOWN_MAX:
        raise ObservationError(f"One page has room for {SHOWN_MAX}.", where="shown", remedy="Take one off first.")
    known = offered(case)
    for reference in shown:
        if reference not in known:
            raise ObservationError("The case has no such picture or figure.", where=reference)
    with changing(case, conclude=False) as held:
        SheetChoice.objects.update_or_create(case=held, defaults={"shown": list(dict.fromkeys(shown))})
        note(held, CHOSEN_LINE, ", ".join(shown) or "by itself", by=by, at=at)


def offered(case: StoredCase) -> list[str]:
    """References of all that may stand on the sheet."""
    signatures = [row.data.get("signature", "") for row in case.observations.filter(test=DECISION)]
    pictures = case.pictures.filter(kind=PictureKind.PHOTO.value, withdrawn_at__isnull=True).exclude(
        sha256__in=signatures
    )
    figures = case.figures.filter(withdrawn_at__isnull=True, capture__withdrawn_at__isnull=True, capture__changed="")
    return [
        *(f"{PICTURE}:{pk}" for pk in pictures.values_list("pk", flat=True)),
        *(f"{FIGURE}:{pk}" for pk in figures.values_list("pk", flat=True)),
    ]


def shown_on(case: StoredCase) -> list[str]:
    """What stands on the sheet: as chosen, else the last figure and the last picture."""
    known = offered(case)
    choice = SheetChoice.objects.filter(case=case).first()
    if choice is not None and choice.shown:
        return [r for r in choice.shown if r in known]
    last_figure = [r for r in known if r.startswith(FIGURE)][-1:]
    last_pictures = [r for r in known if r.startswith(PICTURE)][-SHOWN_MAX:]
    return [*last_figure, *last_pictures][:SHOWN_MAX]

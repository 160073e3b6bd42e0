"""Figures of traces on their way into and out of a case package: block ``figures``, each naming its capture."""

from __future__ import annotations

import math
from datetime import datetime
from typing import Any

from fairwitness.server.accounts.models import User
from fairwitness.server.cases.changing import note
from fairwitness.server.cases.models import StoredCase
from fairwitness.server.sheets.figures import FIGURES_MAX, KEPT_LINE, WORDS_MOST
from fairwitness.server.sheets.models import TraceFigure

BLOCK = "figures"


def packed_figures(case: StoredCase) -> dict[str, list[dict[str, Any]]]:
    """Figures in force as a package carries them, by the key of their block; nothing where there are none."""
    rows = case.figures.filter(
        withdrawn_at__isnull=True, capture__withdrawn_at__isnull=True, capture__changed="", capture__unreadable=""
    )
    blocks = [
        {"capture": f.capture.name, "from_s": f.from_s, "to_s": f.to_s, "words": f.words,
         "by": f.kept_by.shown_name, "at": f.kept_at.isoformat()}
        for f in rows.select_related("capture", "kept_by")
    ]  # fmt: skip
    return {BLOCK: blocks} if blocks else {}


def restore_figures(case: StoredCase, blocks: object, *, by: User, at: datetime) -> None:
    """Keep the figures of a package; call it inside the transaction that makes the case.

    Those that name no capture of the case, or no stretch of it, are left out.
    """
    captures = {c.name: c for c in case.captures.all()}
    for block in blocks[:FIGURES_MAX] if isinstance(blocks, list) else ():
        if not isinstance(block, dict) or block.get("capture") not in captures:
            continue
        capture, words = captures[block["capture"]], block.get("words")
        begin, end = (_moment(block.get(key)) for key in ("from_s", "to_s"))
        length = max(capture.samples - 1, 0) / max(capture.rate_hz, 1e-9)
        if not isinstance(words, str) or not words.strip() or not 0.0 <= begin < end <= length * (1 + 1e-9):
            continue
        kept = TraceFigure.objects.create(
            case=case, capture=capture, from_s=begin, to_s=end, words=words.strip()[:WORDS_MOST], kept_by=by, kept_at=at
        )
        note(case, KEPT_LINE, f"{capture.name}: {kept.words}", by=by, at=at)


def _moment(value: object) -> float:
    known = isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)
    return float(value) if known and isinstance(value, int | float) else math.nan

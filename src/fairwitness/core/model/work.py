"""Work done to a vehicle before it came, row by row: which part, where, what was fitted, whether it changed anything.

From the intake; a renewed part makes some faults less likely. What somebody wrote in a sentence is kept and shown, and
never read: "not replaced" is no new part, and "2 weeks ago" is no cylinder.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message, joined, verbatim
from fairwitness.core.model.phase import PARTS, PartState
from fairwitness.core.model.phase_words import FITTED_WORDS, PART_WORDS

ROWS_MOST = 100
WORDS_MOST = 300
WHAT = template("work.what", "{part:capital}, {fitted}")
WHAT_AT = template("work.what_at", "{part:capital}, {which:cylinders}, {fitted}")
NO_CHANGE, A_CHANGE = phrase("work.no_change", "no change"), phrase("work.a_change", "it changed something")


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkDone:
    """One thing that was done.

    Parameters
    ----------
    part : str
        One of ``PARTS``; empty where only words were written down.
    cylinders : tuple of int
        Empty for all of them, or where nobody knows.
    fitted : PartState or None
    by, when : str
        As it was said.
    helped : bool or None
        Whether it changed anything.
    words : str
    """

    part: str = ""
    cylinders: tuple[int, ...] = ()
    fitted: PartState | None = None
    by: str = ""
    when: str = ""
    helped: bool | None = None
    words: str = ""

    @property
    def renewed(self) -> bool:
        """A part that was there before is another one now."""
        return bool(self.part) and self.fitted not in (None, PartState.REWORKED)


def work_words(work: WorkDone) -> Message:
    """A row as one reads it."""
    said: list[Message] = []
    if work.part:
        part, fitted = PART_WORDS[work.part], FITTED_WORDS[work.fitted or PartState.REWORKED]
        said.append(
            WHAT_AT(part=part, which=work.cylinders, fitted=fitted)
            if work.cylinders
            else WHAT(part=part, fitted=fitted)
        )
    said += [verbatim(text) for text in (work.words, work.by, work.when) if text]
    if work.helped is not None:
        said.append(A_CHANGE if work.helped else NO_CHANGE)
    return joined(*said, by=", ")


def read_work(items: Iterable[object]) -> tuple[WorkDone, ...]:
    """Read rows; a sentence becomes a row of words alone, and what is neither is left out.

    Parameters
    ----------
    items : iterable
        JSON values.

    Returns
    -------
    tuple of WorkDone
    """
    return tuple(row for item in list(items)[:ROWS_MOST] if (row := _read(item)) is not None)


def _read(item: object) -> WorkDone | None:
    if isinstance(item, str):
        return WorkDone(words=item[:WORDS_MOST])
    if not isinstance(item, dict):
        return None

    def text(key: str) -> str:
        return value[:WORDS_MOST] if isinstance(value := item.get(key), str) else ""

    part, fitted, at, helped = (item.get(key) for key in ("part", "fitted", "cylinders", "helped"))
    cylinders = at if isinstance(at, list) else []
    return WorkDone(
        part=part if part in PARTS else "",
        cylinders=tuple(c for c in cylinders[:16] if isinstance(c, int) and not isinstance(c, bool)),
        fitted=PartState(fitted) if fitted in list(PartState) else None,
        by=text("by"),
        when=text("when"),
        helped=helped if isinstance(helped, bool) else None,
        words=text("words"),
    )


def work_block(work: WorkDone) -> dict[str, Any] | str:
    """A row as it stands in a package: words alone as the sentence they are."""
    if work == WorkDone(words=work.words):
        return work.words
    block = {
        "part": work.part,
        "cylinders": list(work.cylinders),
        "fitted": work.fitted.value if work.fitted else None,
        "by": work.by,
        "when": work.when,
        "helped": work.helped,
        "words": work.words,
    }
    return {key: value for key, value in block.items() if value not in (None, "", [])}

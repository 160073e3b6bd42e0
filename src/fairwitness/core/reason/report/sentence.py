"""A sentence and the evidence under it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Sentence:
    """One sentence and the findings that carry it."""

    text: str
    findings: tuple[str, ...] = ()


def cylinders_in_words(cylinders: Sequence[int]) -> str:
    """``cylinder 3``, ``cylinders 1 and 4``, ``cylinders 1, 3 and 5``."""
    ranked = [str(c) for c in sorted(cylinders)]
    if len(ranked) == 1:
        return f"cylinder {ranked[0]}"
    return f"cylinders {', '.join(ranked[:-1])} and {ranked[-1]}"

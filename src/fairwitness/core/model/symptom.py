"""What the engine does at all: runs, runs badly, cranks and does not start, does not crank."""

from __future__ import annotations

import re
from enum import StrEnum

NO_START_WORDS = re.compile(
    r"\b((does|do|did|will|would)( not|n't)|won't|never|no(t)?)[ -]+(re)?start(s|ed|ing)?\b|\bno[ -]start\b",
    re.IGNORECASE,
)
NO_CRANK_WORDS = re.compile(
    r"\b(no[ -]crank|(does|do|will)( not|n't) (crank|turn over)|starter (only )?clicks)\b", re.IGNORECASE
)


class Symptom(StrEnum):
    """The complaint at its coarsest; it says which tests can be taken and which faults can be meant."""

    RUNS = "runs"
    RUNS_BADLY = "runs_badly"
    NO_START = "no_start"
    NO_CRANK = "no_crank"

    @property
    def runs(self) -> bool:
        """Whether the engine runs, however badly."""
        return self in (Symptom.RUNS, Symptom.RUNS_BADLY)


def symptom_of(complaint: str) -> Symptom:
    """What a complaint in the driver's words says of it, where nobody said it otherwise."""
    if NO_CRANK_WORDS.search(complaint):
        return Symptom.NO_CRANK
    return Symptom.NO_START if NO_START_WORDS.search(complaint) else Symptom.RUNS_BADLY

"""What the engine does at all: runs, runs badly, cranks and does not start, does not crank."""

from __future__ import annotations

from enum import StrEnum


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

"""One job: an engine, what was recorded, what was seen by hand."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.circumstances import UNKNOWN, Circumstances
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.phase import Phase, phase_number
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.model.work import WorkDone


@dataclass(frozen=True, slots=True, kw_only=True)
class Observation:
    """Something entered by hand or read from a scan tool. ``data`` holds the fields of its test."""

    test: str
    data: Mapping[str, Any]

    @property
    def phase(self) -> int:
        """State of the vehicle it was taken in; 0 as it arrived."""
        return phase_number(self.data.get("phase"))


@dataclass(frozen=True, slots=True)
class TroubleCode:
    """One stored, pending or permanent code."""

    code: str
    status: str = "stored"


@dataclass(frozen=True, kw_only=True)
class Case:
    """Everything the diagnosis stands on."""

    name: str
    engine: Engine
    title: str = ""
    complaint: str = ""
    symptom: Symptom = Symptom.RUNS_BADLY
    complaint_when: Circumstances = UNKNOWN
    """Under which conditions the complaint comes; nothing where it is always there, or nobody said."""
    signs: tuple[str, ...] = ()
    """What the driver sees, hears and smells: ids of ``knowledge.signs``."""
    work_done: tuple[WorkDone, ...] = ()
    codes: tuple[TroubleCode, ...] = ()
    observations: tuple[Observation, ...] = ()
    captures: tuple[Capture | UnreadableCapture, ...] = ()
    phases: tuple[Phase, ...] = ()
    """States of the vehicle after the one it arrived in."""
    extra: Mapping[str, Any] = field(default_factory=dict)
    """Keys of a package this version does not know, carried along unchanged."""

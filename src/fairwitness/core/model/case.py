"""One job: an engine, what was recorded, what was seen by hand."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from fairwitness.core.model.capture import Capture, UnreadableCapture
from fairwitness.core.model.circumstances import UNKNOWN, Circumstances
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.phase import Phase, phase_number
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.model.visit import PastVisit
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


class CodeOrigin(StrEnum):
    """How a code came to be stored."""

    AS_ARRIVED = "as_arrived"
    AFTER_CLEARING = "after_clearing"
    OWN_TESTING = "own_testing"
    """Set by what was unplugged or cut for a test: it says nothing of the vehicle."""


@dataclass(frozen=True, slots=True)
class TroubleCode:
    """One stored, pending or permanent code.

    Parameters
    ----------
    code, status : str
    origin : CodeOrigin
    at : str
        When it was read, as ISO 8601; empty where nobody wrote it down.
    """

    code: str
    status: str = "stored"
    origin: CodeOrigin = CodeOrigin.AS_ARRIVED
    at: str = ""


def code_block(code: TroubleCode) -> dict[str, str]:
    """A code as it stands in a package."""
    block = {"code": code.code, "status": code.status}
    if code.origin is not CodeOrigin.AS_ARRIVED:
        block["origin"] = code.origin.value
    return {**block, "at": code.at} if code.at else block


def read_code(item: object) -> TroubleCode | None:
    """One code of a package or a database; None where it is none."""
    if not isinstance(item, dict) or not isinstance(item.get("code"), str):
        return None
    status, origin, at = item.get("status"), item.get("origin"), item.get("at")
    return TroubleCode(
        item["code"],
        status if isinstance(status, str) and status else "stored",
        CodeOrigin(origin) if origin in list(CodeOrigin) else CodeOrigin.AS_ARRIVED,
        at if isinstance(at, str) else "",
    )


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
    visits: tuple[PastVisit, ...] = ()
    """Earlier ones of the same vehicle, the latest first."""
    observations: tuple[Observation, ...] = ()
    captures: tuple[Capture | UnreadableCapture, ...] = ()
    phases: tuple[Phase, ...] = ()
    """States of the vehicle after the one it arrived in."""
    extra: Mapping[str, Any] = field(default_factory=dict)
    """Keys of a package this version does not know, carried along unchanged."""

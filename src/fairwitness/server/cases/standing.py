"""How far a case is, from what is kept of it: nobody sets it by hand."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum
from typing import Any

from fairwitness.core.messages.catalogue import scope
from fairwitness.core.model.case import Observation
from fairwitness.core.model.decision import DECISION, Agreement, Decision, last_decision
from fairwitness.core.reason.phases.repair_proof import ProofStatus
from fairwitness.core.reason.verdict import Status
from fairwitness.server.cases.changing import diagnosis_of
from fairwitness.server.cases.models import CaseStatus, StoredCase

_say = scope("standing")
NAMED = (Status.SUPPORTED.value, Status.ESTABLISHED.value)
TO_MEND = frozenset({Agreement.REPAIR, Agreement.OPEN_ENGINE})
"""What an owner agrees to that goes beyond looking."""


class CaseStage(StrEnum):
    """How far a case is."""

    MEASURING = "measuring"
    DIAGNOSED = "diagnosed"
    APPROVED = "approved"
    REPAIRED = "repaired"
    PROVEN = "proven"


STAGE_WORDS = {
    CaseStage.MEASURING: _say("measuring", "not diagnosed"),
    CaseStage.DIAGNOSED: _say("diagnosed", "diagnosed"),
    CaseStage.APPROVED: _say("approved", "approved"),
    CaseStage.REPAIRED: _say("repaired", "repaired, not proven"),
    CaseStage.PROVEN: _say("proven", "proven"),
}


def decision_of(case: StoredCase) -> Decision | None:
    """What the owner decided last; None where they were not asked."""
    rows = case.observations.filter(test=DECISION, withdrawn_at__isnull=True)
    return last_decision(Observation(test=row.test, data=row.data) for row in rows)


def stage_of(case: StoredCase, document: Mapping[str, Any] | None = None) -> CaseStage:
    """How far a case is; of a closed one how far it was.

    Parameters
    ----------
    case : StoredCase
    document : mapping, optional
        Its diagnosis, where it was asked for already.

    Returns
    -------
    CaseStage
    """
    if case.status == CaseStatus.CLOSED and case.closed_as in list(CaseStage):
        return CaseStage(case.closed_as)
    repairs = (document or diagnosis_of(case)).get("repairs", [])
    if repairs:
        proven = repairs[-1]["status"] == ProofStatus.PROVEN.value
        return CaseStage.PROVEN if proven else CaseStage.REPAIRED
    decided = decision_of(case)
    if decided is not None and decided.agreed & TO_MEND:
        return CaseStage.APPROVED
    return CaseStage.DIAGNOSED if case.verdict_status in NAMED else CaseStage.MEASURING

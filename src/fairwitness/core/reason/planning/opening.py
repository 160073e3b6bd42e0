"""The plan stops before the engine is taken apart, until the owner said yes to that."""

from __future__ import annotations

from dataclasses import replace

from fairwitness.core.messages.catalogue import phrase
from fairwitness.core.model.decision import Agreement, Decision
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.remedies import REMEDIES
from fairwitness.core.reason.planning.plan_records import Plan
from fairwitness.core.reason.verdict import Status, Verdict

NAMED = (Status.SUPPORTED, Status.ESTABLISHED)
WAITS_FOR_A_YES = phrase(
    "plan.opening_waits",
    "Taking the engine apart waits for the owner's yes: write down who agreed, and up to how much.",
)


def before_opening(plan: Plan, verdict: Verdict, decided: Decision | None) -> Plan:
    """Hold back the opening of the engine where a named fault needs it and nobody agreed.

    Parameters
    ----------
    plan : Plan
    verdict : Verdict
    decided : Decision or None
        The owner's last decision.

    Returns
    -------
    Plan
    """
    opens = any(FAULTS[f].remedy and REMEDIES[FAULTS[f].remedy].opens_engine for f in verdict.faults)
    agreed = decided is not None and Agreement.OPEN_ENGINE in decided.agreed
    if verdict.status not in NAMED or not opens or agreed:
        return plan
    return replace(plan, held_back=(*plan.held_back, WAITS_FOR_A_YES))

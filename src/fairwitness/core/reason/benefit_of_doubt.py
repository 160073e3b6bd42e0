"""The benefit of the doubt: where no test is left that would tell, a sound engine must be out of the question.

From the verdict, the posterior and the plan; what is left of the verdict goes to the statement and the diagnosis.
While tests are left a suspicion is what they are chosen by, and it stands.
"""

from __future__ import annotations

from dataclasses import replace

from fairwitness.core.model.engine import Engine
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.planning.plan_records import Plan
from fairwitness.core.reason.verdict import WANTED, Condition, Status, Verdict

MAY_BE_SOUND = 0.1
"""[M] chance that nothing is wrong, over which nobody is accused once every test that tells was taken."""


def give_benefit_of_doubt(verdict: Verdict, posterior: Posterior, plan: Plan, engine: Engine) -> Verdict:
    """Take an accusation back that the last test left in doubt.

    Parameters
    ----------
    verdict : Verdict
    posterior : Posterior
    plan : Plan
        Chosen under this verdict.
    engine : Engine

    Returns
    -------
    Verdict
        The same one, or an inconclusive one in which whoever was accused stands out still.
    """
    if not (verdict.accuses and plan.done and posterior.of_cause(Cause.NONE) > MAY_BE_SOUND):
        return verdict
    stand_out = verdict.cylinders or verdict.rivals
    return replace(
        verdict,
        status=Status.INCONCLUSIVE,
        cause=Cause.NONE,
        cylinders=(),
        rivals=stand_out if len(stand_out) < engine.cylinders else (),
        faults=(),
        probability=round(float(posterior.of_cause(Cause.NONE)), 4),
        conditions=(Condition("evidence", WANTED["deviation"], met=False),),
        cause_open=False,
    )

"""The plan after work on the vehicle: the tests that prove a repair, or show what moved, come before all others.

From the plan of the trouble and what was judged of the last work; goes to the board in the same form as any offer.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from fairwitness.core.messages.catalogue import Template, phrase, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.case import Case
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.phase import AS_ARRIVED, state_of
from fairwitness.core.model.tools import Turning
from fairwitness.core.procedures import safety
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.procedures.specs import OFFERS, TEST_OF
from fairwitness.core.reason.phases.change_over import Looked, Went
from fairwitness.core.reason.phases.history import History
from fairwitness.core.reason.phases.repair_proof import Proof, ProofStatus
from fairwitness.core.reason.planning.approach import Approach, Bay
from fairwitness.core.reason.planning.minutes import minutes_of
from fairwitness.core.reason.planning.plan_records import NextTest, Plan
from fairwitness.core.reason.planning.plan_words import ENABLE_FUEL, NOT_UNTIL_THEN

PROVES = template(
    "proving.proves",
    "{minutes:g} min with {tools}: it showed the trouble. Taken again, set up as before, it says whether the repair "
    "cured it.",
)
SHOWS_WORK = template(
    "proving.shows_work",
    "{minutes:g} min with {tools}: that every cylinder works now must be seen first.",
)
SHOWS_WHAT_MOVED = template(
    "proving.shows_what_moved",
    "{minutes:g} min with {tools}: taken again, set up as before, it measures whether the trouble moved.",
)
STOP_PROVEN = phrase("proving.stop_proven", "Stop testing: the repair is proven.")
STOP_JUDGED = phrase("proving.stop_judged", "Stop when these were taken again: then the repair is judged.")
STOP_MOVED = phrase("proving.stop_moved", "Stop when one of these was taken again: then it is measured what moved.")


def after_work(plan: Plan, history: History, case: Case, *, approach: Approach, bay: Bay) -> Plan:
    """What to take next, with the work that was done last.

    Parameters
    ----------
    plan : Plan
        Of the trouble that is left.
    history : History
    case : Case
    approach : Approach
    bay : Bay

    Returns
    -------
    Plan
        After a proven repair nothing is asked for; while one waits for its proof, nothing but that.
    """
    now = state_of(max((phase.number for phase in case.phases), default=AS_ARRIVED), case.phases)
    work: list[Proof | Looked] = [*history.repairs, *history.changed_over]
    last = next((done for done in work if done.phase.number == now), None)
    if last is None:
        return plan
    here = _Here(case.engine, approach, bay)
    if isinstance(last, Proof):
        return _after_repair(plan, last, history, here)
    return _after_change_over(plan, last, here)


@dataclass(frozen=True, slots=True)
class _Here:
    """What an offer depends on beside its test."""

    engine: Engine
    approach: Approach
    bay: Bay


def _after_repair(plan: Plan, proof: Proof, history: History, here: _Here) -> Plan:
    if proof.status is ProofStatus.PROVEN:
        return replace(plan, offers=(), stop=STOP_PROVEN, done=True, leave_alone=())
    if proof.status is not ProofStatus.OPEN:
        return plan
    showed = {m.test for number, own in history.states if number != proof.phase.number for m in own}
    says = {test: PROVES if test in showed else SHOWS_WORK for test in proof.missing}
    return _asking(plan, says, STOP_JUDGED, here)


def _after_change_over(plan: Plan, looked: Looked, here: _Here) -> Plan:
    if looked.went is not Went.OPEN:
        return plan
    return _asking(plan, dict.fromkeys(looked.missing, SHOWS_WHAT_MOVED), STOP_MOVED, here)


def _asking(plan: Plan, says: Mapping[str, Template], stop: Message, here: _Here) -> Plan:
    """The plan with these tests alone; as it was where there are none, or none may be done now."""
    tests = [OFFERS[test] for test in says if test in OFFERS]
    waiting = [t for t in tests if here.bay.held and safety.stirs(t)]
    offers = [_offer(t, says[t.id], here) for t in tests if t not in waiting]
    held = (NOT_UNTIL_THEN(why=here.bay.held, count=len(waiting)),) if waiting else ()
    if not offers and not held:
        return plan
    offers.sort(key=lambda offer: offer.minutes)
    return replace(plan, offers=tuple(offers), stop=stop, done=False, held_back=held, deciding=NOTHING)


def _offer(test: Offer, says: Template, here: _Here) -> NextTest:
    minutes = minutes_of(test, here.engine.firing_order, here.approach, here.bay)
    cautions = safety.cautions(test, here.engine)
    if here.bay.fuel_disabled and test.turning is Turning.RUNNING:
        cautions = (ENABLE_FUEL, *cautions)
    return NextTest(
        test=TEST_OF[test.id],
        id=test.id,
        kind=test.kind,
        title=test.title,
        cylinders=(),
        minutes=minutes,
        information_bits=0.0,
        tools=test.tools,
        reason=says(minutes=minutes, tools=test.tools),
        cautions=cautions,
        again=True,
    )

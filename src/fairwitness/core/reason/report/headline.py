"""The headline: who, how firmly, and why, in one sentence.

From the verdict and the measurements; it goes to the statement.
"""

from __future__ import annotations

from collections.abc import Sequence

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.reason.accusations import WORK, compared, lines_of, sealing_tested
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.verdict import Status, Verdict

CONTRADICTS = phrase("headline.contradicts", "The evidence contradicts itself.")
NOTHING_BELIEVED = phrase("headline.nothing_believed", "Nothing can be said yet: no capture so far can be believed.")
NOTHING_MEASURED = phrase("headline.nothing_measured", "Nothing was measured yet.")
WHO = template("headline.who", "{cylinders:cylinders}")
DEAD_HOLE = template("headline.dead_hole", "{who:capital} does not seal: hardly any compression.")
DEAD_HOLES = template("headline.dead_holes", "{who:capital} do not seal: hardly any compression.")
LEAKS = template("headline.leaks", "{who:capital} does not compress like the others.")
LEAK = template("headline.leak", "{who:capital} do not compress like the others.")
ONE_OF_LEAKS = template("headline.one_of_leaks", "Cylinder {rivals:or} does not seal; which of them is still open.")
SOME_LEAK = phrase("headline.some_leak", "A cylinder does not seal; which one is still open.")
MAY_BE_LOW = template("headline.may_be_low", "{who:capital} may be low, but not clearly.")
EVEN_AND_WORKING = phrase(
    "headline.even_and_working", "Compression is even and all cylinders work alike: no cylinder is accused."
)
WORKING = phrase("headline.working", "All cylinders work alike: no cylinder is accused.")
EVEN = phrase("headline.even", "Compression is even: no cylinder is accused.")
CAUSES = {
    Cause.IGNITION: phrase("headline.ignition", "the reason is ignition"),
    Cause.FUEL: phrase("headline.fuel", "the reason is fuel"),
    Cause.CONTROL: phrase("headline.control", "the control unit cuts it"),
    Cause.MECHANICAL: phrase("headline.mechanical", "the reason is mechanical"),
}
CAUSE_AND_FAULT = template("headline.cause_and_fault", "{cause}: {faults:and}")
STILL_OPEN = phrase("headline.still_open", "why is still open")
ONE_OF_WORKS_LESS = template("headline.one_of_works_less", "Cylinder {rivals:or} does not do its share; {why}.")
SOME_WORK_LESS = template(
    "headline.some_work_less", "A cylinder does not do its share, which one is still open; {why}."
)
WORK_OF = {
    (True, True): template("headline.no_work_one", "{who:capital} does no work; {why}."),
    (True, False): template("headline.no_work_several", "{who:capital} do no work; {why}."),
    (False, True): template("headline.less_work_one", "{who:capital} does not do its share; {why}."),
    (False, False): template("headline.less_work_several", "{who:capital} do not do their share; {why}."),
}
"""By whether they are dead, and whether it is one."""


def headline(verdict: Verdict, measured: Sequence[Measured], engine: Engine) -> Message:
    """One sentence.

    Parameters
    ----------
    verdict : Verdict
    measured : sequence of Measured
        Unusable ones included.
    engine : Engine

    Returns
    -------
    Message
    """
    usable = [m for m in measured if m.usable]
    if verdict.contradiction:
        return CONTRADICTS
    if verdict.status is Status.INCONCLUSIVE and not usable:
        return NOTHING_BELIEVED if measured else NOTHING_MEASURED
    if verdict.accuses and (verdict.cause is not Cause.MECHANICAL or verdict.cause_open):
        return _works_less(verdict, usable, engine)
    if verdict.accuses:
        return _does_not_seal(verdict, usable, engine)
    if verdict.rivals:
        return MAY_BE_LOW(who=WHO(cylinders=verdict.rivals))
    lines = lines_of(usable)
    if WORK in lines:
        return EVEN_AND_WORKING if sealing_tested(usable, engine) else WORKING
    return EVEN


def _does_not_seal(verdict: Verdict, usable: Sequence[Measured], engine: Engine) -> Message:
    if not verdict.cylinders:
        some = 1 < len(verdict.rivals) < engine.cylinders
        return ONE_OF_LEAKS(rivals=verdict.rivals) if some else SOME_LEAK
    who, one = WHO(cylinders=verdict.cylinders), len(verdict.cylinders) == 1
    if all(state_of(c, usable) is State.ABSENT for c in verdict.cylinders):
        return (DEAD_HOLE if one else DEAD_HOLES)(who=who)
    return (LEAKS if one else LEAK)(who=who)


def _works_less(verdict: Verdict, usable: Sequence[Measured], engine: Engine) -> Message:
    """The headline of a cylinder that does not do its share for another reason than sealing, or for an open one."""
    why = CAUSES.get(verdict.cause, STILL_OPEN)
    if verdict.faults:
        named = tuple(dict.fromkeys(FAULTS[f].words for f in verdict.faults))
        why = CAUSE_AND_FAULT(cause=why, faults=named)
    if verdict.cause_open:
        why = STILL_OPEN
    if not verdict.cylinders:
        some = 1 < len(verdict.rivals) < engine.cylinders
        return ONE_OF_WORKS_LESS(rivals=verdict.rivals, why=why) if some else SOME_WORK_LESS(why=why)
    dead = all(state_of(c, usable) is State.ABSENT for c in verdict.cylinders)
    return WORK_OF[dead, len(verdict.cylinders) == 1](who=WHO(cylinders=verdict.cylinders), why=why)


def finding_of(cylinder: int, measured: Sequence[Measured]) -> Finding | None:
    """What speaks loudest of a cylinder: the first deviation, else the first finding."""
    found = [f for m in measured if m.usable for f in m.findings if f.cylinder == cylinder and compared(f)]
    return next((f for f in found if f.state is not State.NORMAL), found[0] if found else None)


def state_of(cylinder: int, measured: Sequence[Measured]) -> State | None:
    """Its state; None where nothing was found of it."""
    finding = finding_of(cylinder, measured)
    return finding.state if finding else None

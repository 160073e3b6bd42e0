"""The headline: who, how firmly, and why, in one sentence.

From the verdict and the measurements; it goes to the statement.
"""

from __future__ import annotations

from collections.abc import Sequence

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message, joined
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.accusations import (
    SEALING,
    WORK,
    accused_in,
    accused_in_any,
    compared,
    lines_of,
    sealing_tested,
    stands_out,
)
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.verdict import WANTED, Status, Verdict

CONTRADICTS = phrase("headline.contradicts", "The evidence contradicts itself.")
NOTHING_BELIEVED = phrase("headline.nothing_believed", "Nothing can be said yet: no capture so far can be believed.")
NOTHING_MEASURED = phrase("headline.nothing_measured", "Nothing was measured yet.")
WHO = template("headline.who", "{cylinders:cylinders}")
TITLE = template("headline.title", "{title:lower}")
DEAD_HOLE = template("headline.dead_hole", "{who:capital} does not seal: hardly any compression.")
DEAD_HOLES = template("headline.dead_holes", "{who:capital} do not seal: hardly any compression.")
LEAKS = template("headline.leaks", "{who:capital} does not compress like the others.")
LEAK = template("headline.leak", "{who:capital} do not compress like the others.")
ONE_OF_LEAKS = template("headline.one_of_leaks", "Cylinder {rivals:or} does not seal; which of them is still open.")
SOME_LEAK = phrase("headline.some_leak", "A cylinder does not seal; which one is still open.")
MAY_BE_LOW = template("headline.may_be_low", "{who:capital} may be low, but not clearly.")
ONE_READING, READINGS = phrase("headline.one_reading", "one reading"), template("headline.readings", "{count} readings")
STANDS_OUT = {
    True: template(
        "headline.stands_out_one", "{who:capital} stands out in {readings} ({tests:and}): not enough to accuse it."
    ),
    False: template(
        "headline.stands_out_several",
        "{who:capital} stand out in {readings} ({tests:and}): not enough to accuse them.",
    ),
}
STANDS_IN = {
    True: template("headline.stands_in_one", "{who:capital} stands out in {tests:and}; why is still open."),
    False: template("headline.stands_in_several", "{who:capital} stand out in {tests:and}; why is still open."),
}
WHOLE_ENGINE = phrase("headline.whole_engine", "the whole engine")
WHOLE_STANDS = template("headline.whole_stands", "{tests:capital}: the whole engine stands out, and no cylinder of it.")
ALIKE_BUT = template(
    "headline.alike_but",
    "{alike:and} says that all cylinders are alike; {other:and} names {who}. The first is believed.",
)
WHICH_AND_WHY = phrase("headline.which_and_why", "A cylinder does not do its share; which one and why are still open.")
SOMETHING = phrase("headline.something", "Something stands out; which cylinder it is stays open.")
NOT_ALL_READ = phrase(
    "headline.not_all_read", "Nothing stands out in what could be read; not everything could be read."
)
NO_START_YET = phrase("headline.no_start_yet", "It does not start, and nothing that was tested so far shows why.")
NOT_YET_TOLD = phrase(
    "headline.not_yet_told",
    "Nothing stands out so far, but what was measured cannot tell the likeliest faults from none.",
)
REASON_OF = template("headline.reason_of", "{who:capital}: {why}.")
ALIKE_IN = template("headline.alike_in", "All cylinders are alike in {tests:and}: no cylinder is accused.")
SOUND_IN = template("headline.sound_in", "Nothing was found in {tests:and}: no cylinder is accused.")
LESS_SURE = template("headline.less_sure", "Cylinder {rivals:or} is suspected; which of them is still open.")
EVEN_AND_WORKING = phrase(
    "headline.even_and_working", "Compression is even and all cylinders work alike: no cylinder is accused."
)
WORKING = phrase("headline.working", "All cylinders work alike: no cylinder is accused.")
EVEN = phrase("headline.even", "Compression is even: no cylinder is accused.")
CAUSES = {
    Cause.IGNITION: phrase("headline.ignition", "the reason is ignition"),
    Cause.FUEL: phrase("headline.fuel", "the reason is fuel"),
    Cause.CONTROL: phrase("headline.control", "the reason is control"),
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
    if verdict.status is Status.INCONCLUSIVE:
        return _undecided(verdict, usable)
    return _nobody(usable, engine)


def _undecided(verdict: Verdict, usable: Sequence[Measured]) -> Message:
    """Somebody may be ill, or something could not be read: neither accused nor cleared."""
    if not verdict.rivals:
        odd = [m for m in usable if any(stands_out(f) for f in m.findings if compared(f))]
        if any(_works(m) for m in odd):
            return WHICH_AND_WHY
        if odd and all(not m.lines for m in odd):
            return WHOLE_STANDS(tests=joined(*_titles(odd), by=", "))
        if odd:
            return SOMETHING
        wanted = next((c.words for c in verdict.conditions if c.id == "evidence"), WANTED["telling"])
        if wanted == WANTED["start"]:
            return NO_START_YET
        return NOT_YET_TOLD if wanted == WANTED["telling"] else NOT_ALL_READ
    speaking = [m for m in usable if accused_in(m) & set(verdict.rivals)]
    only_low = all(
        f.state in (State.LOW, State.NORMAL) for m in speaking for f in m.findings if f.cylinder in verdict.rivals
    )
    who = WHO(cylinders=verdict.rivals)
    if only_low and all(_compares(m) for m in speaking):
        return MAY_BE_LOW(who=who)
    readings = ONE_READING if len(speaking) == 1 else READINGS(count=len(speaking))
    return STANDS_OUT[len(verdict.rivals) == 1](who=who, readings=readings, tests=_titles(speaking))


def _nobody(usable: Sequence[Measured], engine: Engine) -> Message:
    """What was tested, and nothing else, is said to be in order."""
    lines = lines_of(usable)
    sealing = sealing_tested(usable, engine)
    odd = [m for m in usable if any(stands_out(f) and f.cylinder is not None for f in m.findings)]
    if odd:
        who = tuple(sorted({f.cylinder for m in odd for f in m.findings if stands_out(f) and f.cylinder}))
        alike = [m for m in usable if m not in odd and m.lines]
        return ALIKE_BUT(alike=_titles(alike), other=_titles(odd), who=WHO(cylinders=who))
    if engine.cylinders == 1:
        return SOUND_IN(tests=_titles(usable))
    if WORK in lines:
        return EVEN_AND_WORKING if sealing else WORKING
    if sealing:
        return EVEN
    return (ALIKE_IN if lines else SOUND_IN)(tests=_titles(usable))


def _titles(measured: Sequence[Measured]) -> tuple[Message, ...]:
    return tuple(dict.fromkeys(TITLE(title=SPECS[m.test].title) for m in measured if m.test in SPECS))


def _works(measured: Measured) -> bool:
    return any(line.line in (WORK, "EX") for line in measured.lines)


def _compares(measured: Measured) -> bool:
    """Whether a measurement speaks of sealing or of work."""
    return any(line.line in (*SEALING, WORK, "EX") for line in measured.lines)


def _does_not_seal(verdict: Verdict, usable: Sequence[Measured], engine: Engine) -> Message:
    if not verdict.cylinders and not _somebody_leaks(usable):
        return _works_less(verdict, usable, engine)
    if not verdict.cylinders:
        some = 1 < len(verdict.rivals) < engine.cylinders
        return ONE_OF_LEAKS(rivals=verdict.rivals) if some else SOME_LEAK
    who, one = WHO(cylinders=verdict.cylinders), len(verdict.cylinders) == 1
    sealing = [m for m in usable if any(line.line in SEALING for line in m.lines)]
    states = [state_of(c, sealing) for c in verdict.cylinders]
    if states and all(s is State.ABSENT for s in states):
        return (DEAD_HOLE if one else DEAD_HOLES)(who=who)
    if all(s in (State.LOW, State.ABSENT) for s in states):
        return (LEAKS if one else LEAK)(who=who)
    return _works_less(verdict, usable, engine)


def _works_less(verdict: Verdict, usable: Sequence[Measured], engine: Engine) -> Message:
    """The headline of a cylinder that does not do its share for another reason than sealing, or for an open one."""
    why = CAUSES.get(verdict.cause, STILL_OPEN)
    if verdict.faults:
        named = tuple(dict.fromkeys(FAULTS[f].words for f in verdict.faults))
        why = CAUSE_AND_FAULT(cause=why, faults=named)
    if verdict.cause_open:
        why = STILL_OPEN
    working = [m for m in usable if _works(m)]
    if not verdict.cylinders:
        return _somebody(verdict, usable, engine, why)
    states = [state_of(c, working) for c in verdict.cylinders]
    one = len(verdict.cylinders) == 1
    whole = len(verdict.cylinders) == engine.cylinders > 1
    who = WHOLE_ENGINE if whole else WHO(cylinders=verdict.cylinders)
    one = one or whole
    if all(s is State.ABSENT for s in states):
        return WORK_OF[True, one](who=who, why=why)
    if all(s in (State.ABSENT, State.LOW, State.ABNORMAL) for s in states):
        return WORK_OF[False, one](who=who, why=why)
    if why is not STILL_OPEN:
        return REASON_OF(who=who, why=why)
    odd = [m for m in usable if any(stands_out(f) for f in m.findings)]
    return STANDS_IN[one](who=who, tests=_titles(odd))


def _somebody(verdict: Verdict, usable: Sequence[Measured], engine: Engine, why: Message) -> Message:
    """Somebody is ill and no cylinder is clear: who was named at least, or who remains."""
    some = 1 < len(verdict.rivals) < engine.cylinders
    working = [m for m in usable if _works(m)]
    if any(stands_out(f) for m in working for f in m.findings if compared(f)):
        if some:
            return ONE_OF_WORKS_LESS(rivals=verdict.rivals, why=why)
        return WHICH_AND_WHY if why is STILL_OPEN else SOME_WORK_LESS(why=why)
    named = tuple(sorted(accused_in_any(usable)))
    if named:
        speaking = [m for m in usable if accused_in(m)]
        return STANDS_IN[len(named) == 1](who=WHO(cylinders=named), tests=_titles(speaking))
    return LESS_SURE(rivals=verdict.rivals) if some else SOMETHING


def _somebody_leaks(usable: Sequence[Measured]) -> bool:
    """Whether a comparison of sealing found somebody, named or not."""
    return any(
        f.state in (State.LOW, State.ABSENT, State.ABNORMAL)
        for m in usable
        if any(line.line in SEALING for line in m.lines)
        for f in m.findings
        if compared(f)
    )


def finding_of(cylinder: int, measured: Sequence[Measured]) -> Finding | None:
    """What speaks loudest of a cylinder: the first deviation, else the first finding."""
    found = [f for m in measured if m.usable for f in m.findings if f.cylinder == cylinder and compared(f)]
    return next((f for f in found if f.state is not State.NORMAL), found[0] if found else None)


def state_of(cylinder: int, measured: Sequence[Measured]) -> State | None:
    """Its state; None where nothing was found of it."""
    finding = finding_of(cylinder, measured)
    return finding.state if finding else None

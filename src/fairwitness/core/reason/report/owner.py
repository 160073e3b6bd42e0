"""The same statement for the owner: no trade words, nothing left out that matters."""

from __future__ import annotations

from collections.abc import Sequence

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.measurement import Measured
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.verdict import Status, Verdict

CAUSES = {
    Cause.IGNITION: phrase(
        "owner.ignition", "the fault is in the ignition: plug, lead, coil, their wiring or what commands them"
    ),
    Cause.FUEL: phrase("owner.fuel", "the fault is in the fuel side: injector, its wiring and command, or the supply"),
    Cause.MECHANICAL: phrase("owner.mechanical", "the fault is inside the engine itself, not in the electrics"),
    Cause.CONTROL: phrase(
        "owner.control", "the fault is on the control side: the engine computer, its supply or its signals"
    ),
}
NOT_CLEAR = phrase("owner.not_clear", "why is not clear yet")
SURE = {
    Status.ESTABLISHED: phrase(
        "owner.established", "Different tests agree, and the other explanations were ruled out."
    ),
    Status.SUPPORTED: phrase(
        "owner.supported", "More than one test shows it; which part exactly still has to be proven."
    ),
    Status.SUSPECTED: phrase(
        "owner.suspected", "One test shows it; a second one has to confirm it before anything is bought."
    ),
}
LOOKED_AT = {
    "RC": phrase("owner.looked_at.sealing", "how well the cylinders seal"),
    "CON": phrase("owner.looked_at.work", "how much work each one does"),
    "FV": phrase("owner.looked_at.sparks", "the sparks"),
    "IC": phrase("owner.looked_at.injectors", "the injectors' current"),
    "CP": phrase("owner.looked_at.pressure", "the pressure inside"),
}
WE_LOOKED = template("owner.we_looked", "We looked at {what:and}.")
ONE_MISSING = phrase("owner.one_missing", "Before a part is ordered one thing has still to be seen.")
MISSING = template("owner.missing", "Before a part is ordered {count} things have still to be seen.")
NEXT_STEP = template("owner.next_step", "Next step: {title:lower}.")
NOTHING_WRONG = phrase(
    "owner.nothing_wrong",
    "Nothing wrong was found in what was tested today. A fault that comes and goes may not have shown itself.",
)
NO_ANSWER = phrase(
    "owner.no_answer",
    "The tests so far do not allow an answer; guessing would cost you parts that change nothing.",
)
ONE_OF_THEM = phrase("owner.one_of_them", "One of the cylinders")
WHO = {False: template("owner.who", "Cylinder {cylinders:and}"),
       True: template("owner.who_of_several", "Cylinders {cylinders:and}")}  # fmt: skip
SHARE = {False: template("owner.share", "{who} of the engine does not do its share{why}."),
         True: template("owner.share_of_several", "{who} of the engine do not do their share{why}.")}  # fmt: skip
WHOLE = template("owner.whole", "The engine as a whole is affected{why}.")
UNCLEAR = phrase("owner.unclear", "; why is not clear yet")
BECAUSE = template("owner.because", ", because {reasons:and}")
PROBABLY = template("owner.probably", "; most likely {reasons:and}")
PERHAPS = template("owner.perhaps", "; it may be that {reasons:and}")
BY_CAUSE = template("owner.by_cause", ": {cause}")


def for_the_owner(
    verdict: Verdict, measured: Sequence[Measured], next_title: Message, cylinders: int = 0
) -> tuple[Message, ...]:
    """Plain sentences: what is wrong, how sure, what was looked at, what comes next.

    Parameters
    ----------
    verdict : Verdict
    measured : sequence of Measured
    next_title : Message
        The next test, where one is offered.
    cylinders : int
        How many the engine has.

    Returns
    -------
    tuple of Message
    """
    looked = tuple(words for line, words in LOOKED_AT.items() if any(e.line == line for m in measured for e in m.lines))
    said = [_what(verdict, cylinders)]
    if verdict.status in SURE:
        said.append(SURE[verdict.status])
    if looked:
        said.append(WE_LOOKED(what=looked))
    missing = sum(not c.met for c in verdict.conditions)
    if missing and verdict.status in SURE:
        said.append(ONE_MISSING if missing == 1 else MISSING(count=missing))
    if next_title and verdict.status is not Status.ESTABLISHED:
        said.append(NEXT_STEP(title=next_title))
    return tuple(said)


def _what(verdict: Verdict, cylinders: int) -> Message:
    if verdict.status is Status.NO_FAULT_FOUND:
        return NOTHING_WRONG
    if verdict.status is Status.INCONCLUSIVE:
        return NO_ANSWER
    several = len(verdict.cylinders) > 1
    if len(verdict.cylinders) == cylinders > 1:
        return WHOLE(why=_why(verdict, several=False))
    who = WHO[several](cylinders=verdict.cylinders) if verdict.cylinders else ONE_OF_THEM
    return SHARE[several](who=who, why=_why(verdict, several=several))


def _why(verdict: Verdict, *, several: bool) -> Message:
    if verdict.cause_open:
        return UNCLEAR
    if verdict.faults:
        reasons = dict.fromkeys(FAULTS[fault].owner_words(several=several) for fault in verdict.faults)
        by_status = {Status.ESTABLISHED: BECAUSE, Status.SUPPORTED: PROBABLY}
        return by_status.get(verdict.status, PERHAPS)(reasons=tuple(reasons))
    return BY_CAUSE(cause=CAUSES.get(verdict.cause, NOT_CLEAR))

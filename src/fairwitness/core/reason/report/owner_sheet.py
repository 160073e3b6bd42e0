"""What the owner's sheet says beside the plain statement: what was looked at, what is open, what to watch.

From the diagnosis and the remedies; goes to the sheet. Nothing here is new: it is what the statement says, for somebody
who never held a clamp.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.measurement import Measured
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.remedies import REMEDIES
from fairwitness.core.reason.phases.repair_proof import Proof, ProofStatus
from fairwitness.core.reason.planning.plan_records import Plan
from fairwitness.core.reason.report.statement import NOT_WHEN, Statement
from fairwitness.core.reason.verdict import Status, Verdict

OPEN_LISTED = 3
CHECKED_LISTED = 8
"""Kinds of tests told on one page; the annex has them all."""
MORE_CHECKED = template("sheet.more_checked", "and {count} more, listed in the annex")
NOT_LOOKED_AT = template("sheet.not_looked_at", "Not looked at yet: {what:and}.")
NOT_CERTAIN = phrase(
    "sheet.not_certain", "It is not proven. Another explanation is possible until the next step is done."
)
BEFORE_THE_REPAIR = template("sheet.before_the_repair", "Before the repair: {what:lower}")
NOT_ELSEWHERE = phrase(
    "sheet.not_elsewhere",
    "Only what the complaint asked for was tested; other parts of the vehicle were not looked at.",
)
NOT_THERE = phrase("sheet.not_there", "A fault that comes and goes may have been absent while we looked.")
IF_LEFT = template("sheet.if_left", "If it is left as it is: {what}.")
LAMP_BLINKS = phrase(
    "sheet.lamp_blinks", "If the engine lamp blinks while driving, stop as soon as it is safe and call us."
)
COMES_BACK = phrase(
    "sheet.comes_back",
    "If the same trouble comes back after the repair, tell us when and how: we have today's figures.",
)
MAKERS_WAY = phrase(
    "sheet.makers_way",
    "Work on ignition, fuel and the inside of an engine can injure: it belongs in trained hands, by the maker's book.",
)
NO_CRANKING = phrase("sheet.no_cranking", "Do not keep cranking an engine that does not start: it can be damaged.")


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnerSheet:
    """Plain sentences in the sections of the sheet.

    Parameters
    ----------
    found, checked, open, watch, cautions : tuple of Message
        What was found and how sure it is; what was looked at; what is not known; what to watch; what may hurt.
    """

    found: tuple[Message, ...]
    checked: tuple[Message, ...]
    open: tuple[Message, ...]
    watch: tuple[Message, ...]
    cautions: tuple[Message, ...]


def owner_sheet(
    verdict: Verdict,
    statement: Statement,
    measured: Sequence[Measured],
    plan: Plan,
    *,
    starts: bool = True,
    repairs: Sequence[Proof] = (),
) -> OwnerSheet:
    """Say it all for the owner.

    Parameters
    ----------
    verdict : Verdict
    statement : Statement
        Its plain sentences lead.
    measured : sequence of Measured
    plan : Plan
    starts : bool
        The engine starts.
    repairs : sequence of Proof
        What the tests after each repair say of it; the last one leads the page.

    Returns
    -------
    OwnerSheet
    """
    usable = {m.test for m in measured if m.usable and m.test in SPECS}
    proof = tuple(p.words for p in repairs[-1:])
    proven = bool(repairs) and repairs[-1].status is ProofStatus.PROVEN
    said = tuple(m for m in statement.owner if m.id != "owner.we_looked")
    return OwnerSheet(
        found=(*proof, BEFORE_THE_REPAIR(what=said[0])) if proven else (*proof, *said),
        checked=_checked(usable),
        open=(NOT_ELSEWHERE,) if proven else _open(verdict, statement, plan, usable),
        watch=(LAMP_BLINKS, COMES_BACK) if proven else _watch(verdict),
        cautions=(MAKERS_WAY,) if starts else (NO_CRANKING, MAKERS_WAY),
    )


def _checked(usable: set[str]) -> tuple[Message, ...]:
    """What was looked at, in the order of the board; the rest of many is counted."""
    looked = tuple(spec.owner for spec in sorted(SPECS.values(), key=lambda s: s.place) if spec.id in usable)
    if len(looked) <= CHECKED_LISTED:
        return looked
    return (*looked[: CHECKED_LISTED - 1], MORE_CHECKED(count=len(looked) - CHECKED_LISTED + 1))


def _open(verdict: Verdict, statement: Statement, plan: Plan, usable: set[str]) -> tuple[Message, ...]:
    """What is not known, and by what it could be."""
    said: list[Message] = []
    if verdict.accuses and verdict.status is not Status.ESTABLISHED:
        said.append(NOT_CERTAIN)
    left = dict.fromkeys(SPECS[o.test].owner for o in plan.offers if o.test in SPECS and o.test not in usable)
    if left and verdict.status is not Status.ESTABLISHED:
        said.append(NOT_LOOKED_AT(what=tuple(left)[:OPEN_LISTED]))
    said += [s.text for s in statement.not_seen if s.text.id == NOT_WHEN.id]
    said.append(NOT_THERE if verdict.status is Status.NO_FAULT_FOUND else NOT_ELSEWHERE)
    return tuple(said)


def _watch(verdict: Verdict) -> tuple[Message, ...]:
    """What follows where it is left, and when to come back."""
    left = next((REMEDIES[FAULTS[f].remedy].nothing for f in verdict.faults if FAULTS[f].remedy), NOTHING)
    said = (IF_LEFT(what=left) if left else NOTHING, LAMP_BLINKS, COMES_BACK)
    return tuple(m for m in said if m)

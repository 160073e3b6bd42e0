"""Whether a repair cured it: the tests that showed the trouble, taken again, cylinder by cylinder beside before.

From the same tests of both states; goes to the statement, the board and the status of the case. Proven is said only
where every test that is needed was repeated, who was off is off no more, and nobody else is.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.circumstances import Circumstances
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured
from fairwitness.core.model.phase import PartState, Phase
from fairwitness.core.model.phase_words import PART_WORDS
from fairwitness.core.procedures.specs import OFFERS, SPECS
from fairwitness.core.reason.accusations import WORK, accused_in
from fairwitness.core.reason.phases.side_by_side import Pair, Share

CURED_SHARE = 0.6
"""[M] share of what was missing that must have come back before a cylinder counts as cured."""
BETTER_SHARE = 0.3
"""[M] less than this come back is what an engine changes by itself."""
CHANGED_SIGMAS = 3.0
WETTED_PARTS = ("coil", "lead", "injector", "wiring", "fuse", "relay")
"""What leaves a plug wet or sooted while it is broken."""
WORKS = (WORK, "EX")
"""Columns that show whether a cylinder works, whatever the reason."""

PROVEN = template(
    "repair_proof.proven", "The repair is proven: {tests:and} taken again, {which:cylinders} even with its peers."
)
NOT_CURED = template(
    "repair_proof.not_cured", "The repair changed nothing: {tests:and} shows {which:cylinders} as before. "
)
NEW_PART = template(
    "repair_proof.new_part",
    "Either the {part} was not it, or the part fitted is bad too: measure it beside its peers before buying another.",
)
NOT_THE_PART = template("repair_proof.not_the_part", "The {part} was not it, or not all of it.")
BETTER = template(
    "repair_proof.better",
    "Better, not cured: {tests:and} shows {which:cylinders} still off. Something is left to find.",
)
WET_PLUG = template(
    "repair_proof.wet_plug",
    "What the {part} does is in order again, and {which:cylinders} does not work yet. After a long misfire a wet or "
    "sooted plug keeps missing: dry or renew it, take {tests:and} again, then judge.",
)
SOMEBODY_ELSE = template(
    "repair_proof.somebody_else",
    "{which:cylinders} is off now and was not before: something came with the repair. Look at what was touched.",
)
STILL_TO_TAKE = template("repair_proof.still_to_take", "Not proven yet. Take again, set up as before: {tests:and}.")
NOTHING_SHOWED = phrase(
    "repair_proof.nothing_showed",
    "No test showed the trouble before the repair, so none can show that it is gone: reproduce the complaint.",
)
NOT_UNDER = template(
    "repair_proof.not_under",
    "Even now, but not tried as complained of ({under:and}): reproduce that, then it is proven.",
)


class Change(StrEnum):
    """What became of one cylinder in one test."""

    GONE = "gone"
    BETTER = "better"
    UNCHANGED = "unchanged"
    NEWLY_OFF = "newly_off"
    EVEN = "even"
    NOT_COMPARABLE = "not_comparable"


CHANGE_WORDS = {
    change: phrase(f"repair_proof.change.{change.value}", words)
    for change, words in {
        Change.GONE: "gone",
        Change.BETTER: "better",
        Change.UNCHANGED: "unchanged",
        Change.NEWLY_OFF: "off since",
        Change.EVEN: "even",
        Change.NOT_COMPARABLE: "not comparable",
    }.items()
}


class ProofStatus(StrEnum):
    """What can be said of a repair."""

    OPEN = "open"
    PROVEN = "proven"
    NOT_CURED = "not_cured"
    BETTER = "better"
    WET_PLUG = "wet_plug"
    SOMEBODY_ELSE = "somebody_else"


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """One test before and after, each cylinder's change."""

    test: str
    pair: Pair
    changes: dict[int, Change]


@dataclass(frozen=True, slots=True, kw_only=True)
class Proof:
    """One repair and what the tests after it say.

    Parameters
    ----------
    phase : Phase
    status : ProofStatus
    wanted : tuple of str
        Tests that prove it, the quickest of each kind.
    missing : tuple of str
        Of those, what was not taken again yet.
    compared : tuple of Compared
        Every test taken in both states.
    words : Message
    """

    phase: Phase
    status: ProofStatus
    wanted: tuple[str, ...]
    missing: tuple[str, ...]
    compared: tuple[Compared, ...]
    words: Message


def prove(
    phase: Phase, before: Sequence[Measured], pairs: Sequence[Pair], engine: Engine, untried: Circumstances
) -> Proof:
    """Judge one repair.

    Parameters
    ----------
    phase : Phase
        A repair.
    before : sequence of Measured
        Usable, of the state it was done in.
    pairs : sequence of Pair
        Tests taken in both states.
    engine : Engine
    untried : Circumstances
        Conditions of the complaint that nothing was taken under since.

    Returns
    -------
    Proof
    """
    wanted = wanted_tests(before)
    compared = tuple(Compared(test=p.test, pair=p, changes=changes_of(p)) for p in pairs)
    usable = {c.test: c for c in compared if c.pair.comparable}
    missing = tuple(t for t in wanted if t not in usable)
    status, words = _judged(phase, [usable[t] for t in wanted if t in usable], usable, missing)
    if not wanted:
        words = NOTHING_SHOWED
    elif status is ProofStatus.PROVEN and untried:
        status, words = ProofStatus.OPEN, NOT_UNDER(under=untried.words)
    return Proof(phase=phase, status=status, wanted=wanted, missing=missing, compared=compared, words=words)


def wanted_tests(before: Sequence[Measured]) -> tuple[str, ...]:
    """The smallest set that proves a repair: what showed that a cylinder does not work, and what showed why.

    Parameters
    ----------
    before : sequence of Measured
        Usable, of the state before the repair.

    Returns
    -------
    tuple of str
        The quickest of each kind; empty where no test named a cylinder.
    """
    work: list[str] = []
    why: list[str] = []
    for m in before:
        if m.usable and accused_in(m) and m.test in OFFERS and not OFFERS[m.test].per_cylinder:
            columns = {line.line for line in m.lines}
            (work if columns & set(WORKS) else why).append(m.test)
    quickest = [min(group, key=lambda t: (OFFERS[t].minutes, SPECS[t].place)) for group in (work, why) if group]
    return tuple(quickest)


def changes_of(pair: Pair) -> dict[int, Change]:
    """What became of each cylinder between two measurements of one test."""
    changes = {}
    for cylinder, after in pair.shares_after.items():
        before = pair.shares_before.get(cylinder)
        if before is None or not pair.comparable:
            changes[cylinder] = Change.NOT_COMPARABLE
        elif not before.ill:
            changes[cylinder] = Change.NEWLY_OFF if after.ill else Change.EVEN
        else:
            changes[cylinder] = _of_who_was_off(before, after)
    return changes


def _of_who_was_off(before: Share, after: Share) -> Change:
    if math.isnan(before.share) or math.isnan(after.share):
        return Change.UNCHANGED if after.ill else Change.GONE
    back = (abs(1.0 - before.share) - abs(1.0 - after.share)) / max(abs(1.0 - before.share), 1e-6)
    if not after.ill and back >= CURED_SHARE:
        return Change.GONE
    sigma = math.hypot(before.sigma, after.sigma)
    moved = abs(after.share - before.share) > CHANGED_SIGMAS * sigma
    return Change.BETTER if back >= BETTER_SHARE and moved else Change.UNCHANGED


def _judged(
    phase: Phase, repeated: Sequence[Compared], usable: dict[str, Compared], missing: tuple[str, ...]
) -> tuple[ProofStatus, Message]:
    """The status and its words, the worst first: nothing good is said while something speaks against it."""
    titles = _titles(c.test for c in repeated)
    off = {
        c: [k.test for k in repeated if k.changes.get(c) in (Change.UNCHANGED, Change.BETTER)] for c in _all(repeated)
    }
    off = {c: tests for c, tests in off.items() if tests}
    newly = tuple(sorted({c for k in usable.values() for c, how in k.changes.items() if how is Change.NEWLY_OFF}))
    if off and _may_be_wet(phase, repeated, off):
        return ProofStatus.WET_PLUG, WET_PLUG(
            part=_part(phase), which=tuple(sorted(off)), tests=_titles(_works(repeated))
        )
    if off:
        better = all(k.changes.get(c) is not Change.UNCHANGED for k in repeated for c in off)
        which, shown = tuple(sorted(off)), _titles(dict.fromkeys(t for tests in off.values() for t in tests))
        if better:
            return ProofStatus.BETTER, BETTER(tests=shown, which=which)
        return ProofStatus.NOT_CURED, NOT_CURED(tests=shown, which=which) + _which_part(phase)
    if newly:
        return ProofStatus.SOMEBODY_ELSE, SOMEBODY_ELSE(which=newly)
    if missing or not repeated:
        return ProofStatus.OPEN, STILL_TO_TAKE(tests=_titles(missing)) if missing else NOTHING
    cured = tuple(sorted({c for k in repeated for c, how in k.changes.items() if how is Change.GONE}))
    return ProofStatus.PROVEN, PROVEN(tests=titles, which=cured)


def _may_be_wet(phase: Phase, repeated: Sequence[Compared], off: dict[int, list[str]]) -> bool:
    """Whether only the work of the cylinder is missing, while what showed the reason is in order or has changed."""
    if phase.part not in WETTED_PARTS:
        return False
    why = [k for k in repeated if k.test not in _works(repeated)]
    if not why:
        return False
    return all(_otherwise(k, c) for k in why for c in off)


def _otherwise(compared: Compared, cylinder: int) -> bool:
    """Whether a test of the reason says something else of a cylinder than before."""
    before, after = (shares.get(cylinder) for shares in (compared.pair.shares_before, compared.pair.shares_after))
    if before is None or after is None or not before.ill:
        return True
    if math.isnan(before.share) or math.isnan(after.share):
        return not after.ill
    return abs(after.share - before.share) > CHANGED_SIGMAS * math.hypot(before.sigma, after.sigma)


def _works(repeated: Sequence[Compared]) -> list[str]:
    return [k.test for k in repeated if {line.line for line in k.pair.after.lines} & set(WORKS)]


def _all(repeated: Sequence[Compared]) -> list[int]:
    return sorted({c for k in repeated for c in k.changes})


def _which_part(phase: Phase) -> Message:
    fitted = phase.fitted in (PartState.NEW, PartState.USED, PartState.OTHER_MAKE)
    return (NEW_PART if fitted else NOT_THE_PART)(part=_part(phase))


def _part(phase: Phase) -> Message:
    return PART_WORDS[phase.part or "other"]


def _titles(tests: Iterable[str]) -> tuple[Message, ...]:
    return tuple(SPECS[t].title for t in tests)

"""Whether a repair cured it: the tests that showed the trouble, taken again, cylinder by cylinder beside before.

From the same tests of both states; goes to the statement, the board and the status of the case. Proven is said only
where every test that is needed was repeated, who was off is off no more, and nobody else is.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.circumstances import Circumstances
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.phase import PartState, Phase
from fairwitness.core.model.phase_words import PART_WORDS
from fairwitness.core.procedures.specs import OFFERS, SPECS
from fairwitness.core.reason.accusations import WORK, accused_in, deviates
from fairwitness.core.reason.phases.side_by_side import Pair, Share

CURED_SHARE = 0.6
"""[M] share of what was missing that must have come back before a cylinder counts as cured."""
BETTER_SHARE = 0.3
"""[M] less than this come back is what an engine changes by itself."""
NEWLY_SHARE = 0.12
"""[M] a share that moved less than this between two runs moved by itself."""
SPARKS = "secondary_voltage"
OFFERED_SPARKS = OFFERS[SPARKS]
PLUG_SEEN, WET_LOOKS = "visual:plug", ("wet", "fouled")
WETTED_PARTS = ("coil", "lead", "injector", "wiring", "fuse", "relay")
"""What leaves a plug wet or sooted while it is broken."""
WORKS = (WORK, "EX")
"""Columns that show whether a cylinder works, whatever the reason."""

PROVEN = template(
    "repair_proof.proven", "The repair is proven: {which:cylinders} even with the peers in {tests:and}, taken again."
)
NOT_CURED = template(
    "repair_proof.not_cured", "The repair changed nothing: {which:cylinders} as before in {tests:and}. "
)
NEW_PART = template(
    "repair_proof.new_part",
    "Either the {part} was not it, or the part fitted is bad too: measure it beside its peers before buying another.",
)
NOT_THE_PART = template("repair_proof.not_the_part", "The {part} was not it, or not all of it.")
BETTER = template(
    "repair_proof.better", "Better, not cured: {which:cylinders} still off in {tests:and}. Something is left to find."
)
WET_PLUG = template(
    "repair_proof.wet_plug",
    "What the {part} does is in order, and {which:cylinders} does not work yet. After a long misfire a wet or sooted "
    "plug keeps missing: dry or renew it, take {tests:and} again, then judge.",
)
PERHAPS_WET = template(
    "repair_proof.perhaps_wet",
    "Still not working: {which:cylinders}. A plug that stayed wet after a long misfire looks the same: look at it or "
    "take {tests:and}, then judge.",
)
SOMEBODY_ELSE = template(
    "repair_proof.somebody_else",
    "Off now and not before: {which:cylinders}. Something came with the repair; look at what was touched.",
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
TITLE = template("repair_proof.title", "{title:lower}")


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
    phase: Phase,
    states: tuple[Sequence[Measured], Sequence[Measured]],
    pairs: Sequence[Pair],
    engine: Engine,
    untried: Circumstances,
) -> Proof:
    """Judge one repair.

    Parameters
    ----------
    phase : Phase
        A repair.
    states : two sequences of Measured
        Of the state it was done in, and of the one after.
    pairs : sequence of Pair
        Tests taken in both states.
    engine : Engine
    untried : Circumstances
        Conditions of the complaint that nothing was taken under since.

    Returns
    -------
    Proof
    """
    before, after = states
    wanted = wanted_tests(before)
    compared = tuple(Compared(test=p.test, pair=p, changes=changes_of(p)) for p in pairs)
    usable = {c.test: c for c in compared if c.pair.comparable}
    repeated = [usable[t] for t in wanted if t in usable]
    seen = _Seen(
        phase=phase,
        engine=engine,
        trouble=_trouble(phase, repeated),
        repeated=repeated,
        usable=usable,
        missing=tuple(t for t in wanted if t not in usable),
        after=after,
    )
    status, words, missing = _judged(seen)
    if not wanted:
        words = NOTHING_SHOWED
    elif status is ProofStatus.PROVEN and untried:
        status, words = ProofStatus.OPEN, NOT_UNDER(under=untried.words)
    return Proof(phase=phase, status=status, wanted=wanted, missing=missing, compared=compared, words=words)


def _trouble(phase: Phase, repeated: Sequence[Compared]) -> frozenset[int]:
    """Who the repair is about: who did not work before, and where the part sits; else whoever was accused."""
    idle = {c for k in repeated if _is_work(k) for c in k.pair.ill_before}
    accused = {c for k in repeated for c in k.pair.ill_before}
    return frozenset((idle | (accused & set(phase.cylinders))) or accused)


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
            changes[cylinder] = Change.NEWLY_OFF if _newly_off(before, after) else Change.EVEN
        else:
            changes[cylinder] = _of_who_was_off(before, after)
    return changes


def _of_who_was_off(before: Share, after: Share) -> Change:
    if math.isnan(before.share) or math.isnan(after.share) or not before.share_tells:
        return Change.UNCHANGED if after.ill else Change.GONE
    back = 1.0 - abs(1.0 - after.share) / abs(1.0 - before.share)
    if not after.ill and back >= CURED_SHARE:
        return Change.GONE
    return Change.BETTER if back >= BETTER_SHARE and after.otherwise_than(before) else Change.UNCHANGED


def _newly_off(before: Share, after: Share) -> bool:
    """Whether somebody sound before is accused now, for more than an engine changes by itself."""
    if not after.ill:
        return False
    return math.isnan(before.share) or math.isnan(after.share) or abs(after.share - before.share) >= NEWLY_SHARE


@dataclass(frozen=True, slots=True, kw_only=True)
class _Seen:
    """What there is to judge a repair by."""

    phase: Phase
    engine: Engine
    trouble: frozenset[int]
    """Cylinders the repair is about."""
    repeated: Sequence[Compared]
    """The tests that prove it, as far as they were taken again."""
    usable: Mapping[str, Compared]
    missing: tuple[str, ...]
    after: Sequence[Measured]

    def off(self, among: Iterable[Compared]) -> tuple[int, ...]:
        """Cylinders of the trouble that some tests still speak against."""
        still = (Change.UNCHANGED, Change.BETTER)
        return tuple(sorted({c for k in among for c in self.trouble if k.changes.get(c) in still}))


def _judged(seen: _Seen) -> tuple[ProofStatus, Message, tuple[str, ...]]:
    """Status, words, and what is to be taken; nothing good is said while something speaks against it."""
    off = seen.off(seen.repeated)
    if off and seen.phase.part in WETTED_PARTS and (wet := _wet(seen, off)) is not None:
        return wet
    if off:
        tests = _titles(k.test for k in seen.repeated if seen.off([k]))
        changes = [k.changes[c] for k in seen.repeated for c in off if c in k.changes]
        if Change.UNCHANGED not in changes:
            return ProofStatus.BETTER, BETTER(tests=tests, which=off), seen.missing
        return ProofStatus.NOT_CURED, NOT_CURED(tests=tests, which=off) + _which_part(seen.phase), seen.missing
    newly = {c for k in seen.usable.values() for c, how in k.changes.items() if how is Change.NEWLY_OFF}
    if newly:
        return ProofStatus.SOMEBODY_ELSE, SOMEBODY_ELSE(which=tuple(sorted(newly))), seen.missing
    if seen.missing or not seen.repeated:
        words = STILL_TO_TAKE(tests=_titles(seen.missing)) if seen.missing else NOTHING
        return ProofStatus.OPEN, words, seen.missing
    cured = tuple(sorted({c for k in seen.repeated for c, how in k.changes.items() if how is Change.GONE}))
    return ProofStatus.PROVEN, PROVEN(tests=_titles(k.test for k in seen.repeated), which=cured), ()


def _wet(seen: _Seen, off: tuple[int, ...]) -> tuple[ProofStatus, Message, tuple[str, ...]] | None:
    """Whether a plug that stayed wet explains that a cylinder still does not work; None where it does not."""
    works = [k for k in seen.repeated if _is_work(k)]
    reasons = [k for k in seen.usable.values() if not _is_work(k) and k.test != SPARKS]
    if not seen.off(works) or any(not _otherwise(k, c) for k in reasons for c in off if _was_off(k, c)):
        return None  # it works again, or the reason itself stayed as it was
    if any(k.pair.shares_after[c].ill and not _was_off(k, c) for k in reasons for c in off if c in k.changes):
        return None  # another reason than before: the part fitted
    looked = _plug_looks_wet(seen.after, off)
    words = WET_PLUG(part=_part(seen.phase), which=off, tests=_titles(k.test for k in works))
    sparks = next((m for m in reversed(seen.after) if m.test == SPARKS and m.usable), None)
    if looked or (sparks is not None and looked is None and _drowned(sparks, seen.usable.get(SPARKS), off)):
        return ProofStatus.WET_PLUG, words, seen.missing
    if looked is None and sparks is None and OFFERED_SPARKS.fits(seen.engine):
        return ProofStatus.OPEN, PERHAPS_WET(which=off, tests=_titles([SPARKS])), (SPARKS,)
    return None


def _plug_looks_wet(after: Sequence[Measured], off: tuple[int, ...]) -> bool | None:
    """What somebody saw on the plugs since; None where nobody looked."""
    seen = [s.outcome for m in after for s in m.categorical if s.kind == PLUG_SEEN and set(s.cylinders) & set(off)]
    return any(outcome in WET_LOOKS for outcome in seen) if seen else None


def _drowned(sparks: Measured, compared: Compared | None, off: tuple[int, ...]) -> bool:
    """Whether the sparks of a cylinder are there and low, as over a wet plug, and were otherwise before."""
    states = {f.cylinder: f for f in sparks.findings if f.cylinder in off and not f.is_remark}
    low = all(c in states and deviates(states[c]) and states[c].state is not State.ABSENT for c in off)
    return low and (compared is None or all(_otherwise(compared, c) or not _was_off(compared, c) for c in off))


def _otherwise(compared: Compared, cylinder: int) -> bool:
    before, after = (s.get(cylinder) for s in (compared.pair.shares_before, compared.pair.shares_after))
    return before is None or after is None or after.otherwise_than(before)


def _was_off(compared: Compared, cylinder: int) -> bool:
    before = compared.pair.shares_before.get(cylinder)
    return before is not None and before.ill


def _is_work(compared: Compared) -> bool:
    return bool({line.line for line in compared.pair.after.lines} & set(WORKS))


def _which_part(phase: Phase) -> Message:
    fitted = phase.fitted in (PartState.NEW, PartState.USED, PartState.OTHER_MAKE)
    return (NEW_PART if fitted else NOT_THE_PART)(part=_part(phase))


def _part(phase: Phase) -> Message:
    return PART_WORDS[phase.part or "other"]


def _titles(tests: Iterable[str]) -> tuple[Message, ...]:
    return tuple(TITLE(title=SPECS[t].title) for t in tests)

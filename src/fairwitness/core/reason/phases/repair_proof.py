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
from fairwitness.core.reason.accusations import accused_in, accuses, somebody_unnamed
from fairwitness.core.reason.phases.changes import WORKS, Change, Compared, changes_of, is_unsure, is_work
from fairwitness.core.reason.phases.side_by_side import Pair, is_decided, shares_of, titles

AS_BAD = 0.5
"""[M] who lacks less than this part of what the worst lacks is off because of it."""
SPARKS, WORK_TEST = "secondary_voltage", "crank_speed"
WETTED_PARTS = ("coil", "lead", "injector", "wiring", "fuse", "relay")
"""What leaves a plug wet or sooted while it is broken."""

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
SPOILT = template("repair_proof.spoilt", "Off since the repair: {which:cylinders} in {tests:and}. ")
BETTER = template(
    "repair_proof.better", "Better, not cured: {which:cylinders} still off in {tests:and}. Something is left to find."
)
WET_PLUG = template(
    "repair_proof.wet_plug",
    "Still not working: {which:cylinders}. After a long misfire a wet or sooted plug keeps missing whatever was "
    "fitted: dry or renew it, record that, take {tests:and} again, then judge.",
)
STILL_OFF = template(
    "repair_proof.still_off",
    "What was off before is in order, and {which:cylinders} does not work in {tests:and}: something is left to find.",
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


class ProofStatus(StrEnum):
    """What can be said of a repair."""

    OPEN = "open"
    PROVEN = "proven"
    NOT_CURED = "not_cured"
    BETTER = "better"
    WET_PLUG = "wet_plug"
    SOMEBODY_ELSE = "somebody_else"


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Repaired:
    """A repair with the evidence on both sides of it.

    Parameters
    ----------
    phase : Phase
    about : Phase or None
        The repair that is really judged, where this one only dried a plug.
    before, after : sequence of Measured
        Of the trouble it was done for; and since.
    runs : bool
        The engine ran, so that its work can be compared.
    untried : Circumstances
        Conditions of the complaint that nothing was taken under since.
    """

    phase: Phase
    about: Phase | None
    before: Sequence[Measured]
    after: Sequence[Measured]
    runs: bool
    untried: Circumstances


def prove(repaired: Repaired, pairs: Sequence[Pair], engine: Engine) -> Proof:
    """Judge one repair.

    Parameters
    ----------
    repaired : Repaired
    pairs : sequence of Pair
        Tests taken in both states.
    engine : Engine

    Returns
    -------
    Proof
    """
    wanted = wanted_tests(repaired.before, engine, runs=repaired.runs)
    compared = tuple(Compared(test=p.test, pair=p, changes=changes_of(p)) for p in pairs)
    usable = {c.test: c for c in compared if c.pair.comparable}
    repeated = [usable[t] for t in wanted if t in usable and not is_unsure(usable[t])]
    told = {k.test for k in repeated}
    taken = {m.test for m in repaired.after if is_decided(m, engine) or (m.usable and not accuses(m, ()))}
    shown = {m.test for m in repaired.before if m.usable and accused_in(m)}
    seen = _Seen(
        phase=repaired.phase,
        about=repaired.about or repaired.phase,
        engine=engine,
        trouble=_trouble(repaired.phase, repeated),
        repeated=repeated,
        usable=usable,
        missing=tuple(t for t in wanted if t not in told and (t in shown or t not in taken)),
        after=repaired.after,
    )
    status, words = _judged(seen)
    if not shown and status in (ProofStatus.PROVEN, ProofStatus.OPEN):
        status, words = ProofStatus.OPEN, NOTHING_SHOWED
    elif status is ProofStatus.PROVEN and repaired.untried:
        status, words = ProofStatus.OPEN, NOT_UNDER(under=repaired.untried.words)
    return Proof(
        phase=repaired.phase, status=status, wanted=wanted, missing=seen.missing, compared=compared, words=words
    )


def _trouble(phase: Phase, repeated: Sequence[Compared]) -> frozenset[int]:
    """Who the repair is about: who did not work before by as much as the worst, and where the part sits.

    Who follows an idle cylinder in the firing order is often a little off with it, and comes back with it.
    """
    accused = {c for k in repeated for c in k.pair.ill_before}
    idle: set[int] = set()
    for k in repeated:
        missing = {c: abs(1.0 - s.share) for c, s in k.pair.shares_before.items() if s.ill and not math.isnan(s.share)}
        if is_work(k.pair) and missing:
            idle |= {c for c, gap in missing.items() if gap >= AS_BAD * max(missing.values())}
    return frozenset((idle | (accused & set(phase.cylinders))) or accused)


def wanted_tests(before: Sequence[Measured], engine: Engine, *, runs: bool = True) -> tuple[str, ...]:
    """The smallest set that proves a repair: what shows that a cylinder works, and what showed why it did not.

    Parameters
    ----------
    before : sequence of Measured
        Of the trouble.
    engine : Engine
    runs : bool
        The engine runs: that every cylinder works must be seen, also where it was not seen that one did not.

    Returns
    -------
    tuple of str
        The quickest of each kind; empty where no test named a cylinder.
    """
    work: list[str] = []
    why: list[str] = []
    for m in before:
        some = 0 < len(accused_in(m)) < max(engine.cylinders, 2)  # all at once: its own comparison is in doubt
        if m.usable and some and m.test in OFFERS and not OFFERS[m.test].per_cylinder:
            columns = {line.line for line in m.lines}
            (work if columns & set(WORKS) else why).append(m.test)
    if why and not work and runs:
        work = [WORK_TEST]
    quickest = [min(group, key=lambda t: (OFFERS[t].minutes, SPECS[t].place)) for group in (work, why) if group]
    return tuple(quickest)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Seen:
    """What there is to judge a repair by."""

    phase: Phase
    about: Phase
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


def _judged(seen: _Seen) -> tuple[ProofStatus, Message]:
    """Status and words; nothing good is said while something speaks against it."""
    off, idle, spoilt = seen.off(seen.repeated), _idle_now(seen), _spoilt(seen)
    if spoilt:
        words = SPOILT(which=seen.about.cylinders, tests=titles(spoilt)) + _which_part(seen.about)
        return ProofStatus.NOT_CURED, words
    works = [k.test for k in seen.repeated if is_work(k.pair) and seen.off([k])] or ([idle[0]] if idle else [])
    still = off or (idle[1] if idle else ())
    if works and _may_be_wet(seen, still):
        return ProofStatus.WET_PLUG, WET_PLUG(which=still, tests=titles(works))
    if off:
        tests = titles(k.test for k in seen.repeated if seen.off([k]))
        changes = [k.changes[c] for k in seen.repeated for c in off if c in k.changes]
        if Change.UNCHANGED not in changes:
            return ProofStatus.BETTER, BETTER(tests=tests, which=off)
        return ProofStatus.NOT_CURED, NOT_CURED(tests=tests, which=off) + _which_part(seen.about)
    newly = set[int]().union(*(k.newly_off for k in seen.usable.values()))
    if newly:
        return ProofStatus.SOMEBODY_ELSE, SOMEBODY_ELSE(which=tuple(sorted(newly)))
    if idle:
        return ProofStatus.BETTER, STILL_OFF(which=idle[1], tests=titles([idle[0]]))
    if seen.missing or not seen.repeated:
        words = STILL_TO_TAKE(tests=titles(seen.missing)) if seen.missing else NOTHING
        return ProofStatus.OPEN, words
    cured = tuple(sorted({c for k in seen.repeated for c, how in k.changes.items() if how is Change.GONE}))
    return ProofStatus.PROVEN, PROVEN(tests=titles(k.test for k in seen.repeated), which=cured)


def shows_a_wet_plug(measured: Measured) -> bool:
    """Whether a wet plug alone would make a test accuse its cylinder: what the cylinder does, and its sparks."""
    return measured.test == SPARKS or bool({line.line for line in measured.lines} & set(WORKS))


def _spoilt(seen: _Seen) -> tuple[str, ...]:
    """Tests of a reason that a wet plug does not explain, and by which who is repaired is off now and was not."""
    own = set(seen.phase.cylinders) | set(seen.about.cylinders)
    return tuple(k.test for k in seen.usable.values() if own & k.newly_off and not is_work(k.pair) and k.test != SPARKS)


def _idle_now(seen: _Seen) -> tuple[str, tuple[int, ...]] | None:
    """Who does not work by a test that could not be compared with before; None where nobody is known to be idle.

    Where it does not name the cylinder, it is taken for those the repair is about.
    """
    for k in seen.usable.values():
        own = set(seen.phase.cylinders) & k.newly_off
        if own and is_work(k.pair):
            return k.test, tuple(sorted(own))
    for m in reversed(seen.after):
        if not m.usable or m.test in seen.usable or not {line.line for line in m.lines} & set(WORKS):
            continue
        if not is_decided(m, seen.engine):
            return (m.test, tuple(sorted(seen.trouble))) if somebody_unnamed([m]) or accused_in(m) else None
        off = [c for c, s in shares_of(m, seen.engine).items() if s.ill and (math.isnan(s.share) or s.share_tells)]
        return (m.test, tuple(sorted(off))) if off else None
    return None


def _may_be_wet(seen: _Seen, off: tuple[int, ...]) -> bool:
    """Whether a plug that stayed wet may explain that a cylinder still does not work: expected, and never proof."""
    if seen.phase.part not in WETTED_PARTS or not OFFERS[SPARKS].fits(seen.engine):
        return False
    reasons = [k for k in seen.usable.values() if not is_work(k.pair)]
    if any(not _otherwise(k, c) for k in reasons for c in off if _was_off(k, c) and not _shorted(k, c)):
        return False  # the reason itself is as it was
    return not any(_sparks_well(m, off) for m in seen.after)


def _sparks_well(measured: Measured, off: tuple[int, ...]) -> bool:
    """Whether the sparks of who does not work were looked at and are sound."""
    if measured.test != SPARKS or not measured.usable:
        return False
    states = {f.cylinder: f.state for f in measured.findings if not f.is_remark}
    return all(states.get(c) is State.NORMAL for c in off)


def _otherwise(compared: Compared, cylinder: int) -> bool:
    before, after = (s.get(cylinder) for s in (compared.pair.shares_before, compared.pair.shares_after))
    return before is None or after is None or after.otherwise_than(before)


def _shorted(compared: Compared, cylinder: int) -> bool:
    """Sparks that are low or not there: a plug that is wet through shows that too."""
    after = compared.pair.shares_after.get(cylinder)
    return compared.test == SPARKS and after is not None and after.state in (State.LOW, State.ABSENT)


def _was_off(compared: Compared, cylinder: int) -> bool:
    before = compared.pair.shares_before.get(cylinder)
    return before is not None and before.ill


def _which_part(phase: Phase) -> Message:
    fitted = phase.fitted in (PartState.NEW, PartState.USED, PartState.OTHER_MAKE)
    return (NEW_PART if fitted else NOT_THE_PART)(part=_part(phase))


def _part(phase: Phase) -> Message:
    return PART_WORDS[phase.part or "other"]

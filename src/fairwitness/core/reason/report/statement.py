"""The words: what was seen, what follows, what was not seen. Each sentence names the findings it stands on.

From verdict, posterior and measurements; the statement goes to the diagnosis.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message, joined
from fairwitness.core.model.circumstances import UNKNOWN, Circumstances
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.accusations import SEALING, WORK, compared, lines_of, sealing_tested, somebody_unnamed
from fairwitness.core.reason.bearing import doubted
from fairwitness.core.reason.inference.explanation import Explanation
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.planning.approach import Repair
from fairwitness.core.reason.report.advice import advice
from fairwitness.core.reason.report.alternatives import methods_apart, misread, rival, spoken_against
from fairwitness.core.reason.report.evidence import seen
from fairwitness.core.reason.report.headline import finding_of, headline, state_of
from fairwitness.core.reason.report.owner import for_the_owner
from fairwitness.core.reason.report.repair import RepairOffer, offers
from fairwitness.core.reason.report.sentence import Sentence
from fairwitness.core.reason.report.watched import watched
from fairwitness.core.reason.taken_under import Taken
from fairwitness.core.reason.verdict import Status, Verdict

FAULTS_NAMED = 3
CAUSE_NAMES = {
    Cause.IGNITION: phrase("cause.ignition", "ignition"),
    Cause.FUEL: phrase("cause.fuel", "fuel"),
    Cause.MECHANICAL: phrase("cause.mechanical", "mechanical"),
    Cause.CONTROL: phrase("cause.control", "control"),
}
BY_CAUSE = template("statement.by_cause", "By cause: {chances}.")
CHANCE_OF_CAUSE = template("statement.chance_of_cause", "{cause} {percent:chance}")
MOST_LIKELY = template("statement.most_likely", "Most likely: {faults}.")
CHANCE_OF_FAULT = template("statement.chance_of_fault", "{fault} ({percent:chance})")
NOBODY = phrase("statement.nobody", "No cylinder is accused and none is cleared.")
MECHANICAL = phrase("statement.mechanical", "The cause is mechanical: neither coils nor injectors change compression.")
OWNERS_YES = phrase(
    "statement.owners_yes",
    "Before the engine is opened: the owner's yes, recorded in the case with who, when and how much.",
)
TOO_SMALL = phrase("statement.too_small", "The deviation is too small to accuse anyone; repeat with more cycles.")
SOMEBODY = phrase("statement.somebody", "One of them deviates; nobody is accused before it is known which.")
SINGLE = phrase("statement.single", "A single cylinder has no peers: only an absolute figure can judge it.")
WORKS_HERE = phrase(
    "statement.works_here", "No cylinder works less than its peers here; load and heat may change that."
)
NOT_A_LEAK = phrase(
    "statement.not_a_leak", "A single leaking cylinder is not the reason; look at contribution, ignition and fuel."
)
NOT_A_LEAK_AND_WORKS = phrase(
    "statement.not_a_leak_and_works",
    "A single leaking cylinder is not the reason; nothing was missing while it ran either.",
)
RELATIVE = phrase(
    "statement.relative", "An engine equally low everywhere would look the same: the comparison is relative."
)
NOT_SEALING_START = phrase(
    "statement.not_sealing_start", "Compression is even: it is not the sealing that keeps it from starting."
)
NOT_SEALING = phrase("statement.not_sealing", "Compression is even and the work is missing: it is not the sealing.")
GO_ON = phrase("statement.go_on", " Go to ignition and fuel.")
SEALING_OPEN = phrase(
    "statement.sealing_open", "Whether it seals was not asked yet: mechanical, ignition and fuel all remain."
)
WHOLE_BANK = phrase("statement.whole_bank", "They are one whole bank: valve timing of that bank first.")
SIDE_BY_SIDE = phrase(
    "statement.side_by_side", "They stand side by side in the block: think of the gasket between them."
)
COMPANIONS = phrase(
    "statement.companions",
    "They are companions, 360 degrees apart: think of valve timing, and of bent valves if a belt slipped. Stop "
    "cranking until that is checked.",
)
BESIDE_A_DEAD_ONE = template(
    "statement.beside_a_dead_one",
    "Cylinder {cylinder} fires beside the dead one and is disturbed by it; it is not accused.",
)
BESIDE_SHOWS = 0.13
"""[M] deviation of a neighbour of a dead hole from which it is worth a sentence that it is not accused."""
ABSOLUTE = phrase("statement.absolute", "An absolute compression figure: gauge or pressure in the cylinder.")
MORE_CYCLES = phrase("statement.more_cycles", "More cycles: few were recorded.")
NOT_WHEN = template("statement.not_when", "The engine as the complaint has it: nothing was taken {conditions:and}.")
NOT_USED = template("statement.not_used", "Given but not used: {what}.")
CAUTIOUS = ("fuel_state_unknown", "sync_lost", "unsynced", "revolution_sync", "offset_unknown")
"""Reasons against nobody that a reader must know of all the same."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Statement:
    """The three kinds of speech under one headline."""

    headline: Message
    seen: tuple[Sentence, ...]
    follows: tuple[Sentence, ...]
    not_seen: tuple[Sentence, ...]
    rival: tuple[Sentence, ...] = ()
    """The next probable explanation, what tells it from the leading one, and what would decide."""
    repair: tuple[RepairOffer, ...] = ()
    owner: tuple[Message, ...] = ()
    """The same in plain words."""

    @property
    def text(self) -> Message:
        """Headline, what was seen and what follows as one paragraph."""
        return joined(self.headline, *(s.text for s in self.seen), *(s.text for s in self.follows), by=" ")


@dataclass(frozen=True, slots=True, kw_only=True)
class Context:
    """What the statement needs to know beside verdict and evidence.

    Parameters
    ----------
    not_read : tuple of Message
        Captures and observations that were given but not used.
    explanation : Explanation or None
        The leading hypothesis beside its rival.
    deciding, next_title : Message
        The test that would tell them apart, and the one to take next.
    repair : Repair
    authorised : bool
        Whether the owner agreed to have the engine opened.
    runs : bool
        Whether the engine runs, however badly.
    taken : mapping of finding id to Taken
        How each measurement was taken, by the first of its findings.
    not_tried : Circumstances
        Conditions of the complaint that nothing was taken under.
    """

    not_read: tuple[Message, ...] = ()
    explanation: Explanation | None = None
    deciding: Message = NOTHING
    next_title: Message = NOTHING
    repair: Repair = Repair.PART
    authorised: bool = False
    runs: bool = True
    taken: Mapping[str, Taken] = field(default_factory=dict)
    not_tried: Circumstances = UNKNOWN


def compose(
    verdict: Verdict, posterior: Posterior, measured: Sequence[Measured], engine: Engine, context: Context
) -> Statement:
    """Put the verdict into words.

    Parameters
    ----------
    verdict : Verdict
    posterior : Posterior
    measured : sequence of Measured
        Findings carry their ids.
    engine : Engine
    context : Context

    Returns
    -------
    Statement
    """
    follows = _follows(verdict, posterior, measured, engine, context) + methods_apart(measured)
    explanation = context.explanation if verdict.accuses else None
    doubts = doubted(posterior)
    if explanation is not None:
        against = tuple(t for t in explanation.against if t.source not in doubts)
        proven = verdict.status is Status.ESTABLISHED
        follows += spoken_against(replace(explanation, against=against), measured, proven=proven)
    follows += misread(doubts, measured)
    return Statement(
        headline=headline(verdict, measured, engine),
        seen=tuple(seen(measured)),
        follows=tuple(follows),
        not_seen=tuple(_not_seen(verdict, measured, context)),
        rival=tuple(rival(explanation, measured, context.deciding, context.next_title))
        if explanation is not None
        else (),
        repair=offers(verdict.faults, context.repair) if verdict.status is not Status.SUSPECTED else (),
        owner=for_the_owner(verdict, [m for m in measured if m.usable], context.next_title, engine.cylinders),
    )


def _follows(
    verdict: Verdict, posterior: Posterior, measured: Sequence[Measured], engine: Engine, context: Context
) -> list[Sentence]:
    ids = tuple(f.id for m in measured if m.usable for f in m.findings if compared(f) and f.state is not State.NORMAL)
    if verdict.contradiction:
        return [Sentence(verdict.contradiction, ids)]
    if not any(m.usable for m in measured):
        return [Sentence(NOBODY)]
    if verdict.accuses and (verdict.cause is not Cause.MECHANICAL or verdict.cause_open):
        return _separated(verdict, posterior, measured, engine, ids, runs=context.runs)
    if verdict.accuses:
        names = _likely(posterior, (Cause.MECHANICAL,))
        asks = verdict.status is not Status.SUSPECTED and not context.authorised
        said = (
            MECHANICAL,
            _pattern(verdict.cylinders, engine),
            MOST_LIKELY(faults=names) if names else NOTHING,
            _beside(verdict.cylinders, measured, engine),
            OWNERS_YES if asks else NOTHING,
        )
        return [Sentence(text, ids) for text in said if text]
    if verdict.rivals:
        return [Sentence(TOO_SMALL, ids)]
    if somebody_unnamed([m for m in measured if m.usable]):
        return [Sentence(SOMEBODY, ids)]
    found_nothing = verdict.status is Status.NO_FAULT_FOUND
    return _nobody_accused(measured, engine) + (watched(measured, context.taken) if found_nothing else [])


def _nobody_accused(measured: Sequence[Measured], engine: Engine) -> list[Sentence]:
    even = tuple(f.id for m in measured if m.usable for f in m.findings if compared(f))
    lines = lines_of(measured)
    if engine.cylinders == 1:
        return [Sentence(SINGLE, even)]
    if not sealing_tested(measured, engine):
        return [Sentence(WORKS_HERE, even)]
    return [Sentence(NOT_A_LEAK_AND_WORKS if WORK in lines else NOT_A_LEAK, even), Sentence(RELATIVE, even)]


def _separated(
    verdict: Verdict,
    posterior: Posterior,
    measured: Sequence[Measured],
    engine: Engine,
    ids: tuple[str, ...],
    *,
    runs: bool,
) -> list[Sentence]:
    """What separates the causes of a cylinder that does not do its share."""
    sentences = []
    sealing = [
        f
        for m in measured
        if m.usable and m.evidence is not None and m.evidence.line in SEALING
        for f in m.findings
        if compared(f)
    ]
    even = [f for f in sealing if f.state is State.NORMAL and f.cylinder in (None, *verdict.cylinders)]
    low = [f for f in sealing if f.state in (State.LOW, State.ABSENT)]
    if even and not low:
        found = NOT_SEALING if runs else NOT_SEALING_START
        text = found + GO_ON if verdict.cause_open else found
        sentences.append(Sentence(text, (*ids, *(f.id for f in even))))
    elif not sealing and verdict.cause_open:
        sentences.append(Sentence(SEALING_OPEN, ids))
    sentences.append(Sentence(BY_CAUSE(chances=_chances(posterior)), ids))
    names = _likely(posterior, tuple(CAUSE_NAMES) if verdict.cause_open else (verdict.cause,))
    if names:
        sentences.append(Sentence(MOST_LIKELY(faults=names), ids))
    return sentences + [Sentence(text, ids) for text in advice(verdict, posterior, measured, engine)]


def _chances(posterior: Posterior) -> tuple[Message, ...]:
    ranked = sorted(CAUSE_NAMES, key=lambda cause: (posterior.of_cause(cause), cause.value), reverse=True)
    chances = [(cause, posterior.of_cause(cause)) for cause in ranked]
    return tuple(CHANCE_OF_CAUSE(cause=CAUSE_NAMES[cause], percent=100 * p) for cause, p in chances if p >= 0.02)


def _pattern(cylinders: tuple[int, ...], engine: Engine) -> Message:
    """What the set of low cylinders has in common."""
    low = tuple(sorted(cylinders))
    if len(low) < 2:
        return NOTHING
    if any(tuple(sorted(bank)) == low for bank in engine.banks):
        return WHOLE_BANK
    if len(low) == 2 and low in {tuple(sorted(p)) for p in engine.block_neighbours}:
        return SIDE_BY_SIDE
    return COMPANIONS if len(low) == 2 and engine.companion(low[0]) == low[1] else NOTHING


def _likely(posterior: Posterior, causes: tuple[Cause, ...]) -> tuple[Message, ...]:
    """The leading faults of some causes with their chances, over all places."""
    chances: dict[str, float] = {}
    for hypothesis, p in zip(posterior.hypotheses, posterior.probabilities, strict=True):
        if hypothesis.cause in causes and hypothesis.fault in FAULTS:
            chances[hypothesis.fault] = chances.get(hypothesis.fault, 0.0) + float(p)
    ranked = sorted(chances.items(), key=lambda item: -item[1])[:FAULTS_NAMED]
    return tuple(CHANCE_OF_FAULT(fault=FAULTS[fault].words, percent=100 * p) for fault, p in ranked if p >= 0.02)


def _beside(cylinders: tuple[int, ...], measured: Sequence[Measured], engine: Engine) -> Message:
    """Say why a mild neighbour of a dead hole is not accused, where there is one."""
    compression = [m for m in measured if m.test == "relative_compression"]
    for hole in (c for c in cylinders if state_of(c, measured) is State.ABSENT):
        for neighbour in engine.firing_neighbours(hole):
            finding = finding_of(neighbour, compression)
            value = finding.value if finding else None
            if neighbour not in cylinders and value is not None and abs(1 - value) > BESIDE_SHOWS:
                return BESIDE_A_DEAD_ONE(cylinder=neighbour)
    return NOTHING


def _not_seen(verdict: Verdict, measured: Sequence[Measured], context: Context) -> list[Sentence]:
    sentences = [Sentence(text) for text in verdict.unmet]
    usable = [m for m in measured if m.usable]
    relative = any(m.test == "relative_compression" for m in usable)
    if verdict.status is Status.NO_FAULT_FOUND and relative:
        sentences.append(Sentence(ABSOLUTE))
    cautious = {r.code: r.statement for m in usable for r in m.reasons if r.code in CAUTIOUS}
    sentences += [Sentence(text) for text in cautious.values()]
    if any(_few_cycles(m) for m in usable):
        sentences.append(Sentence(MORE_CYCLES))
    if context.not_tried and verdict.status is not Status.ESTABLISHED:
        sentences.append(Sentence(NOT_WHEN(conditions=context.not_tried.words)))
    if context.not_read:
        sentences.append(Sentence(NOT_USED(what=context.not_read)))
    return sentences


def _few_cycles(m: Measured) -> bool:
    """Whether a comparison stands on few cycles; tests of every spark or pulse have many events in few."""
    cycles = m.facts.get("cycles")
    counts = m.test in SPECS and not SPECS[m.test].plural
    return counts and isinstance(cycles, int) and cycles < limit.CRANKING_CYCLES_FEW.value

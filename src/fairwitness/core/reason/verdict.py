"""How far the evidence carries: named conditions, and the status that follows from them.

From the posterior and the measurements; the verdict goes to the plan, the statement and the diagnosis.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured
from fairwitness.core.reason.accusations import (
    WORK,
    accused_in_any,
    accuses,
    contradicting,
    contradiction_words,
    independent_source,
    lines_of,
    sealing_tested,
    somebody_unnamed,
)
from fairwitness.core.reason.bearing import ESTABLISHED_CLEAR, FAULT_CLEAR, borne_out, settled
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import FAULTS, OTHER_MECHANICAL
from fairwitness.core.reason.knowledge.proof import WHERE, heard_leaving, seen_at

CAUSE_CLEAR = 0.6
CYLINDER_CLEAR = 0.5
SEPARATED = 0.8
ILL_CLEAR = 0.8
"""[M] probabilities from which a cause, a cylinder, a single fault, ignition against fuel, and any fault at all are
named. What does not seal shows it directly; ignition and fuel look alike until one of them is measured."""
ALSO_WANTS = 0.5
"""[M] a fault at least this probable has what it still wants listed, named or not."""
BLAMED = (Cause.IGNITION, Cause.FUEL, Cause.MECHANICAL, Cause.CONTROL)
WOULD_NOT_RUN = ("not_running", "phase_wrong", "impossible_count")
"""Reasons why a running test was refused that leave open whether the engine runs at all: they clear nobody."""
UNSYNCED = frozenset({"unsynced", "offset_unknown", "revolution_sync", "no_sync", "sync_silent"})
SECOND_SOURCE, COMPANY = "second_witness", "alone"


class Status(StrEnum):
    """What may be said."""

    ESTABLISHED = "established"
    SUPPORTED = "supported"
    SUSPECTED = "suspected"
    INCONCLUSIVE = "inconclusive"
    NO_FAULT_FOUND = "no_fault_found"


ACCUSING = (Status.SUSPECTED, Status.SUPPORTED, Status.ESTABLISHED)


@dataclass(frozen=True, slots=True)
class Condition:
    """One named predicate of the discipline, whether it is met, and the tests that would meet it."""

    id: str
    words: Message
    met: bool
    by: tuple[str, ...] = ()
    advised: bool = False
    """Worth its minutes before the job is done, but the status does not hang on it."""


ALONE = Condition(
    COMPANY,
    phrase("verdict.alone", "Whether it is the only one: the work of all cylinders while running."),
    met=False,
    by=("crank_speed", "exhaust_pulse", "power_balance"),
    advised=True,
)
"""Two faults that have nothing to do with each other hide behind one another."""
CAUSE_LINES = {
    "FV": (
        phrase("verdict.whether_it_sparks", "Whether it sparks: secondary voltage of all cylinders."),
        ("secondary_voltage",),
    ),
    "IC": (
        phrase("verdict.whether_it_is_fed", "Whether it is fed: injector current of all cylinders."),
        ("injector_current",),
    ),
}
"""Columns that separate the causes, what they answer, and by which test."""
AGREEMENT = phrase("verdict.agreement", "Two lines of evidence that agree.")
WHICH_CYLINDER = phrase("verdict.which_cylinder", "Which cylinder: a sync on one known cylinder.")
WHICH_LOST_SYNC = phrase(
    "verdict.which_lost_sync", "Which cylinder: the capture again, with a sync that holds to its end."
)
WHICH_OF_ALL = phrase("verdict.which_of_all", "Which cylinder: a test that compares all of them.")
SECOND_TEST = phrase("verdict.second_test", "A second, different test that shows the same cylinder.")
SECOND_OF_ALL = phrase("verdict.second_of_all", "A second, different test that shows the same.")
WHETHER_IT_SEALS = phrase("verdict.whether_it_seals", "Whether the cylinder seals: relative compression.")
WHICH_FAULT = template("verdict.which_fault", "Which fault: {words} is only the likeliest.")
UNOPPOSED = phrase("verdict.unopposed", "What speaks against it, taken again.")
WANTED = {
    "capture": phrase("verdict.usable_capture", "A usable capture."),
    "deviation": phrase("verdict.clear_deviation", "A deviation clear enough to stand out."),
    "which": WHICH_OF_ALL,
    "unread": phrase("verdict.unread", "The captures and observations not read yet."),
    "telling": phrase("verdict.telling_test", "A test that tells the leading fault from none."),
    "start": phrase("verdict.why_no_start", "Why it does not start: nothing tested so far shows it."),
    "running": phrase("verdict.running_capture", "A capture of the engine running: one could not be read."),
}
TESTS_OF = template("verdict.tests_of", "Tests of {quantities:and}.")
SEALING_WORDS = phrase("verdict.sealing", "sealing")
QUANTITIES = {
    WORK: phrase("verdict.contribution", "contribution"),
    "FV": phrase("verdict.ignition", "ignition"),
    "IC": phrase("verdict.fuel", "fuel"),
}
"""What else a vehicle is to be tested for before it is let go, and the columns that tell."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """What is accused, how firmly, and what is missing for more."""

    status: Status
    cause: Cause
    cylinders: tuple[int, ...]
    rivals: tuple[int, ...]
    """Cylinders that stay undecided with each other (companions, no sync)."""
    faults: tuple[str, ...]
    probability: float
    conditions: tuple[Condition, ...]
    """The predicates that decide the status, met ones included."""
    contradiction: Message = NOTHING
    cause_open: bool = False
    """Some cylinder is ill; ``cause`` is only the likeliest."""

    @property
    def accuses(self) -> bool:
        """Whether anybody is accused."""
        return self.status in ACCUSING

    @property
    def unmet(self) -> tuple[Message, ...]:
        """What is missing for more, in words."""
        return tuple(c.words for c in self.conditions if not c.met)

    @property
    def advice(self) -> frozenset[str]:
        """Conditions not met yet that are worth their minutes whatever the status."""
        return frozenset(c.id for c in self.conditions if c.advised and not c.met)

    @property
    def wanted(self) -> dict[str, tuple[str, ...]]:
        """Tests that would meet a condition, and which."""
        tests: dict[str, tuple[str, ...]] = {}
        for c in self.conditions:
            for test in () if c.met else c.by:
                tests[test] = (*tests.get(test, ()), c.id)
        return tests


def judge_case(
    posterior: Posterior,
    measured: Sequence[Measured],
    engine: Engine,
    *,
    unread: int,
    opposed: bool = False,
    runs: bool = True,
) -> Verdict:
    """Decide what the evidence allows to be said.

    Parameters
    ----------
    posterior : Posterior
    measured : sequence of Measured
        All measurements, unusable ones included.
    engine : Engine
    unread : int
        Captures and observations given but not understood.
    opposed : bool
        Some evidence speaks strongly against the leading hypothesis: nothing is established over it.
    runs : bool
        Whether the engine runs: one that does not is never without a fault.

    Returns
    -------
    Verdict
    """
    usable = [m for m in measured if m.speaks]
    if not usable:
        return _inconclusive(posterior, "capture")
    named = tuple(sorted(accused_in_any(usable)))
    pair = contradicting(usable)
    if pair is not None and not settled(posterior, usable, pair):
        return _contradicted(posterior, named, pair)
    likeliest = max(BLAMED, key=posterior.of_cause)
    ill = 1.0 - posterior.of_cause(Cause.NONE) - posterior.of_cause(Cause.OTHER)
    clear = posterior.of_cause(likeliest) >= CAUSE_CLEAR or (ill >= ILL_CLEAR and named)
    if clear and borne_out(posterior, usable):
        reported = _accusation(posterior, usable, engine, likeliest, opposed=opposed)
        some = 0 < len(reported.cylinders) < engine.cylinders
        if not (some and _one_that_names_nobody(usable)):
            return reported
    missing = _keeps_open(posterior, measured, usable, unread=unread)
    if not runs and missing in ("", "telling"):
        missing = "start"
    if missing:
        return _inconclusive(posterior, missing, rivals=named)
    return _nothing_found(posterior, usable, engine)


def _one_that_names_nobody(usable: Sequence[Measured]) -> bool:
    """Whether all that stands out is one reading that leaves open who it is: how often faults are met names nobody."""
    return not accused_in_any(usable) and len({independent_source(m) for m in usable if accuses(m, ())}) == 1


def _keeps_open(posterior: Posterior, measured: Sequence[Measured], usable: Sequence[Measured], *, unread: int) -> str:
    """Why a vehicle of which nobody is accused may not be called sound either; empty where it may."""
    if somebody_unnamed(usable):
        return "which"
    if accused_in_any(usable):
        return "deviation"
    if unread:
        return "unread"
    if posterior.hypotheses[0].placed:  # a fault leads, though nothing stands out that could be named
        return "telling"
    could_not = any(r.code in WOULD_NOT_RUN for m in measured if not m.usable for r in m.reasons)
    return "running" if could_not else ""


def _accusation(
    posterior: Posterior, usable: Sequence[Measured], engine: Engine, cause: Cause, *, opposed: bool
) -> Verdict:
    top, p_top = posterior.hypotheses[0], float(posterior.probabilities[0])
    cause_clear = posterior.of_cause(cause) >= (CAUSE_CLEAR if cause is Cause.MECHANICAL else SEPARATED)
    two_faults = bool(top.also) and p_top >= CYLINDER_CLEAR
    shares = _shares(posterior, usable, engine, BLAMED if two_faults or not cause_clear else (cause,))
    cylinders = tuple(sorted(c for c, p in shares.items() if p >= CYLINDER_CLEAR))
    whole = len(cylinders) == engine.cylinders > 1
    sources = {independent_source(m) for m in usable if accuses(m, cylinders)}
    leads = cause_clear and p_top >= ALSO_WANTS and top.cause is cause and top.fault in FAULTS
    wanted = _requirements(top, usable) if leads else []
    p_fault = min((posterior.of_placed(p) for p in top.placed), default=0.0)
    may_be_named = leads and p_fault >= FAULT_CLEAR and not _called_too_early(top, wanted)
    conditions = [
        Condition("cylinder", _which(usable), bool(cylinders)),
        Condition(SECOND_SOURCE, SECOND_OF_ALL if whole else SECOND_TEST, len(sources) >= 2),
        *_separating(
            cause if cause_clear else Cause.NONE,
            usable,
            top.fault,
            sealing=sealing_tested(usable, engine, cylinders) or (whole and _heard_even(usable)),
        ),
        *wanted,
    ]
    if leads and p_fault < ESTABLISHED_CLEAR:
        conditions.append(Condition("fault", WHICH_FAULT(words=FAULTS[top.fault].words), False))
    if len(cylinders) < engine.cylinders and engine.cylinders > 1:
        conditions.append(replace(ALONE, met=WORK in lines_of(usable)))
    if opposed:
        conditions.append(Condition("unopposed", UNOPPOSED, False))
    p_cause = posterior.of_cause(cause)
    return Verdict(
        status=_status(conditions, named=may_be_named, supported=len(sources) >= 2 and bool(cylinders) and cause_clear),
        cause=cause,
        cylinders=cylinders,
        rivals=() if cylinders else tuple(sorted(c for c, p in shares.items() if p >= 0.5 * max(shares.values()))),
        faults=tuple(p.fault for p in top.placed) if may_be_named else (),
        probability=round(min(p_cause, *(shares[c] for c in cylinders)) if cylinders else p_cause, 4),
        conditions=tuple({c.words: c for c in conditions}.values()),
        cause_open=not cause_clear,
    )


def _heard_even(usable: Sequence[Measured]) -> bool:
    """Whether it was heard to crank evenly: no cylinder lacks its compression, and the starter is not idling round."""
    return any(s.kind == "first_look:cadence" and s.outcome == "even" for m in usable for s in m.categorical)


def _which(usable: Sequence[Measured]) -> Message:
    """What is missing to name a cylinder: a sync where there was none, one that holds where it was lost."""
    codes = {r.code for m in usable for r in m.reasons}
    if codes & UNSYNCED:
        return WHICH_CYLINDER
    return WHICH_LOST_SYNC if "sync_lost" in codes else WHICH_OF_ALL


def _status(conditions: Sequence[Condition], *, named: bool, supported: bool) -> Status:
    if not supported:
        return Status.SUSPECTED
    complete = named and all(c.met or c.advised for c in conditions)
    return Status.ESTABLISHED if complete else Status.SUPPORTED


def _called_too_early(top: Hypothesis, wanted: Sequence[Condition]) -> bool:
    """The control unit is called last: not while feed, earth, wire or load were not excluded."""
    open_condition = any(not c.met and not c.advised for c in wanted)
    return open_condition and any(FAULTS[p.fault].driver_of for p in top.placed)


def _shares(
    posterior: Posterior, usable: Sequence[Measured], engine: Engine, causes: Sequence[Cause]
) -> dict[int, float]:
    """How probably each cylinder suffers; an unlisted mechanical fault sits where cylinders were found low."""
    unlisted = sum(
        float(p)
        for h, p in zip(posterior.hypotheses, posterior.probabilities, strict=True)
        if h.fault == OTHER_MECHANICAL and Cause.MECHANICAL in causes
    )
    found = accused_in_any(usable)
    return {c: posterior.of_any(c, causes) + (unlisted if c in found else 0.0) for c in engine.firing_order}


def _requirements(top: Hypothesis, usable: Sequence[Measured]) -> list[Condition]:
    """What must be seen before the leading fault is called, of each fault where two are."""
    found: list[Condition] = []
    for placed in top.placed:
        seen, spec = seen_at(placed.cylinders, usable), FAULTS[placed.fault]
        found += [Condition(p.id, p.words, p.met(seen), p.by) for p in spec.proof]
        found += [Condition(p.id, p.words, p.met(seen), p.by, advised=True) for p in spec.advised]
    return found


def _separating(cause: Cause, usable: Sequence[Measured], leading: str, *, sealing: bool) -> list[Condition]:
    """What this cause still wants seen before a part may be named."""
    if cause is Cause.MECHANICAL:
        heard = heard_leaving([s for m in usable for s in m.categorical])
        own = FAULTS[leading].proof if leading in FAULTS else ()
        by = next((p.by for p in own if p.id == WHERE.id), WHERE.by)
        return [Condition(WHERE.id, WHERE.words, heard, by)]
    lines = lines_of(usable)
    asked = [Condition("sealing", WHETHER_IT_SEALS, sealing, ("relative_compression", "cranking_speed"))]
    if cause not in (Cause.IGNITION, Cause.FUEL):
        asked += [Condition(line, words, line in lines, tests) for line, (words, tests) in CAUSE_LINES.items()]
    return asked


def _contradicted(posterior: Posterior, named: tuple[int, ...], pair: tuple[Measured, Measured]) -> Verdict:
    return Verdict(
        status=Status.INCONCLUSIVE,
        cause=Cause.NONE,
        cylinders=(),
        rivals=named,
        faults=(),
        probability=round(max(posterior.of_cause(c) for c in BLAMED), 4),
        conditions=(Condition("agreement", AGREEMENT, False),),
        contradiction=contradiction_words(pair),
    )


def _inconclusive(posterior: Posterior, missing: str, *, rivals: tuple[int, ...] = ()) -> Verdict:
    return Verdict(
        status=Status.INCONCLUSIVE,
        cause=Cause.NONE,
        cylinders=(),
        rivals=rivals,
        faults=(),
        probability=round(float(posterior.of_cause(Cause.NONE)), 4),
        conditions=(Condition("evidence", WANTED[missing], False),),
    )


def _nothing_found(posterior: Posterior, usable: Sequence[Measured], engine: Engine) -> Verdict:
    lines = lines_of(usable)
    sealing = () if sealing_tested(usable, engine) else (SEALING_WORDS,)
    untested = (*sealing, *(words for column, words in QUANTITIES.items() if column not in lines))
    return Verdict(
        status=Status.NO_FAULT_FOUND,
        cause=Cause.NONE,
        cylinders=(),
        rivals=(),
        faults=(),
        probability=round(posterior.of_cause(Cause.NONE), 4),
        conditions=(Condition("covered", TESTS_OF(quantities=untested), False),) if untested else (),
    )

"""How far the evidence carries: named predicates, and the status that follows from them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from fairwitness.core import thresholds as limit
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.faults import FAULTS, OTHER_MECHANICAL, Cause
from fairwitness.core.reason.knowledge.proof import (
    DRIVERS,
    WHERE,
    advised,
    heard_leaving,
    requirements,
    seen_at,
    where_by,
)

CAUSE_CLEAR = 0.6
CYLINDER_CLEAR = 0.5
FAULT_CLEAR = 0.75
SEPARATED = 0.8
ILL_CLEAR = 0.8
"""[M] probabilities from which a cause, a cylinder, a single fault, ignition against fuel, and any fault at all are
named. What does not seal shows it directly; ignition and fuel look alike until one of them is measured."""
BLAMED = (Cause.IGNITION, Cause.FUEL, Cause.MECHANICAL, Cause.CONTROL)
SEALING, WORK = "RC", "CON"
RIVAL_ALSO_MISSING = 0.5
"""[M] a fault at least this probable has what it still wants listed, named or not."""
HIGH_IS_SOUND = (
    "relative_compression", "cranking_speed", "crank_speed", "exhaust_pulse", "power_balance", "misfire_counts",
)  # fmt: skip
"""Tests in which more than the peers is no fault, and abnormal means that which cylinder is open."""
ESTABLISHED_CLEAR = 0.9
"""[M] chance of the single fault below which nothing is called established."""
CAUSE_LINES = {
    "FV": ("Whether it sparks: secondary voltage of all cylinders.", ("secondary_voltage",)),
    "IC": ("Whether it is fed: injector current of all cylinders.", ("injector_current",)),
}
"""Columns that separate the causes, what they answer, and by which test."""


WOULD_NOT_RUN = ("not_running", "phase_wrong", "impossible_count")
"""Reasons why a running test was refused that leave open whether the engine runs at all: they clear nobody."""
SECOND_SOURCE, COMPANY = "second_witness", "alone"


class Status(StrEnum):
    """What may be said."""

    ESTABLISHED = "established"
    SUPPORTED = "supported"
    SUSPECTED = "suspected"
    INCONCLUSIVE = "inconclusive"
    NO_FAULT_FOUND = "no_fault_found"


@dataclass(frozen=True, slots=True)
class Condition:
    """One named predicate of the discipline, whether it is met, and the tests that would meet it."""

    id: str
    words: str
    met: bool
    by: tuple[str, ...] = ()
    advised: bool = False
    """Worth its minutes before the job is done, but the status does not hang on it."""


ALONE = Condition(
    COMPANY,
    "Whether it is the only one: the work of all cylinders while running.",
    met=False,
    by=("crank_speed", "exhaust_pulse", "power_balance"),
    advised=True,
)
"""Two faults that have nothing to do with each other hide behind one another."""


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
    contradiction: str = ""
    cause_open: bool = False
    """Some cylinder is ill; ``cause`` is only the likeliest."""

    @property
    def unmet(self) -> tuple[str, ...]:
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

    Returns
    -------
    Verdict
    """
    usable = [m for m in measured if m.speaks]
    if not usable:
        return _nothing(Status.INCONCLUSIVE, posterior, ("A usable capture.",))
    contradicting = _contradicting(usable)
    contradiction = _reported(contradicting) if contradicting else ""
    low = _accused_by_findings(usable)
    if contradiction and not _settled(posterior, usable, contradicting):
        return Verdict(
            status=Status.INCONCLUSIVE,
            cause=Cause.NONE,
            cylinders=(),
            rivals=tuple(sorted(low)),
            faults=(),
            probability=round(max(posterior.of_cause(c) for c in BLAMED), 4),
            conditions=(Condition("agreement", "Two lines of evidence that agree.", False),),
            contradiction=contradiction,
        )
    cause = max(BLAMED, key=posterior.of_cause)
    ill = 1.0 - posterior.of_cause(Cause.NONE) - posterior.of_cause(Cause.OTHER)
    if posterior.of_cause(cause) >= CAUSE_CLEAR or (ill >= ILL_CLEAR and low):
        return _accusation(posterior, usable, engine, cause, opposed=opposed)
    if low or _open_accusation(usable):
        return _nothing(Status.INCONCLUSIVE, posterior, ("A deviation clear enough to stand out.",), tuple(sorted(low)))
    if unread:
        return _nothing(Status.INCONCLUSIVE, posterior, ("The captures and observations not read yet.",))
    if posterior.hypotheses[0].placed:  # a fault leads, though nothing stands out that could be named
        return _nothing(Status.INCONCLUSIVE, posterior, ("A test that tells the leading fault from none.",))
    if any(r.code in WOULD_NOT_RUN for m in measured if not m.usable for r in m.reasons):
        return _nothing(Status.INCONCLUSIVE, posterior, ("A capture of the engine running: one could not be read.",))
    return Verdict(
        status=Status.NO_FAULT_FOUND,
        cause=Cause.NONE,
        cylinders=(),
        rivals=(),
        faults=(),
        probability=round(posterior.of_cause(Cause.NONE), 4),
        conditions=tuple(_untested(usable)),
    )


def _accusation(
    posterior: Posterior, usable: Sequence[Measured], engine: Engine, cause: Cause, *, opposed: bool
) -> Verdict:
    clear = posterior.of_cause(cause) >= (CAUSE_CLEAR if cause is Cause.MECHANICAL else SEPARATED)
    top, p_top = posterior.hypotheses[0], float(posterior.probabilities[0])
    two = bool(top.also) and p_top >= CYLINDER_CLEAR
    causes = BLAMED if two or not clear else (cause,)
    shares = _shares(posterior, usable, engine, causes)
    cylinders = tuple(sorted(c for c, p in shares.items() if p >= CYLINDER_CLEAR))
    rivals = () if cylinders else tuple(sorted(c for c, p in shares.items() if p >= 0.5 * max(shares.values())))
    whole = posterior.of_cause(cause)
    probability = min(whole, *(shares[c] for c in cylinders)) if cylinders else whole
    sources = {_independent_source(m) for m in usable if _accuses(m, cylinders)}
    p_fault = min((posterior.of_placed(p) for p in top.placed), default=0.0)
    leads = clear and p_top >= RIVAL_ALSO_MISSING and top.cause is cause and top.fault in FAULTS
    wanted = _requirements(top, usable) if leads else []
    called = any(not c.met and not c.advised for c in wanted) and any(p.fault in DRIVERS for p in top.placed)
    # The control unit is called last: not while feed, earth, wire or load were not excluded.
    faults = tuple(p.fault for p in top.placed) if leads and p_fault >= FAULT_CLEAR and not called else ()
    conditions = [
        Condition("cylinder", "Which cylinder: a sync on one known cylinder.", bool(cylinders)),
        Condition(SECOND_SOURCE, "A second, different test that shows the same cylinder.", len(sources) >= 2),
        *_separating(cause if clear else Cause.NONE, usable, top.fault),
        *wanted,
    ]
    if leads and p_fault < ESTABLISHED_CLEAR:
        conditions.append(Condition("fault", f"Which fault: {FAULTS[top.fault].words} is only the likeliest.", False))
    if len(cylinders) < engine.cylinders and engine.cylinders > 1:
        conditions.append(ALONE if WORK not in lines_of(usable) else replace(ALONE, met=True))
    if opposed:
        conditions.append(Condition("unopposed", "What speaks against it, taken again.", False))
    status = Status.SUPPORTED if len(sources) >= 2 and cylinders and clear else Status.SUSPECTED
    if status is Status.SUPPORTED and faults and all(c.met or c.advised for c in conditions):
        status = Status.ESTABLISHED
    return Verdict(
        status=status,
        cause=cause,
        cylinders=cylinders,
        rivals=rivals,
        faults=faults,
        probability=round(probability, 4),
        conditions=tuple({c.words: c for c in conditions}.values()),
        cause_open=not clear,
    )


def _shares(
    posterior: Posterior, usable: Sequence[Measured], engine: Engine, causes: Sequence[Cause]
) -> dict[int, float]:
    """How probably each cylinder suffers; an unlisted mechanical fault sits where cylinders were found low."""
    unlisted = sum(
        float(p)
        for h, p in zip(posterior.hypotheses, posterior.probabilities, strict=True)
        if h.fault == OTHER_MECHANICAL and Cause.MECHANICAL in causes
    )
    found = _accused_by_findings(usable)
    return {c: posterior.of_any(c, causes) + (unlisted if c in found else 0.0) for c in engine.firing_order}


def _requirements(top: Hypothesis, usable: Sequence[Measured]) -> list[Condition]:
    """What must be seen before the leading fault is called, of each fault where two are."""
    reported: list[Condition] = []
    for placed in top.placed:
        seen = seen_at(placed.cylinders, usable)
        reported += [Condition(p.id, p.words, p.met(seen), p.by) for p in requirements(placed.fault)]
        reported += [Condition(p.id, p.words, p.met(seen), p.by, advised=True) for p in advised(placed.fault)]
    return reported


def _separating(cause: Cause, usable: Sequence[Measured], leading: str) -> list[Condition]:
    """What this cause still wants seen before a part may be named."""
    if cause is Cause.MECHANICAL:
        heard = heard_leaving([s for m in usable for s in m.categorical])
        return [Condition(WHERE.id, WHERE.words, heard, where_by(leading))]
    lines = lines_of(usable)
    asked = [Condition("sealing", "Whether the cylinder seals: relative compression.", SEALING in lines,
                       ("relative_compression", "cranking_speed"))]  # fmt: skip
    if cause not in (Cause.IGNITION, Cause.FUEL):
        asked += [Condition(line, words, line in lines, tests) for line, (words, tests) in CAUSE_LINES.items()]
    return asked


def lines_of(measured: Sequence[Measured]) -> frozenset[str]:
    """Columns of the signature table that usable measurements speak to."""
    return frozenset(line.line for m in measured if m.usable for line in m.lines)


def _untested(usable: Sequence[Measured]) -> list[Condition]:
    lines = lines_of(usable)
    wanted = {SEALING: "sealing", WORK: "contribution", "FV": "ignition", "IC": "fuel"}
    open_to = [words for line, words in wanted.items() if line not in lines]
    if not open_to:
        return []
    listed = open_to[0] if len(open_to) == 1 else f"{', '.join(open_to[:-1])} and {open_to[-1]}"
    return [Condition("covered", f"Tests of {listed}.", False)]


def _nothing(status: Status, posterior: Posterior, unmet: tuple[str, ...], rivals: tuple[int, ...] = ()) -> Verdict:
    return Verdict(
        status=status,
        cause=Cause.NONE,
        cylinders=(),
        rivals=rivals,
        faults=(),
        probability=round(float(posterior.of_cause(Cause.NONE)), 4),
        conditions=tuple(Condition("evidence", words, False) for words in unmet),
    )


def compared(finding: Finding) -> bool:
    """Whether a finding compares cylinders (and is not a remark beside the comparison)."""
    return not finding.is_remark


def deviates(finding: Finding) -> bool:
    """Whether a finding speaks against a cylinder."""
    if finding.is_remark or finding.cylinder is None:
        return False
    if finding.test in HIGH_IS_SOUND:
        return finding.state in (State.LOW, State.ABSENT)
    return finding.state in (State.LOW, State.ABSENT, State.HIGH, State.ABNORMAL)


def _accuses(measured: Measured, cylinders: tuple[int, ...]) -> bool:
    ill = (State.LOW, State.ABSENT, State.ABNORMAL)
    unnamed = any(f.cylinder is None and f.state in ill for f in measured.findings if compared(f))
    return (unnamed and measured.speaks) or any(
        deviates(f) and (not cylinders or f.cylinder in cylinders) for f in measured.findings
    )


def _independent_source(measured: Measured) -> str:
    """What makes two measurements one witness: the same capture, or the same kind of test by hand."""
    if measured.resource is None:
        return measured.test
    return measured.lines[0].source if measured.lines else measured.resource


def _low_cylinders(measured: Measured) -> frozenset[int]:
    return frozenset(f.cylinder for f in measured.findings if f.cylinder is not None and deviates(f))


def _accused_by_findings(usable: Sequence[Measured]) -> frozenset[int]:
    return frozenset().union(*(_low_cylinders(m) for m in usable)) if usable else frozenset()


def _open_accusation(usable: Sequence[Measured]) -> bool:
    return any(
        f.state in (State.LOW, State.ABSENT, State.ABNORMAL)
        for m in usable
        for f in m.findings
        if compared(f) and ((f.cylinder is None and m.lines) or (f.state is State.ABNORMAL and f.test in HIGH_IS_SOUND))
    )


def _settled(posterior: Posterior, usable: Sequence[Measured], contradicting: Sequence[Measured]) -> bool:
    """Whether two other witnesses agree on who is ill, so that a quarrel is only told and not waited for."""
    top, p_top = posterior.hypotheses[0], float(posterior.probabilities[0])
    others = [m for m in usable if m not in contradicting]
    return (
        p_top >= ESTABLISHED_CLEAR and len({_independent_source(m) for m in others if _accuses(m, top.everywhere)}) >= 2
    )


def _reported(contradicting: Sequence[Measured]) -> str:
    one, other = contradicting
    return (
        f"{_name(one)} accuses cylinder {_list(_low_cylinders(one))}, {_name(other)} accuses cylinder "
        f"{_list(_low_cylinders(other))}. Repeat both before believing either."
    )


def _contradicting(usable: Sequence[Measured]) -> tuple[Measured, ...]:
    """Two decided measurements of the same thing that name different cylinders: said, never averaged away."""
    decided = [m for m in usable if m.evidence is not None and len(m.evidence.alternatives) == 1 and not _partial(m)]
    for i, one in enumerate(decided):
        for other in decided[i + 1 :]:
            first, second = _low_cylinders(one), _low_cylinders(other)
            assert one.evidence is not None
            assert other.evidence is not None
            if one.evidence.line != other.evidence.line:
                continue  # a cylinder that leaks and another that does not fire are two findings, not a quarrel
            if first and second and not first & second:
                return one, other
    return ()


def _partial(measured: Measured) -> bool:
    """Whether a capture holds only some of the cylinders: another one then names others without a quarrel."""
    first = measured.evidence
    return first is not None and bool((first.sigmas >= limit.NOT_TRIED_SIGMA.value).any())


def _name(measured: Measured) -> str:
    if measured.resource is not None:
        return f"Capture {measured.resource}"
    return {
        "cranking_speed": "The scan tool's speed table",
        "misfire_counts": "The control unit's misfire count",
        "power_balance": "The power balance",
    }.get(measured.test, measured.test.replace("_", " ").capitalize())


def _list(cylinders: frozenset[int]) -> str:
    return ", ".join(map(str, sorted(cylinders)))

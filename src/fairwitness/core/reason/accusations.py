"""Whom measurements speak against, before anything is weighed: deviations, their sources, and contradictions.

From measurements; what is found goes to the rules of the verdict and to the statement.
"""

from __future__ import annotations

from collections.abc import Sequence

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.procedures.specs import SPECS

CAPTURE = template("accusations.capture", "Capture {resource}")
CONTRADICTION = template(
    "accusations.contradiction",
    "{one} accuses cylinder {ones}, {other} accuses cylinder {others}. Repeat both before believing either.",
)
ILL = (State.LOW, State.ABSENT, State.ABNORMAL)


def compared(finding: Finding) -> bool:
    """Whether a finding compares cylinders (and is not a remark beside the comparison)."""
    return not finding.is_remark


def high_is_sound(test: str) -> bool:
    """Whether more than the peers is no fault in a test."""
    return test in SPECS and SPECS[test].high_is_sound


def deviates(finding: Finding) -> bool:
    """Whether a finding speaks against a cylinder."""
    if finding.is_remark or finding.cylinder is None:
        return False
    if high_is_sound(finding.test):
        return finding.state in (State.LOW, State.ABSENT)
    return finding.state in (*ILL, State.HIGH)


def lines_of(measured: Sequence[Measured]) -> frozenset[str]:
    """Columns of the signature table that usable measurements speak to."""
    return frozenset(line.line for m in measured if m.usable for line in m.lines)


SEALING, WORK = ("RC", "CP"), "CON"
"""Columns that tell whether a cylinder seals, and whether it works."""


def sealing_tested(measured: Sequence[Measured], engine: Engine, cylinders: Sequence[int] = ()) -> bool:
    """Whether some usable measurement compared the sealing of some cylinders; of all, where none are given."""
    wanted = [engine.position(c) for c in cylinders or engine.firing_order]
    return any(
        line.line in SEALING and bool((line.sigmas[wanted] < limit.NOT_TRIED_SIGMA.value).all())
        for m in measured
        if m.usable
        for line in m.lines
    )


def accused_in(measured: Measured) -> frozenset[int]:
    """Cylinders that one measurement names."""
    return frozenset(f.cylinder for f in measured.findings if f.cylinder is not None and deviates(f))


def accused_in_any(usable: Sequence[Measured]) -> frozenset[int]:
    """Cylinders that any measurement names."""
    return frozenset().union(*(accused_in(m) for m in usable)) if usable else frozenset()


def accuses(measured: Measured, cylinders: tuple[int, ...]) -> bool:
    """Whether a measurement names one of some cylinders, or somebody without saying whom; any, where none are given."""
    unnamed = any(f.cylinder is None and f.state in ILL for f in measured.findings if compared(f))
    return (unnamed and measured.speaks) or any(
        deviates(f) and (not cylinders or f.cylinder in cylinders) for f in measured.findings
    )


def somebody_unnamed(usable: Sequence[Measured]) -> bool:
    """Whether something deviates and which cylinder it is stays open."""
    return any(
        f.state in ILL
        for m in usable
        for f in m.findings
        if compared(f) and ((f.cylinder is None and m.lines) or (f.state is State.ABNORMAL and high_is_sound(f.test)))
    )


def independent_source(measured: Measured) -> str:
    """What makes two measurements one source: the same capture, or the same kind of test by hand."""
    if measured.resource is None:
        return measured.test
    return measured.lines[0].source if measured.lines else measured.resource


def contradicting(usable: Sequence[Measured]) -> tuple[Measured, Measured] | None:
    """Two decided measurements of the same thing that name different cylinders: said, never averaged away."""
    decided = [
        (m, m.evidence)
        for m in usable
        if m.evidence is not None and len(m.evidence.alternatives) == 1 and not _partial(m)
    ]
    for i, (one, of_one) in enumerate(decided):
        for other, of_other in decided[i + 1 :]:
            if of_one.line != of_other.line:
                continue  # a cylinder that leaks and another that does not fire are two findings, not a contradiction
            first, second = accused_in(one), accused_in(other)
            if first and second and not first & second:
                return one, other
    return None


def contradiction_words(pair: tuple[Measured, Measured]) -> Message:
    """The contradiction as a sentence."""
    one, other = pair
    ones, others = (tuple(sorted(accused_in(m))) for m in pair)
    return CONTRADICTION(one=_name(one), ones=ones, other=_name(other), others=others)


def _partial(measured: Measured) -> bool:
    """Whether a capture holds only some of the cylinders: another one then names others without contradicting it."""
    first = measured.evidence
    return first is not None and bool((first.sigmas >= limit.NOT_TRIED_SIGMA.value).any())


def _name(measured: Measured) -> Message:
    if measured.resource is not None:
        return CAPTURE(resource=measured.resource)
    spec = SPECS[measured.test]
    return spec.says_which or spec.title

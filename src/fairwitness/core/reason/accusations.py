"""Whom measurements speak against, before anything is weighed: deviations, their sources, and contradictions.

From measurements; what is found goes to the rules of the verdict and to the statement.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from fairwitness.core import thresholds as limit
from fairwitness.core.messages.catalogue import phrase, template
from fairwitness.core.messages.message import Message
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Finding, Measured, State
from fairwitness.core.procedures.specs import SPECS

CAPTURE = template("accusations.capture", "Capture {resource}")
CONTRADICTION = template(
    "accusations.contradiction",
    "{one} accuses cylinder {ones}, {other} accuses cylinder {others}. Repeat both before believing either.",
)
CLEARED = template(
    "accusations.cleared",
    "{one} accuses cylinder {ones}, {other} clears it. Repeat both before believing either.",
)
WRONG_ORDER = phrase(
    "accusations.wrong_order",
    " A wrong firing order, or a sync on another cylinder than was said, would explain both.",
)
ILL = (State.LOW, State.ABSENT, State.ABNORMAL)


def compared(finding: Finding) -> bool:
    """Whether a finding compares cylinders (and is not a remark beside the comparison)."""
    return not finding.is_remark


def high_is_sound(test: str) -> bool:
    """Whether more than the peers is no fault in a test."""
    return test in SPECS and SPECS[test].high_is_sound


def stands_out(finding: Finding) -> bool:
    """Whether a finding is not as it should be, whoever it speaks of."""
    return finding.state in ILL or (finding.state is State.HIGH and not high_is_sound(finding.test))


def deviates(finding: Finding) -> bool:
    """Whether a finding speaks against a cylinder."""
    if finding.is_remark or finding.cylinder is None:
        return False
    return stands_out(finding) and not (finding.state is State.ABNORMAL and high_is_sound(finding.test))


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
        stands_out(f)
        for m in usable
        for f in m.findings
        if compared(f) and (f.cylinder is None or (f.state is State.ABNORMAL and high_is_sound(f.test)))
    )


def independent_source(measured: Measured) -> str:
    """What makes two measurements one source: the same capture, or the same kind of test by hand."""
    if measured.resource is None:
        items = measured.test in SPECS and SPECS[measured.test].items_are_sources
        return measured.categorical[0].kind if items and measured.categorical else measured.test
    return measured.lines[0].source if measured.lines else measured.resource


QUANTITY = {"RC": "sealing", "CP": "sealing", "CON": "work", "EX": "work"}
"""Columns that show the same thing by different means; a cylinder that leaks and another that does not fire are two
findings, not a contradiction."""
LEAK_DOWN = "leak_down"
APART = 0.25
"""[M] difference of shares from which two comparisons of one cylinder do not both hold."""


def contradicting(usable: Sequence[Measured]) -> tuple[Measured, Measured] | None:
    """Two decided measurements of the same thing that do not both hold: said, never averaged away."""
    decided = [m for m in usable if _is_decided(m)]
    for i, one in enumerate(decided):
        for other in decided[i + 1 :]:
            if _quantity(one) == _quantity(other) and _apart(one, other):
                return one, other
    return None


def _is_decided(measured: Measured) -> bool:
    if measured.test == LEAK_DOWN:
        return True
    line = measured.evidence
    return line is not None and len(line.alternatives) == 1 and not _partial(measured)


def _quantity(measured: Measured) -> str:
    if measured.evidence is None:
        return "sealing"
    return QUANTITY.get(measured.evidence.line, measured.evidence.line)


def _apart(one: Measured, other: Measured) -> bool:
    """Whether they name different cylinders, or one clears by far whom the other accuses."""
    first, second = accused_in(one), accused_in(other)
    if one.test == other.test == LEAK_DOWN:  # two cylinders tried, and both leak
        return False
    if LEAK_DOWN in (one.test, other.test):  # one cylinder tried: it clears nobody else, and a small leak is ordinary
        return bool(first and second and not first & second)
    if first and second:
        return not first & second
    own, theirs = one.evidence, other.evidence
    if own is None or theirs is None or own.line == theirs.line or not (first or second):
        return False
    return bool(np.abs(own.alternatives[0] - theirs.alternatives[0]).max() > APART)


def contradiction_words(pair: tuple[Measured, Measured]) -> Message:
    """The contradiction as a sentence."""
    one, other = pair
    ones, others = (tuple(sorted(accused_in(m))) for m in pair)
    if not ones or not others:
        accuser, clearing = (one, other) if ones else (other, one)
        return CLEARED(one=_name(accuser), ones=ones or others, other=_name(clearing))
    by_order = _quantity(one) == "sealing" and one.test != other.test
    words = CONTRADICTION(one=_name(one), ones=ones, other=_name(other), others=others)
    return words + WRONG_ORDER if by_order else words


def _partial(measured: Measured) -> bool:
    """Whether a capture holds only some of the cylinders: another one then names others without contradicting it."""
    first = measured.evidence
    return first is not None and bool((first.sigmas >= limit.NOT_TRIED_SIGMA.value).any())


def _name(measured: Measured) -> Message:
    if measured.resource is not None:
        return CAPTURE(resource=measured.resource)
    spec = SPECS[measured.test]
    return spec.says_which or spec.title

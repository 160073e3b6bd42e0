"""How far the evidence carries: named predicates, and the status that follows from them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from fairwitness.core import thresholds as limit
from fairwitness.core.engine import Engine
from fairwitness.core.finding import Finding, Measured, State
from fairwitness.core.reason.faults import FAULTS, OTHER_MECHANICAL, Cause
from fairwitness.core.reason.inference import Posterior
from fairwitness.core.reason.proof import DRIVERS, WHERE, heard_leaving, unmet

CAUSE_CLEAR = 0.6
CYLINDER_CLEAR = 0.5
FAULT_CLEAR = 0.75
SEPARATED = 0.8
ILL_CLEAR = 0.9
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
CAUSE_LINES = {
    "FV": "Whether it sparks: secondary voltage of all cylinders.",
    "IC": "Whether it is fed: injector current of all cylinders.",
}


class Status(StrEnum):
    """What may be said."""

    ESTABLISHED = "established"
    SUPPORTED = "supported"
    SUSPECTED = "suspected"
    INCONCLUSIVE = "inconclusive"
    NO_FAULT_FOUND = "no_fault_found"


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """What is accused, how firmly, and what is missing for more."""

    status: Status
    cause: Cause
    cylinders: tuple[int, ...]
    rivals: tuple[int, ...]
    """Cylinders that stay undecided with each other (companions, no sync)."""
    faults: tuple[str, ...]
    probability: float
    unmet: tuple[str, ...]
    contradiction: str = ""
    cause_open: bool = False
    """Some cylinder is ill; ``cause`` is only the likeliest."""


def stand(posterior: Posterior, measured: Sequence[Measured], engine: Engine, *, unread: int) -> Standing:
    """Decide what the evidence allows to be said.

    Parameters
    ----------
    posterior : Posterior
    measured : sequence of Measured
        All measurements, unusable ones included.
    engine : Engine
    unread : int
        Captures and observations given but not understood.

    Returns
    -------
    Standing
    """
    usable = [m for m in measured if m.speaks]
    if not usable:
        return _nothing(Status.INCONCLUSIVE, posterior, ("A usable capture.",))
    contradiction = _contradiction(usable)
    low = _accused_by_findings(usable)
    if contradiction:
        return Standing(
            status=Status.INCONCLUSIVE,
            cause=Cause.NONE,
            cylinders=(),
            rivals=tuple(sorted(low)),
            faults=(),
            probability=round(max(posterior.of_cause(c) for c in BLAMED), 4),
            unmet=("Two lines of evidence that agree.",),
            contradiction=contradiction,
        )
    cause = max(BLAMED, key=posterior.of_cause)
    ill = 1.0 - posterior.of_cause(Cause.NONE) - posterior.of_cause(Cause.OTHER)
    if posterior.of_cause(cause) >= CAUSE_CLEAR or (ill >= ILL_CLEAR and low):
        return _accusation(posterior, usable, engine, cause)
    if low or _open_accusation(usable):
        return _nothing(Status.INCONCLUSIVE, posterior, ("A deviation clear enough to stand out.",), tuple(sorted(low)))
    if unread:
        return _nothing(Status.INCONCLUSIVE, posterior, ("The captures and observations not read yet.",))
    return Standing(
        status=Status.NO_FAULT_FOUND,
        cause=Cause.NONE,
        cylinders=(),
        rivals=(),
        faults=(),
        probability=round(posterior.of_cause(Cause.NONE), 4),
        unmet=tuple(_untested(usable)),
    )


def _accusation(posterior: Posterior, usable: Sequence[Measured], engine: Engine, cause: Cause) -> Standing:
    clear = posterior.of_cause(cause) >= (CAUSE_CLEAR if cause is Cause.MECHANICAL else SEPARATED)
    causes = (cause,) if clear else BLAMED
    # A mechanical fault outside the catalogue sits where the cylinders were found low.
    unlisted = sum(
        float(p)
        for h, p in zip(posterior.hypotheses, posterior.probabilities, strict=True)
        if h.fault == OTHER_MECHANICAL and Cause.MECHANICAL in causes
    )
    found = _accused_by_findings(usable)
    shares = {
        c: sum(posterior.of_cylinder(c, k) for k in causes) + (unlisted if c in found else 0.0)
        for c in engine.firing_order
    }
    cylinders = tuple(sorted(c for c, p in shares.items() if p >= CYLINDER_CLEAR))
    rivals = () if cylinders else tuple(sorted(c for c, p in shares.items() if p >= 0.5 * max(shares.values())))
    whole = posterior.of_cause(cause)
    probability = min(whole, *(shares[c] for c in cylinders)) if cylinders else whole
    sources = {_witness(m) for m in usable if _accuses(m, cylinders)}
    top, p_top = posterior.hypotheses[0], float(posterior.probabilities[0])
    leads = clear and p_top >= RIVAL_ALSO_MISSING and top.cause is cause and top.fault in FAULTS
    wanted = unmet(top.fault, top.cylinders, usable) if leads else ()
    # The control unit is called last: not while feed, earth, wire or load were not excluded.
    named = leads and p_top >= FAULT_CLEAR and not (top.fault in DRIVERS and wanted)
    faults = (top.fault,) if named else ()
    open_points = []
    if not cylinders:
        open_points.append("Which cylinder: a sync on one known cylinder.")
    if len(sources) < 2:
        open_points.append("A second, different test that shows the same cylinder.")
    open_points += _missing(cause if clear else Cause.NONE, usable)
    open_points += [p.words for p in wanted]
    status = Status.SUPPORTED if len(sources) >= 2 and cylinders and clear else Status.SUSPECTED
    if status is Status.SUPPORTED and faults and not wanted:
        status = Status.ESTABLISHED
    return Standing(
        status=status,
        cause=cause,
        cylinders=cylinders,
        rivals=rivals,
        faults=faults,
        probability=round(probability, 4),
        unmet=tuple(dict.fromkeys(open_points)),
        cause_open=not clear,
    )


def _missing(cause: Cause, usable: Sequence[Measured]) -> list[str]:
    """What this cause still wants seen before a part may be named."""
    if cause is Cause.MECHANICAL:
        return [] if heard_leaving([s for m in usable for s in m.sightings]) else [WHERE.words]
    lines = lines_of(usable)
    missing = []
    if SEALING not in lines:
        missing.append("Whether the cylinder seals: relative compression.")
    if cause in (Cause.IGNITION, Cause.FUEL):
        return missing
    missing += [words for line, words in CAUSE_LINES.items() if line not in lines]
    return missing


def lines_of(measured: Sequence[Measured]) -> frozenset[str]:
    """Columns of the signature table that usable measurements speak to."""
    return frozenset(line.line for m in measured if m.usable for line in m.lines)


def _untested(usable: Sequence[Measured]) -> list[str]:
    lines = lines_of(usable)
    wanted = {SEALING: "sealing", WORK: "contribution", "FV": "ignition", "IC": "fuel"}
    open_to = [words for line, words in wanted.items() if line not in lines]
    if not open_to:
        return []
    listed = open_to[0] if len(open_to) == 1 else f"{', '.join(open_to[:-1])} and {open_to[-1]}"
    return [f"Tests of {listed}."]


def _nothing(status: Status, posterior: Posterior, unmet: tuple[str, ...], rivals: tuple[int, ...] = ()) -> Standing:
    return Standing(
        status=status,
        cause=Cause.NONE,
        cylinders=(),
        rivals=rivals,
        faults=(),
        probability=round(float(posterior.of_cause(Cause.NONE)), 4),
        unmet=unmet,
    )


def compared(finding: Finding) -> bool:
    """Whether a finding compares cylinders (and is not a remark beside the comparison)."""
    return not finding.beside


def deviates(finding: Finding) -> bool:
    """Whether a finding speaks against a cylinder."""
    if finding.beside or finding.cylinder is None:
        return False
    if finding.test in HIGH_IS_SOUND:
        return finding.state in (State.LOW, State.ABSENT)
    return finding.state in (State.LOW, State.ABSENT, State.HIGH, State.ABNORMAL)


def _accuses(measured: Measured, cylinders: tuple[int, ...]) -> bool:
    ill = (State.LOW, State.ABSENT, State.ABNORMAL)
    unnamed = any(f.cylinder is None and f.state in ill for f in measured.findings if compared(f))
    return (unnamed and bool(measured.lines)) or any(
        deviates(f) and (not cylinders or f.cylinder in cylinders) for f in measured.findings
    )


def _witness(measured: Measured) -> str:
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


def _contradiction(usable: Sequence[Measured]) -> str:
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
                return (
                    f"{_name(one)} accuses cylinder {_list(first)}, {_name(other)} accuses cylinder {_list(second)}. "
                    "Repeat both before believing either."
                )
    return ""


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

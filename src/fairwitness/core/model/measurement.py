"""What one test says of one cylinder, and of the capture it came from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import NOTHING, Message, joined
from fairwitness.core.model.reason import Reason

FloatArray = NDArray[np.float64]

NOT_COMPARED = template("measurement.not_compared", "Cylinder {cylinder} was not compared: {why}")


class State(StrEnum):
    """How a value stands beside its peers."""

    NORMAL = "normal"
    LOW = "low"
    HIGH = "high"
    ABSENT = "absent"
    ABNORMAL = "abnormal"
    UNUSABLE = "unusable"


@dataclass(frozen=True, slots=True, kw_only=True)
class Origin:
    """Where a finding comes from, so that it can be repeated."""

    resource: str | None = None
    """Name of the capture in the case."""
    observation: int | None = None
    """Index of the observation in the case."""
    capture_sha256: str | None = None
    code_version: str = ""
    parameters: tuple[tuple[str, float | str], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """What one test says of one cylinder. Never edited: a correction is a new finding."""

    test: str
    cylinder: int | None
    """The maker's number, not the place in the firing order; None: whole engine, or which one is not known."""
    quantity: str
    value: float | None
    """None: not measured. 0.0: measured, and nothing there."""
    unit: str
    spread: float | None
    """Robust sigma over the events, same unit as value."""
    events: int
    state: State
    statement: Message
    origin: Origin
    id: str = ""
    word: Message = NOTHING
    """The outcome in a word where there is no number: ``open``, ``moved``, ``wet``."""
    is_remark: bool = False
    """A remark beside the comparison of cylinders (a rate, a disagreement of sources): it accuses nobody."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CategoricalEvidence:
    """A piece of evidence without a scale: one of a few outcomes at some place (a meter, a lamp, a part swapped).

    Parameters
    ----------
    kind : str
        A row of the table of outcomes (``resistance:coil_primary``).
    outcome : str
        What came out (``open``).
    cylinders : tuple of int
        Where; empty for the whole engine.
    source : str
        As of ``Evidence``.
    """

    kind: str
    outcome: str
    cylinders: tuple[int, ...]
    source: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """One line of evidence in the form the reasoning weighs: a share per cylinder, possibly with open assignment.

    Parameters
    ----------
    line : str
        The column of the signature table it speaks to (``RC``).
    source : str
        What would make two lines independent: one capture or one table is one source.
    alternatives : tuple of (cylinders,) float arrays
        Share of the peers in firing-order position; more than one where the assignment is ambiguous.
    sigmas : (cylinders,) float
        Uncertainty of each share.
    """

    line: str
    source: str
    alternatives: tuple[FloatArray, ...]
    sigmas: FloatArray


@dataclass(frozen=True, slots=True, kw_only=True)
class AveragedCycle:
    """The averaged cycle of one test on the shared axis, first of the firing order at its first column.

    Parameters
    ----------
    angle_deg : (n,) float
        0 to 720.
    middle, low, high : (n,) float
        Median and quartiles over the cycles.
    unit : str
    """

    angle_deg: FloatArray
    middle: FloatArray
    low: FloatArray
    high: FloatArray
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Measured:
    """All one test says of one capture or observation."""

    test: str
    resource: str | None = None
    observation: int | None = None
    usable: bool = True
    reasons: tuple[Reason, ...] = ()
    findings: tuple[Finding, ...] = ()
    lines: tuple[Evidence, ...] = ()
    """What the reasoning weighs of it; the first is the one the test is known by."""
    categorical: tuple[CategoricalEvidence, ...] = ()
    averaged_cycle: AveragedCycle | None = None
    facts: dict[str, float | str | Message] = field(default_factory=dict)
    """Figures for the board and the report: cycles, speed_rpm, assignment, source."""
    figures: Mapping[int, Mapping[str, float]] = field(default_factory=dict)
    """What was read of each cylinder before any comparing, by name; lets a sweep of single captures be compared."""
    cycle_starts_s: tuple[float, ...] = ()
    """Where each cycle used begins in the capture, for the trace view."""

    @property
    def evidence(self) -> Evidence | None:
        """The line the test is known by; None where it says nothing of shares."""
        return self.lines[0] if self.lines else None

    @property
    def sources(self) -> frozenset[str]:
        """What the reasoning knows this evidence by."""
        return frozenset([*(line.source for line in self.lines), *(s.source for s in self.categorical)])

    @property
    def speaks(self) -> bool:
        """Whether the reasoning hears it at all."""
        return self.usable and bool(self.lines or self.categorical)


def refused(test: str, unit: str, cylinders: tuple[int, ...], reasons: tuple[Reason, ...], origin: Origin) -> Measured:
    """A measurement that could not be used: one unusable finding per cylinder, no evidence.

    Parameters
    ----------
    test, unit : str
    cylinders : tuple of int
        In firing order.
    reasons : tuple of Reason
        At least one blocking.
    origin : Origin

    Returns
    -------
    Measured
    """
    why = joined(*(r.statement for r in reasons if r.blocking), by=" ")
    findings = tuple(
        Finding(
            test=test,
            cylinder=c,
            quantity=test,
            value=None,
            unit=unit,
            spread=None,
            events=0,
            state=State.UNUSABLE,
            statement=NOT_COMPARED(cylinder=c, why=why),
            origin=origin,
        )
        for c in cylinders
    )
    return Measured(
        test=test,
        resource=origin.resource,
        observation=origin.observation,
        usable=False,
        reasons=reasons,
        findings=findings,
    )

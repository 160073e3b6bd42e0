"""Under which conditions the evidence was taken, beside those the complaint comes under.

From the case and its measurements. How far each source could meet a fault that comes and goes is weighed; what was not
tried under the conditions of the complaint goes to the statement.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fairwitness.core.model.case import Case
from fairwitness.core.model.circumstances import UNKNOWN, Circumstances, read_circumstances
from fairwitness.core.model.measurement import Measured

THERE, NOT_THERE = 50.0, 0.02
"""[M] what the odds of having met a fault are multiplied by where the complaint was there, or was not, meanwhile."""
AS_COMPLAINED, OTHERWISE = 3.0, 0.2
"""[M] the same where a reading was taken under the conditions of the complaint, or under others."""


@dataclass(frozen=True, slots=True)
class Taken:
    """How one measurement was taken; ``happened`` says whether the complaint was there meanwhile, None if not said, and
    ``watched_s`` how long the same leads were watched in all."""

    under: Circumstances = UNKNOWN
    happened: bool | None = None
    watched_s: float | None = None


def taken_of(case: Case, measured: Measured) -> Taken:
    """How a measurement of a case was taken, by the set-up of its capture or the fields of its observation."""
    if measured.resource is not None:
        set_up = next((c.set_up for c in case.captures if c.name == measured.resource), None)
        return Taken() if set_up is None else Taken(set_up.circumstances, set_up.happened, set_up.watched_s)
    if measured.observation is None or measured.observation >= len(case.observations):
        return Taken()
    data = case.observations[measured.observation].data
    happened = data.get("happened")
    return Taken(read_circumstances(data), happened if isinstance(happened, bool) else None)


def odds_met(case: Case, measured: Sequence[Measured]) -> dict[str, float]:
    """How much likelier or less likely than usual each source met the complaint.

    Parameters
    ----------
    case : Case
    measured : sequence of Measured

    Returns
    -------
    dict of source to float
        Factor on the odds; sources of which nothing is known are left out.
    """
    factors = {}
    for m in measured:
        taken, wanted = taken_of(case, m), case.complaint_when
        factor = 1.0
        if taken.happened is not None:
            factor = THERE if taken.happened else NOT_THERE
        elif wanted and taken.under:
            factor = OTHERWISE if wanted.contradicted_by(taken.under) else 1.0
            factor = factor if wanted.missing_in(taken.under) else AS_COMPLAINED
        if factor != 1.0:
            factors.update(dict.fromkeys(m.sources, factor))
    return factors


def not_tried(case: Case, measured: Sequence[Measured]) -> Circumstances:
    """Conditions of the complaint that no usable reading was taken under; nothing where one was, or it happened."""
    wanted = case.complaint_when
    if not wanted:
        return UNKNOWN
    taken = [taken_of(case, m) for m in measured if m.usable]
    if any(t.happened for t in taken):
        return UNKNOWN
    missing = [wanted.missing_in(t.under) for t in taken]
    return min(missing, key=lambda left: len(left.words), default=wanted)


def caught(case: Case, measured: Sequence[Measured], *, deviates: bool) -> bool:
    """Whether the complaint was there while something was taken: said so, or something stood out."""
    return deviates or any(taken_of(case, m).happened for m in measured if m.usable)

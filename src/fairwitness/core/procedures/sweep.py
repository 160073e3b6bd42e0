"""What was captured cylinder by cylinder, judged as if it had been one capture."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Protocol

from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin
from fairwitness.core.model.reason import Reason

Figures = Mapping[str, float]
LONE = "lone_part"
"""Code of the reason a part carries that has no peers of its own."""


class Comparison(Protocol):
    """How a test judges the figures of some cylinders beside those of all."""

    def __call__(
        self,
        figures: Mapping[int, Figures],
        engine: Engine,
        *,
        origin: Origin,
        source: str,
        only: Mapping[int, Figures] | None = None,
    ) -> tuple[tuple[Finding, ...], tuple[Evidence, ...], tuple[Reason, ...]]:
        """Findings, lines and reasons of the cylinders in ``only``."""
        ...


def judged_together(parts: Sequence[Measured], engine: Engine, compare: Comparison) -> tuple[Measured, ...]:
    """Judge each part's cylinders beside all that were captured.

    Parameters
    ----------
    parts : sequence of Measured
        Usable, of one test, none of them holding all cylinders.
    engine : Engine
    compare : Comparison
        Of that test.

    Returns
    -------
    tuple of Measured
        The same parts in the same order; of a cylinder captured twice the later capture counts. Remarks that compare
        nothing (a reaction within one capture) are kept.
    """
    pooled: dict[int, Figures] = {}
    for part in parts:
        pooled.update(part.figures)
    judged = []
    for part in parts:
        own = {c: f for c, f in part.figures.items() if pooled[c] is f}
        findings, lines, more = compare(
            pooled, engine, origin=part.findings[0].origin, source=f"sweep:{part.test}", only=own
        )
        reported = {f.quantity for f in findings}
        remarks = tuple(f for f in part.findings if f.is_remark and f.quantity not in reported and f.value is None)
        kept = [r for r in part.reasons if r.code != LONE]
        known = {r.code for r in kept}
        reasons = (*kept, *(r for r in more if r.code not in known))
        judged.append(replace(part, findings=(*findings, *remarks), lines=lines, reasons=reasons))
    return tuple(judged)

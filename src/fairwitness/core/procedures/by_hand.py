"""What tests by hand share: one observation becomes one finding and one sighting, or a refusal that says why."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from fairwitness import __version__
from fairwitness.core.model.engine import Engine, Ignition
from fairwitness.core.model.measurement import CategoricalEvidence, Finding, Measured, Origin, State, refused
from fairwitness.core.model.reason import Reason


def origin_of(index: int) -> Origin:
    """Where a finding of an observation comes from."""
    return Origin(observation=index, code_version=__version__)


def cylinder_of(data: Mapping[str, Any], engine: Engine, key: str = "cylinder") -> int | None:
    """The cylinder an observation names; None where it names none of this engine."""
    cylinder = data.get(key)
    named = isinstance(cylinder, int) and not isinstance(cylinder, bool) and cylinder in engine.firing_order
    return cylinder if named else None


def number_of(data: Mapping[str, Any], key: str, *, low: float, high: float) -> float | None:
    """A number an observation holds; None where it is missing, not finite or beyond what a meter shows."""
    value = data.get(key)
    if not isinstance(value, int | float) or isinstance(value, bool) or not math.isfinite(value):
        return None
    return float(value) if low <= value <= high else None


def on_the_coil(cylinder: int, engine: Engine) -> tuple[int, ...]:
    """All cylinders that live on the coil of one: a waste-spark coil serves two."""
    for pair in engine.coil_pairs or (engine.companion_pairs if engine.ignition is Ignition.WASTE_SPARK else ()):
        if cylinder in pair:
            return tuple(sorted(pair))
    return (cylinder,)


def unread(test: str, index: int, engine: Engine, why: str, *, cylinder: int | None = None) -> Measured:
    """An observation that says nothing, with the reason."""
    who = (cylinder,) if cylinder is not None else engine.firing_order
    return refused(test, "1", who, (Reason("not_understood", why, blocking=True),), origin_of(index))


def seen(
    test: str,
    index: int,
    *,
    kind: str,
    outcome: str,
    cylinders: tuple[int, ...],
    cylinder: int | None,
    state: State,
    statement: str,
    word: str,
    value: float | None = None,
    unit: str = "1",
    group: str = "",
    figures: Mapping[int, Mapping[str, float]] | None = None,
) -> Measured:
    """One outcome at one place.

    Parameters
    ----------
    test : str
    index : int
        Of the observation in the case.
    kind, outcome : str
        Row and column of the table of outcomes; an empty kind is told but not weighed.
    cylinders : tuple of int
        Where the outcome speaks of.
    cylinder : int or None
        Where it was taken.
    state, statement, word, value, unit
        Of the finding.
    group : str
        Observations of one group are one row of the board.
    figures : mapping, optional
        Kept for comparing with the other cylinders.

    Returns
    -------
    Measured
    """
    evidence = CategoricalEvidence(kind=kind, outcome=outcome, cylinders=cylinders, source=f"observation:{index}")
    return Measured(
        test=test,
        observation=index,
        findings=(
            Finding(
                test=test, cylinder=cylinder, quantity=group or test, value=value, unit=unit, spread=None, events=1,
                state=state, statement=statement, word=word, origin=origin_of(index),
            ),
        ),
        categorical=(evidence,) if kind else (),
        facts={"group": group or test, "assignment": "by hand"},
        figures=figures or {},
    )  # fmt: skip

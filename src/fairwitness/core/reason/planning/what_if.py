"""What if: an outcome nobody has seen, in the form of a measurement, so that the statement can be seen to move.

It is never evidence: it names no capture and no observation, and every sentence of it says that it is imagined.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.catalogue import template
from fairwitness.core.messages.message import NOTHING
from fairwitness.core.messages.rendering import render
from fairwitness.core.messages.words import outcome_word
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import CategoricalEvidence, Evidence, Finding, Measured, Origin, State
from fairwitness.core.procedures.spec import Offer
from fairwitness.core.procedures.specs import OFFERS, TEST_OF
from fairwitness.core.reason.knowledge.densities import SHIPPED
from fairwitness.core.reason.knowledge.outcomes import outcomes_of
from fairwitness.core.reason.planning.implications import FORM_IDS

AT_CYLINDER = template("what_if.at_cylinder", " at cylinder {cylinder}")
COMES_OUT = template("what_if.comes_out", "Imagined: {title:lower}{where} comes out {outcome}.")


IMAGINED = "imagined"
SYMBOLS = {name: symbol for symbol, name in FORM_IDS.items()}
UNSTEADY_SHARE = 0.8
"""[M] what disturbed events leave of a share; the form itself has no side."""
STATES = {"alike": State.NORMAL, "low": State.LOW, "absent": State.ABSENT, "high": State.HIGH,
          "unsteady": State.ABNORMAL}  # fmt: skip


def imagined(test_id: str, outcome: str, cylinders: Sequence[int], engine: Engine) -> Measured:
    """An outcome of a test as if it had been taken.

    Parameters
    ----------
    test_id : str
        Of the table of bay tests.
    outcome : str
        As the plan names it: ``alike``, ``low``, ``absent``, ``high``, ``unsteady``, or a row of the table of outcomes.
    cylinders : sequence of int
        Where; may be empty for what is alike everywhere or speaks of the whole engine.
    engine : Engine

    Returns
    -------
    Measured

    Raises
    ------
    ObservationError
        No such test, outcome or cylinder.
    """
    test = OFFERS.get(test_id)
    if test is None:
        raise ObservationError(f"There is no test {test_id!r}.", where="test", remedy="Take one that the plan offers.")
    strange = [c for c in cylinders if c not in engine.firing_order]
    if strange:
        raise ObservationError(f"This engine has no cylinder {strange[0]}.", where="cylinders")
    at = tuple(cylinders)
    known = tuple(SYMBOLS) if test.columns else outcomes_of(test.kinds[0])
    if outcome not in known:
        raise ObservationError(
            f"{render(test.title)} cannot come out {outcome!r}.",
            where="outcome",
            remedy=f"It comes out {', '.join(known)}.",
        )
    return _shares(test, outcome, at, engine) if test.columns else _outcome(test, outcome, at, engine)


def _shares(test: Offer, outcome: str, at: tuple[int, ...], engine: Engine) -> Measured:
    column, symbol = test.columns[0], SYMBOLS[outcome]
    share = UNSTEADY_SHARE if outcome == "unsteady" else SHIPPED.forms_of(column, symbol)[0].centre
    shares = np.array([share if c in at else 1.0 for c in engine.firing_order])
    findings = tuple(
        _finding(test, c, STATES[outcome] if c in at else State.NORMAL, outcome if c in at else "alike")
        for c in engine.firing_order
    )
    line = Evidence(
        line=column,
        source=f"{IMAGINED}:{test.id}",
        alternatives=(shares,),
        sigmas=test.sigmas(shares),
    )
    return Measured(test=TEST_OF[test.id], findings=findings, lines=(line,), facts={IMAGINED: 1.0})


def _outcome(test: Offer, outcome: str, at: tuple[int, ...], engine: Engine) -> Measured:
    usual = outcomes_of(test.kinds[0])[0]
    state = State.NORMAL if outcome == usual else State.ABNORMAL
    where = at or tuple(engine.firing_order)
    categorical = tuple(
        CategoricalEvidence(kind=test.kinds[0], outcome=outcome, cylinders=(c,) if test.per_cylinder else where,
                 source=f"{IMAGINED}:{test.id}")
        for c in (where if test.per_cylinder else where[:1])
    )  # fmt: skip
    findings = tuple(_finding(test, c, state, outcome) for c in (at or (None,)))
    return Measured(test=TEST_OF[test.id], findings=findings, categorical=categorical, facts={IMAGINED: 1.0})


def _finding(test: Offer, cylinder: int | None, state: State, outcome: str) -> Finding:
    where = AT_CYLINDER(cylinder=cylinder) if cylinder is not None and outcome != "alike" else NOTHING
    name = TEST_OF[test.id]
    return Finding(
        test=name, cylinder=cylinder, quantity=name, value=None, unit="1", spread=None, events=0, state=state,
        statement=COMES_OUT(title=test.title, where=where, outcome=outcome_word(outcome)),
        origin=Origin(), word=outcome_word(outcome),
    )  # fmt: skip

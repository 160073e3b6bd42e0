"""The crank was there: a reported count is set aside where the raw signal says otherwise, and that is said."""

import numpy as np
import pytest

from fairwitness.core.messages.message import verbatim
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State
from fairwitness.core.reason.source_precedence import raw_preferred

FOUR = (1, 3, 4, 2)


def witness(test, ill, *, usable=True):
    shares = np.array([0.0 if c in ill else 1.0 for c in FOUR])
    findings = tuple(
        Finding(
            test=test, cylinder=c, quantity=test, value=float(s), unit="1", spread=None, events=9,
            state=State.ABSENT if c in ill else State.NORMAL, statement=verbatim("-"), origin=Origin(observation=0),
        )
        for c, s in zip(FOUR, shares, strict=True)
    )  # fmt: skip
    evidence = Evidence(line="CON", source=test, alternatives=(shares,), sigmas=np.full(4, 0.1))
    return Measured(test=test, usable=usable, findings=findings, lines=(evidence,))


@pytest.mark.parametrize("counted", [(), (2,), (3, 2)])
def test_a_count_against_the_crank_is_heard_no_more(counted):
    crank, counts = raw_preferred((witness("crank_speed", (3,)), witness("misfire_counts", counted)))
    assert crank.evidence is not None
    assert counts.evidence is None
    assert "crank signal is believed" in render(counts.reasons[-1].statement)
    assert counts.usable  # it stays on the board


def test_a_count_that_agrees_counts():
    measured = (witness("crank_speed", (3,)), witness("misfire_counts", (3,)))
    assert raw_preferred(measured) == measured


def test_a_count_alone_is_heard():
    measured = (witness("misfire_counts", (3,)), witness("crank_speed", (2,), usable=False))
    assert raw_preferred(measured) == measured

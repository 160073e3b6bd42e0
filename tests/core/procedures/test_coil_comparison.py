"""Coils beside each other: ramps written down by hand."""

import numpy as np
import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import Origin, State
from fairwitness.core.procedures.coil_current.measure import compare

SIX = even_engine((1, 5, 3, 6, 2, 4))
ORIGIN = Origin(resource="coils", capture_sha256="0" * 64, code_version="0")
USUAL = {"ramps": 30.0, "missed": 0.0, "peak_a": 7.0, "dwell_ms": 3.0, "start_slope": 3.2, "end_slope": 1.6}


def judged(odd=None, **more):
    figures = {c: {**USUAL, **(odd or {}).get(c, {})} for c in SIX.firing_order}
    return compare(figures, SIX, origin=ORIGIN, source="capture:coils", **more)


def of(findings, cylinder):
    return next(f for f in findings if f.cylinder == cylinder)


def test_coils_alike_accuse_nobody():
    findings, lines, reasons = judged()
    assert {f.state for f in findings} == {State.NORMAL}
    assert lines[0].alternatives[0] == pytest.approx(np.ones(6))
    assert reasons == ()
    assert "like its peers" in render(of(findings, 1).statement)


def test_ramps_that_begin_between_samples_are_compared_by_height_alone():
    findings, lines, _ = judged(
        {c: {"start_slope": 0.0, **({"peak_a": 3.0} if c == 3 else {})} for c in SIX.firing_order}
    )
    assert {f.cylinder: f.state for f in findings if f.state is not State.NORMAL} == {3: State.LOW}
    assert np.isfinite(lines[0].alternatives[0]).all()


@pytest.mark.parametrize(
    ("figures", "state", "words"),
    [
        ({"ramps": 0.0, "peak_a": 0.0}, State.ABSENT, "draws no current"),
        ({"peak_a": 3.0}, State.LOW, "resistance"),
        ({"peak_a": 3.0, "dwell_ms": 1.2}, State.LOW, "dwell"),
        ({"start_slope": 8.0}, State.HIGH, "steep"),
        ({"missed": 0.4}, State.ABNORMAL, "40 %"),
    ],
)
def test_one_that_differs_is_told_by_what_differs(figures, state, words):
    findings, _, _ = judged({3: figures})
    assert of(findings, 3).state is state
    assert words in render(of(findings, 3).statement)
    assert {of(findings, c).state for c in (1, 2, 4, 5, 6)} == {State.NORMAL}


def test_a_short_dwell_is_not_called_resistance():
    text = render(of(judged({3: {"peak_a": 3.0, "dwell_ms": 1.2}})[0], 3).statement)
    assert "resistance" not in text


def test_shares_are_height_where_it_is_short_and_steepness_else():
    _, lines, _ = judged({3: {"peak_a": 3.5}, 6: {"start_slope": 6.4}, 2: {"ramps": 0.0, "peak_a": 0.0}})
    shares = dict(zip(SIX.firing_order, lines[0].alternatives[0], strict=True))
    assert shares[3] == pytest.approx(0.5, abs=0.02)
    assert shares[6] == pytest.approx(2.0, abs=0.05)
    assert shares[2] == 0.0


def test_no_coil_at_all_that_charges_is_compared_with_nothing():
    assert judged({c: {"ramps": 0.0} for c in SIX.firing_order}) == ((), (), ())


def test_an_open_assignment_names_nobody_and_keeps_every_turn():
    findings, lines, _ = judged({3: {"peak_a": 3.0}}, order_offsets=(0, 3))
    assert [f.cylinder for f in findings] == [None]
    assert findings[0].state is State.LOW
    assert render(findings[0].statement).startswith("One coil")
    first, other = lines[0].alternatives
    assert np.roll(first, -3) == pytest.approx(other)


def test_a_lone_coil_is_told_by_its_own_ramp():
    findings, lines, reasons = compare({2: USUAL}, SIX, origin=ORIGIN, source="s")
    assert lines == ()
    assert [r.code for r in reasons] == ["lone_part"]
    assert "7.0 A" in render(findings[0].statement)

"""The leading hypothesis beside its rival, and what speaks against it."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.messages.message import verbatim
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import CategoricalEvidence, Finding, Measured, Origin, State
from fairwitness.core.reason.inference.explanation import explain
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.inference.posterior import infer
from fairwitness.core.reason.planning.what_if import imagined
from fairwitness.core.reason.report.alternatives import in_words, methods_apart, rival, spoken_against
from tests.core.reason.evidence import case, line

FOUR = even_engine((1, 3, 4, 2))


def reported(*lines, categorical=()):
    return infer(hypotheses(case(FOUR)), lines, FOUR, categorical)


def heard(at, source="o"):
    return CategoricalEvidence(kind="leak_down", outcome=at, cylinders=(3,), source=source)


def test_the_rival_is_another_fault_or_place():
    found = explain(reported(line(FOUR, {3: 0.1}), categorical=[heard("exhaust")]))
    assert found.leading.fault == "exhaust_valve_leak"
    assert found.rival.fault != "exhaust_valve_leak" or not set(found.rival.cylinders) & {3}


def test_what_tells_them_apart_names_its_source_and_side():
    found = explain(reported(line(FOUR, {3: 0.1}, source="capture:a"), categorical=[heard("exhaust", "observation:1")]))
    assert found.telling[0].source == "observation:1"
    assert found.telling[0].nats > 0


def test_testimony_adds_up_to_the_posterior():
    posterior = reported(line(FOUR, {3: 0.1}), categorical=[heard("exhaust")])
    scores = posterior.log_likelihoods.sum(axis=0) + np.log([h.prior for h in posterior.hypotheses])
    again = np.exp(scores - scores.max())
    assert np.allclose(again / again.sum(), posterior.probabilities)


def test_evidence_that_fits_everything_else_better_is_named_against_it():
    swaps = [CategoricalEvidence(kind="swap:coil", outcome="moved", cylinders=(3,), source="observation:9")]
    leaks = [line(FOUR, {3: 0.05}, source=f"capture:{n}", sigma=0.03) for n in "abc"]
    found = explain(reported(*leaks, categorical=[*swaps, heard("exhaust", "observation:7")]))
    words = [render(s.text) for s in spoken_against(found, (), proven=False)]
    # Two unrelated faults would explain all of it; where one is kept, what it leaves over is named.
    assert bool(found.leading.also) != any("Take it again" in text for text in words)
    proven = [render(s.text) for s in spoken_against(found, (), proven=True)]
    assert len(proven) == len(words)
    assert not any("Take it again" in text for text in proven)


def test_nothing_measured_explains_nothing():
    found = explain(infer(hypotheses(case(FOUR)), [], FOUR))
    assert found.rival is None
    assert found.telling == ()


def test_the_rival_is_told_in_words_with_what_would_decide():
    found = explain(reported(line(FOUR, {3: 0.1})))
    sentences = [render(s.text) for s in rival(found, (), verbatim("Leak-down at TDC compression"))]
    assert "at cylinder 3" in sentences[0]
    assert sentences[-1] == "What would decide: leak-down at TDC compression."
    assert render(in_words(found.leading)).endswith("at cylinder 3")


def test_two_ways_to_see_the_valves_that_differ_stay_a_disagreement():
    def cam(outcome):
        return imagined("cam_timing", outcome, (), FOUR)

    def valves(outcome):
        reported = cam("usual")
        observed = CategoricalEvidence(kind="valve_events", outcome=outcome, cylinders=(1,), source="capture:p")
        return replace(reported, test="cylinder_pressure", categorical=(observed,))

    assert "both stand" in render(methods_apart((cam("usual"), valves("late")))[0].text)
    assert methods_apart((cam("late"), valves("late"))) == []
    assert methods_apart((cam("late"), valves("very_late"))) == []
    assert methods_apart((cam("late"),)) == []


@pytest.mark.parametrize(("valves_deg", "apart"), [(22.0, False), (40.0, True)])
def test_two_ways_that_agree_in_direction_but_not_in_degrees_are_named(valves_deg, apart):
    def said(test, kind, quantity, value, *, remark):
        finding = Finding(
            test=test, cylinder=None, quantity=quantity, value=value, unit="deg", spread=None, events=1,
            state=State.ABNORMAL, statement=verbatim("."), is_remark=remark, origin=Origin(code_version="0"), id=test,
        )  # fmt: skip
        observed = CategoricalEvidence(kind=kind, outcome="late", cylinders=(1,), source=test)
        return Measured(test=test, findings=(finding,), categorical=(observed,))

    cam = said("cam_timing", "cam_timing", "cam_timing", 20.0, remark=False)
    valves = said("cylinder_pressure", "valve_events", "valve_shift", valves_deg, remark=True)
    sentences = methods_apart((cam, valves))
    assert bool(sentences) is apart
    if apart:
        assert "by 20°" in render(sentences[0].text)
        assert "by 40°" in render(sentences[0].text)
        assert set(sentences[0].findings) == {"cam_timing", "cylinder_pressure"}

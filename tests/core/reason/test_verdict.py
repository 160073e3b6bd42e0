from dataclasses import replace

import numpy as np

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.reason import Reason
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.reason.inference.hypotheses import Hypothesis, hypotheses
from fairwitness.core.reason.inference.posterior import Posterior, infer
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.verdict import Status, judge_case
from tests.core.reason.evidence import case, measured


def verdict(engine, *all_measured, unread=0):
    lines = [m.evidence for m in all_measured if m.evidence is not None]
    posterior = infer(hypotheses(case(engine)), lines, engine)
    return judge_case(posterior, all_measured, engine, unread=unread)


def test_one_line_of_evidence_is_a_suspicion(four):
    result = verdict(four, measured(four, {3: 0.05}))
    assert (result.status, result.cause, result.cylinders) == (Status.SUSPECTED, Cause.MECHANICAL, (3,))
    assert result.faults == ()
    assert any("second" in render(u) for u in result.unmet)


def test_two_independent_lines_support(four):
    result = verdict(four, measured(four, {3: 0.05}), measured(four, {3: 0.1}, name="b"))
    assert result.status is Status.SUPPORTED


def test_nothing_here_is_ever_established(four):
    many = [measured(four, {3: 0.05}, name=str(i)) for i in range(5)]
    assert verdict(four, *many).status is not Status.ESTABLISHED


def test_two_lines_that_contradict_are_named_not_averaged(four):
    result = verdict(four, measured(four, {3: 0.05}), measured(four, {2: 0.05}, name="b"))
    assert result.status is Status.INCONCLUSIVE
    assert "cylinder 3" in render(result.contradiction)
    assert "cylinder 2" in render(result.contradiction)
    assert result.cylinders == ()


def test_an_unusable_capture_accuses_nobody(four):
    result = verdict(four, measured(four, {3: 0.05}, usable=False))
    assert (result.status, result.cylinders) == (Status.INCONCLUSIVE, ())


def test_even_compression_finds_no_fault_unless_evidence_is_unread(four):
    assert verdict(four, measured(four, {})).status is Status.NO_FAULT_FOUND
    assert verdict(four, measured(four, {}), unread=2).status is Status.INCONCLUSIVE


def test_where_a_fault_leads_that_cannot_be_named_yet_nobody_is_called_sound(four):
    late = Hypothesis("valve_timing_shifted", Cause.MECHANICAL, four.firing_order, 0.5)
    none = Hypothesis("no_fault", Cause.NONE, (), 0.5)
    even = [measured(four, {})]

    def reported(*ranked):
        hypotheses_, chances = zip(*ranked, strict=True)
        return judge_case(
            Posterior(hypotheses=hypotheses_, probabilities=np.array(chances)), even, four, unread=0
        ).status

    assert reported((late, 0.52), (none, 0.48)) is Status.INCONCLUSIVE
    assert reported((none, 0.52), (late, 0.48)) is Status.NO_FAULT_FOUND
    assert reported((late, 0.9), (none, 0.1)) is Status.SUSPECTED


def test_an_engine_that_may_not_run_at_all_is_not_called_sound(four):
    stalled = replace(measured(four, {}, name="w", usable=False), test="crank_speed")
    not_running = Reason("not_running", "The engine turned at 240 rpm: it was not running.", blocking=True)
    assert verdict(four, measured(four, {}), stalled).status is Status.NO_FAULT_FOUND
    reported = verdict(four, measured(four, {}), replace(stalled, reasons=(not_running,)))
    assert reported.status is Status.INCONCLUSIVE
    assert any("running" in render(words) for words in reported.unmet)


def test_an_engine_that_does_not_start_is_never_without_a_fault(four):
    sound = conclude(case(four, symptom=Symptom.NO_START), (measured(four, {}),))
    assert sound.verdict.status is Status.INCONCLUSIVE
    assert render(sound.statement.headline) == "It does not start, and nothing that was tested so far shows why."
    assert conclude(case(four), (measured(four, {}),)).verdict.status is Status.NO_FAULT_FOUND

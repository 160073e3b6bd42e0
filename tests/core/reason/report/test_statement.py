from fairwitness.core.messages.message import verbatim
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.inference.posterior import infer
from fairwitness.core.reason.report.statement import Context, compose
from fairwitness.core.reason.verdict import judge_case
from tests.core.reason.evidence import case, measured


def statement(engine, *all_measured, not_read=()):
    lines = [m.evidence for m in all_measured if m.evidence is not None]
    posterior = infer(hypotheses(case(engine)), lines, engine)
    verdict = judge_case(posterior, all_measured, engine, unread=len(not_read))
    return compose(verdict, posterior, all_measured, engine, Context(not_read=tuple(not_read)))


def test_a_dead_hole_is_said_in_one_line(four):
    said = statement(four, measured(four, {3: 0.05}))
    assert render(said.headline) == "Cylinder 3 does not seal: hardly any compression."
    assert any("mechanical" in render(s.text) for s in said.follows)


def test_every_seen_sentence_names_its_findings(four):
    said = statement(four, measured(four, {3: 0.05}))
    assert said.seen
    assert all(s.findings for s in said.seen)


def test_a_disturbed_neighbour_is_mentioned_not_accused(six):
    said = statement(six, measured(six, {3: 0.05, 6: 0.8}))
    assert "Cylinder 6 fires beside the dead one" in render(said.text)
    assert render(said.headline).startswith("Cylinder 3 does")


def test_companions_point_to_the_timing(four):
    assert "companions" in render(statement(four, measured(four, {1: 0.05, 4: 0.05})).text)


def test_even_engines_carry_the_equal_low_caution(four):
    said = statement(four, measured(four, {}))
    assert "equally low everywhere" in render(said.text)
    assert any("absolute" in render(s.text) for s in said.not_seen)


def test_what_was_not_used_is_said(four):
    said = statement(four, measured(four, {}), not_read=(verbatim("capture secondary"),))
    assert render(said.not_seen[-1].text) == "Given but not used: capture secondary."


def test_nothing_measured_is_said(four):
    assert render(statement(four).headline) == "Nothing was measured yet."


def test_a_single_cylinder_is_told_it_has_no_peers():
    one = even_engine((1,))
    assert "no peers" in render(statement(one, measured(one, {})).text)

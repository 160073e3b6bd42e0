"""The statement for the owner."""

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.rendering import render
from fairwitness.core.reason.planning.what_if import imagined
from tests.core.reason.evidence import case, measured

TRADE_WORDS = ("relative compression", "secondary", "dwell", "posterior", "kV", "TDC")


def owner(engine, *reported):
    return [render(said) for said in conclude(case(engine), reported).statement.owner]


def test_a_dead_hole_is_told_without_trade_words(four):
    text = " ".join(owner(four, measured(four, {3: 0.05})))
    assert "Cylinder 3 of the engine does not do its share" in text
    assert not any(word in text for word in TRADE_WORDS)


def test_one_test_is_not_enough_to_buy_parts(four):
    assert any("before anything is bought" in s for s in owner(four, measured(four, {3: 0.05})))


def test_nothing_found_is_said_as_that(four):
    reported = owner(four, measured(four, {}), imagined("crank_speed", "alike", (), four))
    assert reported[0].startswith("Nothing wrong was found")


def test_a_named_fault_is_told_as_a_reason(four):
    dead = measured(four, {3: 0.05})
    reported = owner(
        four, dead, imagined("leak_down", "exhaust", (3,), four), imagined("intake_pulse", "alike", (), four)
    )
    assert "its exhaust valve no longer seals" in reported[0]

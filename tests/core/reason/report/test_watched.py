"""What was watched is said as long as it was."""

from dataclasses import replace

import pytest

from fairwitness.core.diagnose import conclude
from fairwitness.core.messages.message import verbatim
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.reason import Reason
from fairwitness.core.reason.report.watched import watched
from tests.core.reason.evidence import case, measured

FOUR = even_engine((1, 3, 4, 2))


def sealing(**facts):
    return replace(measured(FOUR, {}), facts=facts)


@pytest.mark.parametrize(
    ("cycles", "rpm", "words"),
    [
        (12, 240.0, "relative compression for 6 s at 240 rpm"),  # 12 cycles of two turns at four turns a second
        (1, 600.0, "relative compression for 0.2 s at 600 rpm"),
        (None, 240.0, "Watched: relative compression."),
        (5, 0.0, "Watched: relative compression."),
    ],
)
def test_it_says_how_long_and_how_fast(cycles, rpm, words):
    [sentence] = watched([sealing(cycles=cycles, speed_rpm=rpm)])
    assert words in render(sentence.text)
    assert sentence.findings


def test_the_longest_of_several_is_told():
    [sentence] = watched([sealing(cycles=12, speed_rpm=240.0), sealing(cycles=20, speed_rpm=240.0)])
    assert "for 10 s" in render(sentence.text)
    assert render(sentence.text).count("relative compression") == 1


def test_what_could_not_be_used_was_not_watched():
    refused = replace(sealing(), usable=False, reasons=(Reason("x", verbatim("x"), blocking=True),))
    assert watched([refused]) == []


def test_only_where_nothing_was_found():
    sound = conclude(case(FOUR), (measured(FOUR, {}),))
    ill = conclude(case(FOUR), (measured(FOUR, {3: 0.05}),))
    assert any("Watched:" in render(s.text) for s in sound.statement.follows)
    assert not any("Watched:" in render(s.text) for s in ill.statement.follows)

"""What is said of a clamp that shows what nothing draws, and that nothing is said of one that may be right."""

import pytest

from fairwitness.core.messages.rendering import render
from fairwitness.core.signal.clamp_level import CODE, COIL, INJECTOR, STARTER, doubted, unknown


@pytest.mark.parametrize(
    ("draw", "levels"),
    [(COIL, (6.0, 7.0)), (COIL, (1.2,)), (INJECTOR, (1.0, 0.02)), (INJECTOR, (22.0,)), (STARTER, (180.0,)), (COIL, ())],
)
def test_a_level_that_is_drawn_or_one_sick_one_alone_is_not_doubted(draw, levels):
    assert doubted(levels, draw) is None


@pytest.mark.parametrize(
    ("draw", "levels", "said"),
    [
        (COIL, (7000.0, 6900.0), "7,000 A where a coil draws 2 to 40 A: check its gain"),
        (COIL, (0.7, 0.68), "reads like 100 mV per A"),
        (INJECTOR, (950.0,), "950 A where an injector draws 0.3 to 60 A"),
        (INJECTOR, (0.01, 0.009), "reads like 1 mV per A"),
    ],
)
def test_what_nothing_draws_is_said_with_the_gain_it_is_like(draw, levels, said):
    reason = doubted(levels, draw)
    assert reason.code == CODE
    assert not reason.blocking
    assert said in render(reason.statement)


def test_a_starter_s_clamp_logged_in_volts():
    assert "it reads like 1 mV per A" in render(unknown(0.18, STARTER).statement)

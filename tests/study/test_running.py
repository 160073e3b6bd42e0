import pytest

from fairwitness.study import running


@pytest.mark.parametrize("seed", range(20_100, 20_108))
def test_a_few_engines_of_every_kind_are_read_right(seed):
    outcome = running.assess(seed)
    assert outcome.right, outcome
    assert not outcome.accused


def test_the_report_counts_what_was_wrong():
    sound = running.Outcome(seed=1, kind="dead", level="clean", cylinders=4, right=True, accused=False, rate_off=0.0)
    wrong = running.Outcome(seed=2, kind="weak", level="hostile", cylinders=6, right=False, accused=True, rate_off=0.0)
    text = running.report((sound, wrong))
    assert "1 of 1  100.0 %" in text
    assert "0 of 1  0.0 %" in text
    assert "wrong: seed 2, weak" in text
    assert text.endswith("targets missed")
    assert running.targets_met((sound,))

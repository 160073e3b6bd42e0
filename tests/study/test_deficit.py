"""The study of small deficits: what it counts, and that it can fail."""

from dataclasses import replace

from fairwitness.study import deficit


def test_a_tenth_less_current_is_found_and_nobody_else_is_accused():
    one = deficit.assess(4)
    assert one == deficit.assess(4)
    assert one.found
    assert one.accused == 0 < one.sound


def test_a_miss_and_a_false_find_each_miss_the_targets():
    good = [deficit.Outcome(level="workshop", found=True, sound=3, accused=0)] * 40
    assert deficit.targets_met(good)
    assert not deficit.targets_met([*good, replace(good[0], found=False)])
    assert not deficit.targets_met([*good, replace(good[0], accused=1)])
    assert "targets met" in deficit.report(good)

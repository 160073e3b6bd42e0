"""The study of cylinder pressure: what it counts, and that it can fail."""

from dataclasses import replace

from fairwitness.study import pressure


def test_one_cylinder_is_read_and_the_same_seed_is_the_same_cylinder():
    one = pressure.assess("cranking", 3)
    assert one == pressure.assess("cranking", 3)
    assert abs(one.errors["tdc"]) < 1.0
    assert abs(one.errors["intake_closes"]) < 5.0


def test_angles_that_are_off_miss_the_targets():
    errors = dict.fromkeys(pressure.NAMES, 0.5)
    good = [pressure.Outcome(motion=m, kind="sound", errors=errors) for m in pressure.TARGETS_DEG for _ in range(10)]
    assert pressure.targets_met(good)
    for name in pressure.NAMES:
        assert not pressure.targets_met([*good, replace(good[0], errors=errors | {name: 9.0})])
    assert "targets met" in pressure.report(good)

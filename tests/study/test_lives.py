"""The study of repairs and change-overs: the same seed lives the same life, and a miss is a miss."""

from dataclasses import replace

import pytest

from fairwitness.study.lives import REPAIRS, SAYS, SWAPS, Fitted, assess, report, targets_met


@pytest.fixture(scope="module")
def lived():
    return {fitted: assess(60300 + i, fitted) for i, fitted in enumerate(Fitted)}


def test_the_same_seed_lives_the_same_life(lived):
    assert assess(60300, Fitted.RIGHT) == lived[Fitted.RIGHT]


def test_everything_that_can_be_done_has_something_to_be_said(lived):
    assert SAYS.keys() == {*REPAIRS, *SWAPS} == lived.keys()


def test_a_part_fitted_in_vain_is_never_proven(lived):
    assert lived[Fitted.WRONG].said != "proven"
    assert lived[Fitted.BAD_NEW].said != "proven"


def test_one_proof_of_a_wrong_part_misses_the_target(lived):
    right = [replace(o, shown=True, said=SAYS[f][0]) for f, o in lived.items()]
    assert targets_met(right)
    wrong = [replace(o, said="proven") if o.fitted is Fitted.WRONG else o for o in right]
    assert not targets_met(wrong)
    assert f"{wrong[1].seed} {wrong[1].engine}" in report(wrong)

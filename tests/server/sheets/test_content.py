"""What is chosen for the page: the lanes of the accused are on it, and less is shown before anything is lost."""

from itertools import pairwise

import numpy as np
import pytest

from fairwitness.core.messages.message import verbatim
from fairwitness.core.messages.rendering import PLAIN
from fairwitness.server.sheets.content import LANES_MOST, MOST_SHORT, Letterhead, OptionRow, Sheet, Shown, named
from fairwitness.server.sheets.drawing import Lane, Stretch


def lanes_of(accused, cylinders=(1, 2, 3, 4, 5, 6)):
    values = np.zeros(4)
    lanes = [Lane(name="", unit="V", lows=values, highs=values, cylinder=c) for c in (*cylinders, None)]
    names = [verbatim(f"coil {c}") for c in (*cylinders, "sync")]
    told = named(Stretch(from_s=0, to_s=1, lanes=lanes), names, accused, PLAIN)
    return [lane.name for lane in told.lanes]


@pytest.mark.parametrize(
    ("accused", "shown"),
    [
        ([], ["coil 1", "coil 2", "coil 3", "coil 4"]),
        ([6], ["coil 1", "coil 2", "coil 3", "coil 6"]),
        ([5, 6], ["coil 1", "coil 2", "coil 5", "coil 6"]),
    ],
)
def test_the_channel_of_who_is_accused_is_never_left_out(accused, shown):
    assert lanes_of(accused) == shown
    assert len(shown) == LANES_MOST


def test_of_few_channels_all_are_shown_with_the_sync_last():
    assert lanes_of([2], cylinders=(1, 2)) == ["coil 1", "coil 2", "coil sync"]


def full():
    row = OptionRow(words="a new coil", risk="", time="", price="", cures="", in_vain="")
    many = tuple(f"line {i}" for i in range(9))
    return Sheet(
        letterhead=Letterhead(name="Depot"), facts=(), complaint=("c" * 500,),
        found=many[:4], checked=many, open=many[:4], options=(row,) * 6, decision="", signature="",
        watch=many[:3], cautions=many[:2],
        figures=(Shown(), Shown(), Shown()),
    )  # fmt: skip


def test_each_step_is_shorter_and_what_was_found_and_may_hurt_stays():
    sizes = []
    for step in range(1, MOST_SHORT + 1):
        short = full().shorter(step)
        sizes.append(
            (len(short.figures), len(short.options), len(short.checked), len(short.open), len(short.complaint[0]))
        )
        assert short.found[:2] == full().found[:2]
        assert short.cautions == full().cautions
        assert short.options[0] == full().options[0]
    assert all(after <= before for before, after in pairwise(sizes))
    assert sizes[-1] < sizes[0]
    assert full().shorter(1).complaint[0].endswith("…")

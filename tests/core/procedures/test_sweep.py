"""Parts taken cylinder by cylinder are judged beside each other, on figures small enough to reckon by head."""

from dataclasses import replace

import numpy as np

from fairwitness.core.messages.message import verbatim
from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import Evidence, Finding, Measured, Origin, State
from fairwitness.core.model.reason import Reason
from fairwitness.core.procedures.sweep import LONE, judged_together

FOUR = even_engine((1, 3, 4, 2))


def finding(cylinder, value, state=State.NORMAL, **changes):
    return Finding(
        test="t", cylinder=cylinder, quantity="t", value=value, unit="A", spread=None, events=1, state=state,
        statement=verbatim("-"), origin=Origin(resource=f"c{cylinder}"), **changes,
    )  # fmt: skip


def part(cylinder, peak):
    return Measured(
        test="t", resource=f"c{cylinder}", findings=(finding(cylinder, peak),), figures={cylinder: {"peak": peak}},
        reasons=(Reason(LONE, verbatim("no peers")), Reason("weak", verbatim("weak battery"))),
    )  # fmt: skip


def compare(figures, engine, *, origin, source, only=None):
    usual = float(np.median([f["peak"] for f in figures.values()]))
    own = only if only is not None else figures
    found = tuple(finding(c, f["peak"], State.LOW if f["peak"] < 0.8 * usual else State.NORMAL) for c, f in own.items())
    shares = np.array([own.get(c, {"peak": usual})["peak"] / usual for c in engine.firing_order])
    line = Evidence(line="CC", source=source, alternatives=(shares,), sigmas=np.full(4, 0.05))
    return found, (line,), (Reason("weak", verbatim("again")), Reason("few", verbatim("few")))


def judged(*parts):
    return judged_together(parts, FOUR, compare)


def test_each_part_is_judged_by_all_that_were_taken():
    parts = judged(part(1, 10.0), part(3, 6.0), part(4, 10.0))
    assert [p.findings[0].state for p in parts] == [State.NORMAL, State.LOW, State.NORMAL]
    assert parts[1].lines[0].alternatives[0].tolist() == [1.0, 0.6, 1.0, 1.0]
    assert {p.lines[0].source for p in parts} == {"sweep:t"}


def test_a_part_with_peers_no_longer_says_that_it_has_none_and_says_nothing_twice():
    (first, _) = judged(part(1, 10.0), part(3, 10.0))
    assert [r.code for r in first.reasons] == ["weak", "few"]


def test_of_a_cylinder_taken_twice_the_later_capture_counts():
    earlier, sound, later = judged(part(3, 2.0), part(1, 10.0), part(3, 10.0))
    assert earlier.findings == ()
    assert sound.findings[0].state is State.NORMAL
    assert later.findings[0].state is State.NORMAL


def test_remarks_that_compare_nothing_are_kept():
    remark = replace(finding(1, None), quantity="reaction", is_remark=True)
    own = part(1, 10.0)
    (first, _) = judged(replace(own, findings=(*own.findings, remark)), part(3, 10.0))
    assert [f.quantity for f in first.findings] == ["t", "reaction"]


def test_parts_come_back_in_their_order_and_as_themselves():
    parts = judged(part(4, 10.0), part(1, 10.0), part(2, 10.0))
    assert [p.resource for p in parts] == ["c4", "c1", "c2"]

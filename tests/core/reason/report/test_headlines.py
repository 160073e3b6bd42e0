"""The sentence bank: situations of the trade and the headline each must have, word for word; none denied by a finding.

``headlines.txt`` holds one situation a line: engine, what was measured, status, headline. It is read by people: whoever
changes a sentence changes it there.
"""

from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.messages.rendering import render
from fairwitness.core.model.measurement import State
from fairwitness.core.reason.accusations import SEALING, sealing_tested, stands_out
from tests.core.reason.report.situations import ENGINES, TESTS, concluded, measurements

BANK = [
    tuple(part.strip() for part in row.split("|"))
    for row in (Path(__file__).parent / "headlines.txt").read_text().splitlines()
]


def test_the_bank_is_large_and_says_nothing_twice():
    assert len(BANK) >= 150
    assert len({row[:2] for row in BANK}) == len(BANK)


@pytest.mark.parametrize(("kind", "situation", "status", "headline"), BANK, ids=lambda v: v or "nothing")
def test_the_headline_is_the_one_that_was_read(kind, situation, status, headline):
    diagnosis = concluded(kind, situation)
    assert (diagnosis.verdict.status.value, render(diagnosis.statement.headline)) == (status, headline)


SHARE = st.sampled_from(["0.05", "0.4", "0.75", "0.95", "1.6"])
CELL = st.tuples(st.integers(1, 4), SHARE).map(lambda pair: f"{pair[0]}={pair[1]}")
COMPARISON = st.tuples(
    st.sampled_from(sorted(TESTS)), st.sampled_from(["", "", "", "?", "!"]), st.lists(CELL, max_size=2)
).map(lambda parts: f"{parts[0]}{parts[1]} {' '.join(parts[2])}".strip())
OUTCOME = st.sampled_from(
    ["leak_down@3=oil_filler", "leak_down@2=tight", "vacuum=low", "fuel_trim=lean", "swap:coil@3=moved",
     "visual:plug@1=wet", "resistance:injector@3=open", "spark_check:lead_end@2=none", "fuel_pressure=low"]
)  # fmt: skip
SITUATION = st.lists(st.one_of(COMPARISON, COMPARISON, OUTCOME), min_size=1, max_size=4).map("; ".join)


def states_of(situation, engine, columns):
    usable = [m for m in measurements(situation, engine) if m.usable and any(e.line in columns for e in m.lines)]
    return [f.state for m in usable for f in m.findings]


@settings(max_examples=80, deadline=None)
@given(st.sampled_from(["four", "diesel", "waste"]), SITUATION)
def test_no_headline_is_denied_by_a_finding(kind, situation):
    engine = ENGINES[kind]
    diagnosis = concluded(kind, situation)
    said = render(diagnosis.statement.headline)
    usable = [m for m in diagnosis.measured if m.usable]
    sealing, work = states_of(situation, engine, SEALING), states_of(situation, engine, ("CON", "EX"))
    ill = (State.LOW, State.ABSENT)
    if "ompression is even" in said:
        assert sealing_tested(usable, engine)
        assert not set(sealing) & set(ill)
    if "work alike" in said or "all cylinders alike" in said:
        assert not set(work) & set(ill)
    if "not seal" in said or "not compress" in said:
        assert set(sealing) & set(ill)
    if "hardly any compression" in said:
        assert State.ABSENT in sealing
    if "no work" in said:
        assert State.ABSENT in work
    if "its share" in said:
        assert set(work) - {State.NORMAL, State.HIGH}
    if "Nothing was measured" in said:
        assert not diagnosis.measured
    if "Nothing stands out" in said or said.startswith("Nothing was found"):
        assert not any(stands_out(f) for m in usable for f in m.findings)
    assert "100 %" not in said


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(["four", "diesel", "waste"]), SITUATION)
def test_nobody_is_accused_where_nothing_stands_out(kind, situation):
    diagnosis = concluded(kind, situation)
    odd = [f for m in diagnosis.measured if m.usable for f in m.findings if stands_out(f)]
    if not odd:
        assert diagnosis.verdict.cylinders == ()
        assert not diagnosis.verdict.accuses


@settings(max_examples=60, deadline=None)
@given(SITUATION)
def test_the_owner_hears_because_only_of_what_is_established(situation):
    diagnosis = concluded("four", situation)
    words = " ".join(render(text) for text in diagnosis.statement.owner)
    assert ("because" in words) <= (diagnosis.verdict.status.value == "established")


@pytest.mark.parametrize(
    ("percent", "words"),
    [(0.2, "under 1 %"), (1.0, "1 %"), (63.4, "63 %"), (99.4, "99 %"), (99.6, "over 99 %"), (100.0, "over 99 %")],
)
def test_no_chance_is_none_or_certain(percent, words):
    from fairwitness.core.reason.report.statement import CHANCE_OF_CAUSE

    assert render(CHANCE_OF_CAUSE(cause="fuel", percent=percent)) == f"fuel {words}"

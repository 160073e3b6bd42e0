import pytest

from fairwitness.core.model.case import Observation
from fairwitness.core.model.measurement import State
from fairwitness.core.procedures.misfire_counts import measure


def counted(counts, revolutions=400):
    data = {"counts": {str(c): n for c, n in counts.items()}, "revolutions": revolutions}
    return Observation(test="misfire_counts", data=data)


def test_a_cylinder_that_hardly_fires_is_named(four):
    measured = measure(counted({1: 1, 2: 189, 3: 0, 4: 2}), 0, four)
    found = {f.cylinder: f.state for f in measured.findings}
    assert found == {1: State.NORMAL, 2: State.ABSENT, 3: State.NORMAL, 4: State.NORMAL}
    assert measured.evidence.alternatives[0][four.position(2)] < 0.1
    assert {s.cylinders: s.outcome for s in measured.categorical} == {(2,): "most"}


def test_no_count_anywhere_clears_nobody(four):
    measured = measure(counted({1: 0, 2: 0, 3: 0, 4: 0}), 0, four)
    assert [r.code for r in measured.reasons] == ["counts_silent"]
    assert measured.evidence.sigmas.min() > 0.5
    assert measured.categorical == ()


def test_the_window_is_counted_in_firings(four):
    assert measure(counted({1: 0, 2: 30, 3: 0, 4: 0}, 200), 0, four).evidence.alternatives[0][3] == pytest.approx(0.7)
    assert measure(counted({1: 0, 2: 30, 3: 0, 4: 0}, 1000), 0, four).evidence.alternatives[0][3] == pytest.approx(0.94)


def test_an_unknown_window_is_said(four):
    measured = measure(counted({1: 0, 2: 300, 3: 0, 4: 0}, None), 0, four)
    assert "window_unknown" in [r.code for r in measured.reasons]


@pytest.mark.parametrize(
    ("counts", "code"),
    [
        (None, "table_missing"),
        ({1: 1, 2: 2, 3: 3}, "table_gap"),
        ({1: 1, 2: -1, 3: 0, 4: 0}, "table_gap"),
        ({1: 1, 2: "x", 3: 0, 4: 0}, "table_gap"),
        ({1: 65535, 2: 65535, 3: 65535, 4: 65535}, "placeholder"),
        ({1: 0, 2: 900, 3: 0, 4: 0}, "impossible_count"),
        ({1: 200, 2: 199, 3: 200, 4: 198}, "impossible_count"),
    ],
)
def test_what_cannot_be_is_refused(four, counts, code):
    observation = counted(counts) if counts else Observation(test="misfire_counts", data={})
    measured = measure(observation, 0, four)
    assert not measured.usable
    assert [r.code for r in measured.reasons] == [code]

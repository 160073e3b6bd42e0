"""What readings weigh: read from a file, overruled by hand, never zero, always a density."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.errors import DensitiesError
from fairwitness.core.reason.knowledge.densities import (
    ANYTHING_RANGE,
    FIRST_GUESSES,
    SHIPPED,
    Densities,
    evenly,
    read,
)
from fairwitness.core.reason.knowledge.fault_spec import FaultMode
from fairwitness.core.reason.knowledge.first_guesses import FORMS, Form
from fairwitness.core.reason.knowledge.outcomes import OUTCOMES, SOUND, outcomes_of
from fairwitness.core.reason.knowledge.signatures import COLUMNS

WRITTEN = """# Made by: nobody
[forms]
FV + | 1.5 0.3 0.4, 1.2 0.1 0.6 | 12
[cells]
plug_gap_wide FV | ++ 3, + 1 | 4
[outcomes]
vacuum sound | usual 0.9, low 0.1 | 30
[dependence]
of captures | 0.7 |
of views | 0.4 |
[by hand]
"""


def one(densities, share, symbol, sigma=0.05, column="RC"):
    return densities.log_density(np.array([share]), np.array([sigma]), evenly((symbol,)), column)[0]


@pytest.mark.parametrize("densities", [FIRST_GUESSES, SHIPPED])
@given(st.floats(-1, 3), st.floats(0.01, 0.5), st.sampled_from(sorted(FORMS)), st.sampled_from(COLUMNS))
def test_nothing_multiplies_by_zero(densities, share, sigma, symbol, column):
    assert np.isfinite(one(densities, share, symbol, sigma, column))


@pytest.mark.parametrize("densities", [FIRST_GUESSES, SHIPPED])
@pytest.mark.parametrize(("share", "best"), [(1.0, "="), (0.6, "-"), (0.02, "0"), (1.5, "+")])
def test_each_share_speaks_for_its_symbol(densities, share, best):
    scores = {s: one(densities, share, s) for s in ("=", "-", "0", "+")}
    assert max(scores, key=scores.get) == best


@pytest.mark.parametrize("densities", [FIRST_GUESSES, SHIPPED])
def test_strong_evidence_weighs_more_than_weak(densities):
    def against(sigma):
        return one(densities, 0.7, "-", sigma) - one(densities, 0.7, "=", sigma)

    assert against(0.03) > against(0.1) > against(0.3)


@pytest.mark.parametrize("densities", [FIRST_GUESSES, SHIPPED])
@pytest.mark.parametrize("column", COLUMNS)
def test_each_symbol_is_a_density(densities, column):
    grid = np.linspace(-6, 14, 40_001)
    for symbol in FORMS:
        density = np.exp(densities.log_density(grid, np.full(grid.size, 0.05), evenly((symbol,)), column))
        surprise = 0.001 / ANYTHING_RANGE * (grid[-1] - grid[0])
        assert density.sum() * (grid[1] - grid[0]) - surprise == pytest.approx(0.999, abs=0.01)


def test_a_file_says_what_it_says():
    densities = read(WRITTEN)
    assert densities.forms_of("FV", "+") == (Form(1.5, 0.3, 0.4), Form(1.2, 0.1, 0.6))
    assert densities.weighed((FaultMode("plug_gap_wide"),), "FV") == (("++", 0.75), ("+", 0.25))
    assert densities.chance("vacuum", "usual", SOUND) == pytest.approx(0.98 * 0.9 + 0.02 / len(outcomes_of("vacuum")))
    assert (densities.temper, densities.views_count_as) == (0.7, 0.4)
    assert densities.provenance == ("Made by: nobody",)


def test_what_was_not_estimated_is_as_first_guessed():
    densities = read(WRITTEN)
    assert densities.forms_of("FV", "-") == FIRST_GUESSES.forms_of("FV", "-")
    fault = (FaultMode("plug_shorted"),)
    assert densities.weighed(fault, "FV") == FIRST_GUESSES.weighed(fault, "FV")


def test_a_hand_overrules_the_estimate():
    densities = read(WRITTEN + "forms FV + | 1.4 0.2 1 | seen on a stand\ncells plug_gap_wide FV | + 1 | so it is\n")
    assert densities.forms_of("FV", "+") == (Form(1.4, 0.2, 1.0),)
    assert densities.weighed((FaultMode("plug_gap_wide"),), "FV") == (("+", 1.0),)


@pytest.mark.parametrize(
    "line",
    [
        "[forms]\nXX + | 1 0 1 |",
        "[forms]\nFV ? | 1 0 1 |",
        "[forms]\nFV + | one 0 1 |",
        "[forms]\nFV + | 1 -0.1 1 |",
        "[cells]\nno_such_fault FV | + 1 |",
        "[cells]\nplug_gap_wide FV | + -1 |",
        "[outcomes]\nno_such_test sound | normal 1 |",
        "[outcomes]\nvacuum sound | sideways 1 |",
        "[dependence]\nof weather | 1 |",
        "[nonsense]\nFV + | 1 0 1 |",
        "[by hand]\nnonsense FV + | 1 0 1 | why",
    ],
)
def test_a_line_that_makes_no_sense_is_refused_with_its_number(line):
    with pytest.raises(DensitiesError) as refused:
        read(f"# first\n{line}\n")
    assert refused.value.where == "line 3"


def test_outcomes_stay_chances():
    for densities in (SHIPPED, read(WRITTEN)):
        for test, rows in OUTCOMES.items():
            for row in rows:
                total = sum(densities.chance(test, outcome, row) for outcome in outcomes_of(test))
                assert total == pytest.approx(1.0)


def test_two_sets_of_numbers_are_never_mistaken_for_each_other():
    assert Densities() != Densities()

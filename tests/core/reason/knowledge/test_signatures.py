import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.signatures import COLUMN_FORMS, COLUMNS, FORMS, SIGNATURES, log_likelihood


def test_every_fault_has_a_row_and_every_row_a_fault():
    assert set(SIGNATURES) == {*FAULTS, "no_fault"}
    assert all(tuple(row) == COLUMNS for row in SIGNATURES.values())


def test_every_symbol_is_known():
    used = {s for row in SIGNATURES.values() for forms in row.values() for s in forms}
    assert used <= set(FORMS)
    assert all(set(forms) <= set(FORMS) for forms in COLUMN_FORMS.values())
    assert set(COLUMN_FORMS) <= set(COLUMNS)


@given(st.floats(-1, 3), st.floats(0.01, 0.5), st.sampled_from(sorted(FORMS)))
def test_nothing_multiplies_by_zero(share, sigma, symbol):
    assert np.isfinite(log_likelihood(np.array([share]), np.array([sigma]), (symbol,)))[0]


@pytest.mark.parametrize(("share", "best"), [(1.0, "="), (0.6, "-"), (0.02, "0"), (1.5, "+")])
def test_each_share_speaks_for_its_symbol(share, best):
    scores = {s: log_likelihood(np.array([share]), np.array([0.05]), (s,))[0] for s in ("=", "-", "0", "+")}
    assert max(scores, key=scores.get) == best


def test_strong_evidence_weighs_more_than_weak():
    def against(sigma):
        low, even = (log_likelihood(np.array([0.7]), np.array([sigma]), (s,))[0] for s in ("-", "="))
        return low - even

    assert against(0.03) > against(0.1) > against(0.3)

"""What a test would show under each hypothesis."""

import numpy as np
import pytest

from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.planning.prediction import claims_of, predict
from tests.core.reason.evidence import case


@pytest.mark.parametrize("test", OFFERS.values(), ids=lambda t: t.id)
def test_chances_of_outcomes_sum_to_one(four, test):
    if not test.fits(four):
        test = OFFERS["leak_down"]
    seen = predict(test, claims_of(hypotheses(case(four))), (3,) if test.per_cylinder else four.firing_order)
    assert np.allclose(seen.table.sum(axis=1), 1.0)


def test_information_is_never_more_than_what_is_open_and_never_negative(four):
    known = hypotheses(case(four))
    priors = np.array([h.prior for h in known])
    entropy = -(priors * np.log2(priors)).sum()
    for test in OFFERS.values():
        bits = predict(test, claims_of(known), four.firing_order).information_bits(priors)
        assert 0 <= bits <= entropy


def test_a_hypothesis_is_not_apart_from_itself(four):
    seen = predict(OFFERS["injector_current"], claims_of(hypotheses(case(four))), four.firing_order)
    assert seen.apart(4, 4) == 0.0

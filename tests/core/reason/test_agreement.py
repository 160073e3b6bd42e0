"""Which tests spoke for what was found."""

import numpy as np
import pytest

from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.agreement import chance_of, spoke_for
from fairwitness.core.reason.inference.hypotheses import Hypothesis, hypotheses
from fairwitness.core.reason.inference.posterior import Posterior, infer
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import NO_FAULT
from tests.core.reason.evidence import case

LEAK = Hypothesis("exhaust_valve_leak", Cause.MECHANICAL, (3,), 0.3)
COIL = Hypothesis("coil_output_dead", Cause.IGNITION, (3,), 0.3)
SOUND = Hypothesis(NO_FAULT, Cause.NONE, (), 0.4)


def posterior(**log_likelihoods):
    return Posterior(
        hypotheses=(LEAK, COIL, SOUND),
        probabilities=np.array([0.7, 0.2, 0.1]),
        sources=tuple(log_likelihoods),
        log_likelihoods=np.array(list(log_likelihoods.values())),
    )


def test_a_test_that_made_what_was_found_likelier_spoke_for_it():
    told = spoke_for(posterior(gauge=[0.0, -5.0, -5.0], spark=[-5.0, 0.0, -5.0]), "exhaust_valve_leak", (3,))
    assert told == {"gauge": True, "spark": False}


def test_a_test_that_tells_nothing_of_it_is_left_out():
    assert spoke_for(posterior(battery=[-1.0, -1.0, -1.1]), "exhaust_valve_leak", (3,)) == {}


def test_another_cylinder_is_another_finding():
    assert spoke_for(posterior(gauge=[0.0, -5.0, -5.0]), "exhaust_valve_leak", (2,)) == {}


@pytest.mark.parametrize(("fault", "chance"), [("exhaust_valve_leak", 0.7), (NO_FAULT, 0.1), ("cut_by_ecu", 0.0)])
def test_the_chance_of_what_was_found(fault, chance):
    assert chance_of(posterior(), fault) == pytest.approx(chance)


def test_without_evidence_nothing_spoke():
    engine = even_engine((1, 3, 4, 2))
    assert spoke_for(infer(hypotheses(case(engine)), (), engine), NO_FAULT, ()) == {}

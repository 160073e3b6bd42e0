"""What if: the same reasoning over an outcome nobody has seen."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fairwitness.core.diagnose import conclude
from fairwitness.core.errors import ObservationError
from fairwitness.core.messages.rendering import render
from fairwitness.core.model.engine import even_engine
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.outcomes import outcomes_of
from fairwitness.core.reason.planning.what_if import STATES, imagined
from tests.core.reason.evidence import case, measured

FOUR = even_engine((1, 3, 4, 2))


def reported(*more):
    return conclude(case(FOUR), (measured(FOUR, {}), *more))


def test_an_imagined_dead_injector_moves_the_cause_to_fuel():
    before = reported()
    after = reported(imagined("injector_current", "absent", (3,), FOUR))
    assert after.posterior.of_cylinder(3, Cause.FUEL) > 4 * before.posterior.of_cylinder(3, Cause.FUEL)


def test_an_imagined_outcome_of_a_meter_is_heard():
    after = reported(imagined("resistance:injector", "open", (3,), FOUR))
    assert after.posterior.hypotheses[0].fault == "injector_open_circuit"


def test_every_sentence_of_it_says_that_it_is_imagined():
    findings = imagined("crank_speed", "absent", (3,), FOUR).findings
    assert all(render(f.statement).startswith("Imagined:") for f in findings)
    assert all(f.origin.resource is None and f.origin.observation is None for f in findings)


@pytest.mark.parametrize(
    ("test", "outcome", "at"),
    [
        ("no_such_test", "low", (1,)),
        ("crank_speed", "open", (1,)),
        ("leak_down", "low", (1,)),
        ("leak_down", "tight", (9,)),
    ],
)
def test_what_cannot_come_out_is_refused(test, outcome, at):
    with pytest.raises(ObservationError):
        imagined(test, outcome, at, FOUR)


@settings(deadline=None)  # two whole diagnoses an example
@given(st.sampled_from([t for t in OFFERS.values() if t.fits(FOUR)]), st.data())
def test_any_outcome_of_any_test_can_be_imagined(test, data):
    outcome = data.draw(st.sampled_from(tuple(STATES) if test.columns else outcomes_of(test.kinds[0])))
    after = reported(imagined(test.id, outcome, (data.draw(st.sampled_from(FOUR.firing_order)),), FOUR))
    assert after.posterior.probabilities.sum() == pytest.approx(1.0)

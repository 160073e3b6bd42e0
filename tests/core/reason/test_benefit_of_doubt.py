"""Nobody is accused at the end of the tests while a sound engine explains them nearly as well."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.engine import Engine
from fairwitness.core.reason.benefit_of_doubt import MAY_BE_SOUND, give_benefit_of_doubt
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Cause
from fairwitness.core.reason.knowledge.faults import NO_FAULT
from fairwitness.core.reason.planning.plan_records import Plan
from fairwitness.core.reason.verdict import Status, Verdict

FOUR = Engine(cylinders=4, firing_order=(1, 3, 4, 2), fuel="petrol", ignition="coil_on_plug", injection="port")
ACCUSED = Verdict(
    status=Status.SUSPECTED,
    cause=Cause.IGNITION,
    cylinders=(3,),
    rivals=(),
    faults=("plug_worn",),
    probability=0.8,
    conditions=(),
)
NOTHING_LEFT = Plan(offers=(), done=True)


def weighed(sound: float) -> Posterior:
    worn = Hypothesis("plug_worn", Cause.IGNITION, (3,), 1.0)
    healthy = Hypothesis(NO_FAULT, Cause.NONE, (), 1.0)
    return Posterior(hypotheses=(worn, healthy), probabilities=np.array([1.0 - sound, sound]))


def test_a_sound_engine_that_explains_it_nearly_as_well_clears_at_the_end():
    told = give_benefit_of_doubt(ACCUSED, weighed(MAY_BE_SOUND + 0.01), NOTHING_LEFT, FOUR)
    assert told.status is Status.INCONCLUSIVE
    assert (told.cylinders, told.rivals, told.faults, told.cause) == ((), (3,), (), Cause.NONE)
    assert told.probability == pytest.approx(0.11)
    assert told.unmet  # what is missing is said


def test_while_a_test_is_left_the_suspicion_stands():
    assert give_benefit_of_doubt(ACCUSED, weighed(0.3), Plan(offers=(), done=False), FOUR) is ACCUSED


def test_a_sound_engine_out_of_the_question_clears_nobody():
    assert give_benefit_of_doubt(ACCUSED, weighed(MAY_BE_SOUND - 0.01), NOTHING_LEFT, FOUR) is ACCUSED


def test_who_is_not_accused_needs_no_doubt():
    sound = replace(ACCUSED, status=Status.NO_FAULT_FOUND, cylinders=(), faults=())
    assert give_benefit_of_doubt(sound, weighed(0.9), NOTHING_LEFT, FOUR) is sound


def test_of_a_whole_engine_no_cylinder_is_left_standing_out():
    everybody = replace(ACCUSED, cylinders=(1, 2, 3, 4))
    assert give_benefit_of_doubt(everybody, weighed(0.5), NOTHING_LEFT, FOUR).rivals == ()

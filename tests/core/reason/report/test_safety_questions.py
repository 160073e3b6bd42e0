"""Flooding raises questions that stay until they are answered."""

import numpy as np
import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.case import Case, Observation
from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.inference.hypotheses import Hypothesis
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Cause, Mode
from fairwitness.core.reason.report.safety_questions import FLOODED, questions, unanswered

FOUR = even_engine((1, 3, 4, 2))
STUCK = Observation(test="load_lamp", data={"circuit": "injector", "cylinder": 2, "lamp": "bright"})


def asked(*observations):
    return diagnose(Case(name="x", engine=FOUR, observations=observations)).questions


def test_a_lamp_that_burns_all_the_time_asks_for_lock_oil_and_clearing():
    assert [q.id for q in asked(STUCK)] == ["plugs_out", "no_sparks", "hydraulic_lock", "oil_dilution", "flood_cleared"]
    assert len(unanswered(asked(STUCK))) == len(FLOODED)


@pytest.mark.parametrize("lamp", ["flashing", "dark", "dim"])
def test_other_lamps_ask_nothing(lamp):
    assert asked(Observation(test="load_lamp", data={"circuit": "injector", "cylinder": 2, "lamp": lamp})) == ()


def test_an_answer_is_a_note_the_later_one_counts_and_an_empty_one_does_not():
    def answer(text):
        return Observation(test="note", data={"question": "hydraulic_lock", "note": text})

    assert len(unanswered(asked(STUCK, answer("  ")))) == len(FLOODED)
    answered = asked(STUCK, answer("no"), answer("plugs out, turned by hand twice"))
    assert next(q for q in answered if q.id == "hydraulic_lock").answer == "plugs out, turned by hand twice"
    assert len(unanswered(answered)) == len(FLOODED) - 1


@pytest.mark.parametrize(("mode", "asks"), [(Mode.DEAD, False), (Mode.HELD_ON, True)])
def test_a_driver_that_is_dead_floods_nothing_and_one_that_holds_does(mode, asks):
    led = Hypothesis("injector_driver_failed", Cause.FUEL, (3,), 1.0, mode=mode)
    posterior = Posterior(hypotheses=(led,), probabilities=np.ones(1))
    assert bool(questions((), posterior, ())) is asks

"""Which condition each hypothesis puts each cylinder in."""

import numpy as np

from fairwitness.core.model.engine import even_engine
from fairwitness.core.reason.inference.conditions import conditions_of, opposite_of
from fairwitness.core.reason.inference.hypotheses import Placed, hypotheses
from fairwitness.core.reason.knowledge.fault_spec import FaultMode, Mode
from fairwitness.core.reason.knowledge.faults import NO_FAULT, OTHER
from tests.core.reason.evidence import case

FOUR = even_engine((1, 3, 4, 2))
THREE = even_engine((1, 3, 2))


def made(*hypotheses_, engine=FOUR):
    return conditions_of(tuple(hypotheses_), engine.firing_order, opposite_of(engine))


def test_the_opposite_is_the_companion_or_both_beside_that_moment():
    assert opposite_of(FOUR) == ((4,), (2,), (1,), (3,))
    assert opposite_of(THREE) == ((3, 2), (1, 2), (1, 3))


def test_a_sound_engine_is_the_last_row():
    found = made((NO_FAULT, ()), ("coil_output_dead", (Placed("coil_output_dead", (4,)),)))
    assert found.kinds[0] == ()
    assert found.at[-1].tolist() == [0, 0, 0, 0]
    assert found.at[0].tolist() == [0, 0, 0, 0]
    assert found.kinds[found.at[1, FOUR.position(4)]] == (FaultMode("coil_output_dead"),)


def test_one_fault_everywhere_is_common_and_one_somewhere_is_not():
    everywhere = ("low_compression_all", (Placed("low_compression_all", FOUR.firing_order),))
    found = made(everywhere, ("plug_shorted", (Placed("plug_shorted", (1,)),)))
    assert found.common.tolist() == [True, False, False]


def test_gas_that_is_kept_in_marks_the_companion():
    found = made(("exhaust_valve_not_opening", (Placed("exhaust_valve_not_opening", (3,)),)))
    assert found.kinds[found.at[0, FOUR.position(2)]] == (FaultMode("exhaust_valve_not_opening", Mode.OPPOSITE),)
    assert found.at[0, FOUR.position(1)] == 0


def test_two_faults_in_one_cylinder_are_one_condition_of_both():
    burnt = (Placed("secondary_open", (2,)), Placed("coil_output_dead", (2,)))
    found = made(("secondary_open", burnt))
    assert set(found.kinds[found.at[0, FOUR.position(2)]]) == {
        FaultMode("secondary_open"),
        FaultMode("coil_output_dead"),
    }


def test_the_unlisted_may_be_anywhere():
    found = made((OTHER, ()))
    assert len(set(found.at[0].tolist())) == 1
    assert found.kinds[found.at[0, 0]] == (FaultMode(OTHER),)


def test_every_hypothesis_of_an_engine_has_a_row_with_known_kinds():
    known = hypotheses(case(FOUR))
    found = conditions_of(tuple((h.fault, h.placed) for h in known), FOUR.firing_order, opposite_of(FOUR))
    assert found.at.shape == (len(known) + 1, 4)
    assert found.at.max() < len(found.kinds)
    ill = np.array([bool(h.placed) or h.fault != NO_FAULT for h in known])
    assert ((found.at[:-1] != 0).any(axis=1) == ill).all()

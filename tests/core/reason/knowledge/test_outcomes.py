"""The table of outcomes, and what it does to hypotheses."""

import numpy as np
import pytest

from fairwitness.core.model.engine import even_engine
from fairwitness.core.model.measurement import CategoricalEvidence
from fairwitness.core.procedures.specs import OFFERS
from fairwitness.core.reason.inference.conditions import conditions_of
from fairwitness.core.reason.inference.hypotheses import Hypothesis, Placed, hypotheses
from fairwitness.core.reason.inference.likelihood import of_categorical
from fairwitness.core.reason.inference.posterior import infer
from fairwitness.core.reason.knowledge.fault_spec import Cause, FaultMode, Mode
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.outcomes import (
    ANY_INTERMITTENT,
    OUTCOMES,
    SOUND,
    chance,
    chances,
    of_all,
    outcomes_of,
)
from fairwitness.core.reason.planning.prediction import claims_of, predict
from tests.core.reason.evidence import case


def test_every_row_is_a_fault_and_sums_to_one():
    modes = {FaultMode(fault, mode).row for fault in FAULTS for mode in Mode}
    known = {SOUND, ANY_INTERMITTENT, *modes, *(of_all(fault) for fault in FAULTS)}
    for kind, rows in OUTCOMES.items():
        assert SOUND in rows, kind
        assert set(rows) <= known, kind
        for row in rows.values():
            assert sum(row.values()) == pytest.approx(1.0)


@pytest.mark.parametrize(("cylinders", "more"), [((1, 2, 3, 4), True), ((3,), False)])
def test_one_coil_for_all_takes_the_spark_from_the_whole_engine_one_of_four_does_not(cylinders, more):
    placed = (("coil_output_dead", (Placed("coil_output_dead", cylinders, Cause.IGNITION),)),)
    conditions = conditions_of(placed, (1, 3, 4, 2), ((), (), (), ()))
    engine = even_engine((1, 3, 4, 2))
    none = CategoricalEvidence(kind="no_start:spark", outcome="none", cylinders=(1, 2, 3, 4), source="o")
    dead, sound = of_categorical(none, conditions, engine)
    assert (dead > sound + 2.0) == more
    claims = claims_of((Hypothesis("coil_output_dead", Cause.IGNITION, cylinders, 1.0),))
    planned = predict(OFFERS["no_start:spark"], claims, engine.firing_order)
    shown = dict(zip(planned.outcomes, planned.table[planned.row_of[0]], strict=True))
    assert (max(shown, key=shown.get)[0][1] == "none") == more


def test_every_kind_can_come_out_as_it_does_on_a_sound_cylinder():
    for kind, rows in OUTCOMES.items():
        usual = max(rows[SOUND], key=rows[SOUND].get)
        assert all(chance(kind, usual, fault) > 0 for fault in FAULTS)


def test_all_that_a_test_can_say_sums_to_one():
    for kind in OUTCOMES:
        for fault in (SOUND, *FAULTS):
            assert sum(chance(kind, outcome, fault) for outcome in outcomes_of(kind)) == pytest.approx(1.0)


def test_nothing_multiplies_by_zero_and_the_unknown_says_nothing():
    assert chance("swap:coil", "exploded", "coil_output_dead") > 0
    assert chance("never heard of", "yes", "coil_output_dead") == 1.0
    assert chances("swap:coil", "ring_or_piston_leak") == chances("swap:coil", SOUND)


@pytest.mark.parametrize(
    ("kind", "outcome", "fault"),
    [
        ("swap:coil", "moved", "coil_output_dead"),
        ("resistance:coil_primary", "open", "coil_primary_open"),
        ("voltage:coil_feed", "absent", "coil_feed_lost"),
        ("command:control_unit_unplugged", "elevated", "coil_driver_failed"),
        ("visual:plug", "tracked", "plug_tracking"),
        ("load_lamp:injector", "bright", "injector_driver_failed"),
    ],
)
def test_one_telling_outcome_lifts_its_fault_at_its_cylinder(four, kind, outcome, fault):
    found = infer(
        hypotheses(case(four)), [], four, [CategoricalEvidence(kind=kind, outcome=outcome, cylinders=(3,), source="o")]
    )
    top = max(
        (h for h in zip(found.hypotheses, found.probabilities, strict=True) if h[0].cylinders == (3,)),
        key=lambda pair: pair[1],
    )
    assert top[0].fault == fault


def test_a_swap_that_stays_clears_the_coil(four):
    before = infer(hypotheses(case(four)), [], four)
    reported = CategoricalEvidence(kind="swap:coil", outcome="stayed", cylinders=(3,), source="o")
    after = infer(hypotheses(case(four)), [], four, [reported])

    def dead_coil(posterior):
        return sum(
            float(p)
            for h, p in zip(posterior.hypotheses, posterior.probabilities, strict=True)
            if h.fault == "coil_output_dead" and h.cylinders == (3,)
        )

    assert dead_coil(after) < 0.12 * dead_coil(before)
    assert np.isclose(after.probabilities.sum(), 1.0)

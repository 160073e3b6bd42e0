"""The table of outcomes, and what it does to hypotheses."""

import numpy as np
import pytest

from fairwitness.core.model.measurement import CategoricalEvidence
from fairwitness.core.reason.inference.hypotheses import hypotheses
from fairwitness.core.reason.inference.posterior import infer
from fairwitness.core.reason.knowledge.fault_spec import FaultMode, Mode
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.core.reason.knowledge.outcomes import ANY_INTERMITTENT, OUTCOMES, SOUND, chance, chances, outcomes_of
from tests.core.reason.evidence import case


def test_every_row_is_a_fault_and_sums_to_one():
    modes = {FaultMode(fault, mode).row for fault in FAULTS for mode in Mode}
    known = {SOUND, ANY_INTERMITTENT, *modes}
    for kind, rows in OUTCOMES.items():
        assert SOUND in rows, kind
        assert set(rows) <= known, kind
        for row in rows.values():
            assert sum(row.values()) == pytest.approx(1.0)


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

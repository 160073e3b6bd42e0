"""The study of causes: what it counts, and that it can fail."""

from dataclasses import replace

import numpy as np
import pytest

from fairwitness.core.model.measurement import CategoricalEvidence, Evidence, Measured
from fairwitness.core.reason.knowledge.faults import FAULTS
from fairwitness.simulate.health import DOES_NOT_START
from fairwitness.study import causes


@pytest.fixture(scope="module")
def outcomes():
    return [causes.assess("ignition", seed) for seed in (6, 12, 16)]


def test_single_vehicles_are_read_and_the_same_seed_is_the_same_vehicle(outcomes):
    assert [o.fault for o in outcomes] == ["coil_secondary_shorted", "injector_open_circuit", "no_fault"]
    assert all(o.cause_right for o in outcomes)
    assert causes.assess("ignition", 16) == outcomes[2]


def test_every_ignition_fault_and_the_sound_vehicle_are_in_the_field():
    field = causes.FIELDS["ignition"]
    running = {f.id for f in FAULTS.values() if f.cause == "ignition"} - set(DOES_NOT_START)
    assert running < set(field.faults)
    assert field.faults.count(causes.HEALTHY) >= 2


def taken(lines=(), kinds=()):
    one = np.ones(4)
    return [
        Measured(
            test="t",
            lines=tuple(Evidence(line=name, source="s", alternatives=(one,), sigmas=one) for name in lines),
            categorical=tuple(CategoricalEvidence(kind=k, outcome="normal", cylinders=(1,), source="s") for k in kinds),
        )
    ]


@pytest.mark.parametrize(
    ("one", "other", "lines", "kinds", "same"),
    [
        ("coil_primary_open", "coil_feed_lost", ("FV", "CC"), (), True),
        ("coil_primary_open", "coil_feed_lost", ("FV", "CC"), ("resistance:coil_primary",), False),
        ("coil_primary_open", "coil_output_dead", ("FV", "CC"), (), False),
        ("plug_gap_wide", "plug_shorted", ("FV", "SV", "SD"), (), False),
        ("injector_restricted", "injector_stuck_closed", ("IC",), (), True),
        ("injector_restricted", "injector_stuck_closed", ("IC", "PD"), (), False),
        ("coil_output_dead", "no_fault", ("RC",), (), False),
    ],
)
def test_alike_is_what_the_tests_taken_cannot_tell(one, other, lines, kinds, same):
    assert causes.alike(one, other, taken(lines, kinds)) is same
    assert causes.alike(other, one, taken(lines, kinds)) is same


def test_a_wrong_call_an_accused_healthy_one_and_an_early_driver_each_miss_the_targets(outcomes):
    at_work = [replace(o, level="workshop") for o in outcomes]
    assert causes.targets_met(at_work)
    ill, sound = at_work[0], at_work[2]
    assert not causes.targets_met([*at_work, replace(ill, cause_right=False)])
    assert not causes.targets_met([*at_work, replace(ill, fault_right=False)])
    assert not causes.targets_met([*at_work, replace(sound, cause_right=False)])
    assert not causes.targets_met([*at_work, replace(ill, driver_called=True)])
    assert "targets met" in causes.report(at_work)
    assert "seed 6" in causes.report([replace(ill, fault_right=False)])


@pytest.mark.parametrize(
    ("fault", "lines", "kinds", "about", "hidden"),
    [
        ("injector_restricted", ("RC", "CON", "EX"), (), {}, True),
        ("injector_restricted", ("RC", "CON", "DL"), (), {}, False),
        ("injector_open_circuit", ("RC", "CON"), (), {}, False),
        ("injector_restricted", ("RC", "CON"), ("swap:injector",), {}, False),
        ("valve_timing_shifted", ("RC", "CP"), (), {"everywhere": True}, True),
        ("valve_timing_shifted", ("RC", "CP"), ("cam_timing",), {"everywhere": True}, False),
        ("coil_output_dead", ("RC", "CON"), (), {"seldom": True}, True),
        ("coil_output_dead", ("RC", "CON"), ("misfire_rate",), {"seldom": True}, False),
    ],
)
def test_unseen_is_what_may_look_sound_in_all_that_was_taken(fault, lines, kinds, about, hidden):
    asked = {"everywhere": False, "seldom": False} | about
    assert causes.unseen(fault, taken(lines, kinds), **asked) is hidden

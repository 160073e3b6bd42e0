from dataclasses import replace

import pytest

from fairwitness.core.diagnose import diagnose
from fairwitness.core.model.case import Case
from fairwitness.simulate.depot import JOBS, depot_evidence

ANSWERS = {
    "Library van 2": ("no_fault_found", ()),
    "Rescue boat tractor": ("suspected", ()),
    "Minibus 1": ("inconclusive", ()),
    "Minibus 8": ("suspected", ()),
    "Meals van 4": ("no_fault_found", ()),
    "Meals van 6": ("suspected", (4,)),
    "Minibus 5": ("suspected", (1, 4)),
    "Library van 3": ("no_fault_found", ()),
    "Minibus 2": ("no_fault_found", ()),
    "Meals van 1": ("suspected", (3,)),
    "Gritter 7": ("suspected", (5,)),
    "Minibus 6": ("no_fault_found", ()),
    "Post van 4": ("no_fault_found", ()),
    "School bus 6": ("no_fault_found", ()),
}


@pytest.mark.parametrize(("seed", "job"), list(enumerate(JOBS)), ids=[j.vehicle for j in JOBS])
def test_each_demo_case_shows_what_it_is_there_for(seed, job):
    capture = depot_evidence(replace(job, tests=()), seed=seed).captures[0]
    verdict = diagnose(Case(name=job.title, engine=job.engine, captures=(capture,))).verdict
    assert (verdict.status.value, verdict.cylinders) == ANSWERS[job.vehicle]


def test_the_yard_holds_three_to_eight_cylinders():
    assert {3, 4, 5, 6, 8} <= {j.engine.cylinders for j in JOBS}
    assert len(JOBS) >= 8


def test_there_is_a_complete_case_for_each_main_cause():
    complete = {f.fault: j for j in JOBS if j.tests for f in j.faults}
    running = {"secondary_open", "injector_open_circuit", "injector_driver_failed", "exhaust_valve_leak"}
    assert running | {"coil_secondary_shorted", "unit_misbehaves"} == set(complete)
    evidence = depot_evidence(complete["injector_open_circuit"], seed=9)
    assert {"cranking", "crank_speed", "secondary_voltage", "injector_current"} == {c.name for c in evidence.captures}
    opened = [o.data["cylinder"] for o in evidence.observations if o.test == "resistance" and o.data.get("open")]
    assert opened == [5]

import numpy as np
import pytest

from fairwitness.core.model.capture import Role
from fairwitness.core.signal.recognition.recogniser import SHIPPED
from fairwitness.core.signal.recognition.shape import NAMES
from fairwitness.study.fitting.traces import KnownTrace, fit_weights, known_traces, scored


@pytest.fixture(scope="module")
def traces():
    return list(known_traces((910_001, 910_002, 910_003)))


def test_traces_are_of_many_roles_clean_and_spoiled(traces):
    assert len({t.role for t in traces}) >= 10
    assert {t.unit for t in traces} >= {"V", "mV", "kV"}
    assert all(t.told.size == len(NAMES) for t in traces)


def test_vehicles_that_nothing_was_fitted_on_are_recognised(traces):
    first, three = scored(traces, SHIPPED)
    assert first > 0.88
    assert three > 0.95


def test_a_fit_tells_apart_what_can_be_told_apart():
    rng = np.random.default_rng(5)

    def trace(role, level):
        told = rng.normal(0, 1, len(NAMES))
        told[4] = level + rng.normal(0, 0.3)
        return KnownTrace(seed=1, role=role, unit="V", told=told)

    known = [trace(r, v) for _ in range(60) for r, v in ((Role.COIL_CONTROL, -2.0), (Role.CRANK_SENSOR, 2.0))]
    weights = fit_weights(known)
    assert scored(known, weights)[0] > 0.95
    slope = weights.slope[4, weights.roles.index(Role.CRANK_SENSOR)]
    assert slope > abs(weights.slope[9, weights.roles.index(Role.CRANK_SENSOR)])

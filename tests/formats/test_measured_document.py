import json

import numpy as np
import pytest

from fairwitness.core.procedures.relative_compression.measure import measure
from fairwitness.formats.measured_document import measured_document, read_measured
from tests.conftest import cranking


@pytest.mark.parametrize("rig", [{}, {"fuel_disabled": False}, {"sync_cylinder": None}])
def test_a_measurement_survives_json(four, rig):
    measured = measure(cranking(four, {3: 0.1}, **rig), four)
    again = read_measured(json.loads(json.dumps(measured_document(measured))))
    assert again.findings == measured.findings
    assert again.reasons == measured.reasons
    assert (again.usable, again.facts, again.cycle_starts_s) == (
        measured.usable,
        measured.facts,
        measured.cycle_starts_s,
    )
    if measured.evidence is None:
        assert again.evidence is None
    else:
        np.testing.assert_array_equal(again.evidence.alternatives, measured.evidence.alternatives)
